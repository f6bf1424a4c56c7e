/** `plain-tally flag`: rejects pictures by hand, or takes that back. */
import { BOUNDS } from "@/contract/bounds";
import { formatPhrase } from "@/core/frames/phrase";
import { clearFlags, flagFrames } from "@/server/actions/flags";
import { framesMeant, loadSequence } from "@/server/views/tally";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { findSequence, type SequenceOptions } from "./shots";
import { whoCalls } from "./who";

export interface FlagOptions extends SequenceOptions {
  readonly why?: string;
  readonly clear?: boolean;
  readonly json?: boolean;
}

export async function flagCommand(
  code: string,
  phrase: string,
  { why, clear, json, ...of }: FlagOptions,
): Promise<ExitCode> {
  const reason = why?.trim() ?? "";
  if ((reason === "") === (clear !== true))
    throw new CallWrong('say why: --why "the lamp is off"; or --clear to take flags back');
  if (reason.length > BOUNDS.reason) throw new CallWrong(`the reason has at most ${BOUNDS.reason} letters`);
  const { id } = await findSequence(code, of);
  const frames = formatPhrase(framesMeant(await loadSequence(id), phrase));
  if (clear === true) {
    const cleared = frames === "" ? 0 : await clearFlags(id, frames, whoCalls());
    if (json) printJson({ cleared });
    else print(`${cleared} taken back.`);
    return EXIT.fine;
  }
  const flagged = await flagFrames(id, frames, reason, whoCalls());
  if (json) printJson({ flagged });
  else print(`Flagged: ${flagged}`);
  return EXIT.fine;
}
