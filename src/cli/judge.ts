/** `plain-tally odd` and `replaced`: what is odd among its neighbours, what replaced other files, and what somebody says of both. */
import type { JudgeBody } from "@/contract/odd-view";
import type { ReplacedDecision } from "@/contract/replaced";
import { has } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { Judgement } from "@/core/odd/judged";
import { unpackSet } from "@/core/tally/packed";
import { judgeOdd } from "@/server/actions/judge-odd";
import { settleReplaced } from "@/server/actions/settle-replaced";
import { pool } from "@/server/db/pool";
import { measureSome } from "@/server/measuring/measure-files";
import { viewAsideFiles } from "@/server/views/aside-files";
import { viewOdd } from "@/server/views/odd";
import { framesMeant, loadSequence } from "@/server/views/tally";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { findSequence, type SequenceOptions } from "./shots";
import { whoCalls } from "./who";

export interface OddOptions extends SequenceOptions {
  readonly measure?: boolean;
  readonly accept?: boolean;
  /** Why it is no fault. */
  readonly dismiss?: string;
  readonly undo?: boolean;
  readonly json?: boolean;
}

/** What the options say of what is odd; null: nothing, it is only told. */
function judgementOf({ accept, dismiss, undo }: OddOptions): Judgement | null {
  const said = [
    ...(accept === true ? (["accept"] as const) : []),
    ...(dismiss !== undefined ? (["dismiss"] as const) : []),
    ...(undo === true ? (["undo"] as const) : []),
  ];
  if (said.length > 1) throw new CallWrong("say one of --accept, --dismiss and --undo");
  if (dismiss?.trim() === "") throw new CallWrong("say why it is no fault: --dismiss lightning");
  return said[0] ?? null;
}

export async function oddCommand(
  code: string,
  phrase: string | undefined,
  options: OddOptions,
): Promise<ExitCode> {
  const judgement = judgementOf(options);
  if (judgement !== null && phrase === undefined)
    throw new CallWrong("say of which frames: a phrase behind the shot");
  const sequence = await findSequence(code, options);
  if (options.measure === true) while ((await measureSome(pool(), sequence.id)) > 0);
  const wanted = phrase === undefined ? null : framesMeant(await loadSequence(sequence.id), phrase);
  const view = await viewOdd(sequence.id);
  const odd = view.odd.filter(({ frame }) => wanted === null || has(wanted, frame));
  if (judgement !== null) {
    const body: JudgeBody = {
      judgement,
      of: odd.map(({ frame, code: kind }) => ({ frame, code: kind })),
      ...(options.dismiss === undefined ? {} : { why: options.dismiss }),
    };
    const judged = await judgeOdd(sequence.id, body, whoCalls());
    if (options.json) printJson({ judged });
    else print(`${judgement === "undo" ? "Taken back" : `${judgement}ed`}: ${judged}.`);
    return EXIT.fine;
  }
  const { measured, waiting } = view;
  if (options.json) printJson({ measured, waiting, odd });
  else {
    for (const { frame, state, sentence, why } of odd)
      print(`${frame}  ${state}  ${sentence}${why === null ? "" : ` (${why})`}`);
    print(
      `${measured} measured${waiting === 0 ? "" : `, ${waiting} still to be: by a node, or with --measure`}.`,
    );
  }
  return odd.some(({ state }) => state === "open") ? EXIT.frames : EXIT.fine;
}

export interface ReplacedOptions extends SequenceOptions {
  readonly accept?: boolean;
  readonly undo?: boolean;
  readonly json?: boolean;
}

export async function replacedCommand(
  code: string,
  phrase: string | undefined,
  { accept, undo, json, ...of }: ReplacedOptions,
): Promise<ExitCode> {
  if (accept === true && undo === true) throw new CallWrong("say one of --accept and --undo");
  const decision: ReplacedDecision | null = accept === true ? "accept" : undo === true ? "undo" : null;
  const sequence = await findSequence(code, of);
  if (decision !== null) {
    if (phrase === undefined) throw new CallWrong("say of which frames: a phrase behind the shot");
    const frames = await settleReplaced(sequence.id, { decision, phrase });
    if (json) printJson({ frames });
    else print(`${decision === "accept" ? "Accepted" : "Put back"}: ${frames}`);
    return EXIT.fine;
  }
  const { count, bytes, accepted, frames } = await viewAsideFiles(sequence.id);
  const open = formatPhrase(unpackSet(frames));
  if (json) printJson({ frames: open, count, accepted, bytes });
  else {
    print(open === "" ? "Nothing waits to be accepted." : `Made anew, to be accepted: ${open}`);
    print(`${count} replaced files are kept, ${bytes} bytes.`);
  }
  return EXIT.fine;
}
