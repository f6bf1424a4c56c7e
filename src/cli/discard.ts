/** `plain-tally discard`: saved samples, and files that the plan does not ask for. */
import { whoCalls } from "./who";
import { type Discard, DISCARDS } from "@/contract/discards";
import { discard } from "@/server/actions/discard";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { findSequence, type SequenceOptions } from "./shots";

export interface DiscardOptions extends SequenceOptions {
  readonly samples?: boolean;
  readonly extra?: boolean;
  readonly dryRun?: boolean;
  readonly json?: boolean;
}

const TOLD: Readonly<Record<Discard, string>> = {
  samples: "saved samples",
  extra: "files that the plan does not ask for",
};

export async function discardCommand(
  code: string,
  phrase: string | undefined,
  options: DiscardOptions,
): Promise<ExitCode> {
  const what = DISCARDS.filter((name) => options[name] === true);
  if (what.length === 0) throw new CallWrong("say what is to go: --samples, --extra, or both");
  const sequence = await findSequence(code, options);
  const isDry = options.dryRun === true;
  const gone = await discard(
    sequence.id,
    {
      what,
      phrase: phrase ?? null,
      scope: options.pass === undefined && options.camera === undefined ? "version" : "sequence",
      isDry,
    },
    whoCalls(),
  );
  if (options.json) printJson({ isDry, ...Object.fromEntries(what.map((name) => [name, gone[name]])) });
  else
    for (const name of what) {
      const { count, bytes, frames } = gone[name];
      print(
        `${isDry ? "Would discard" : "Discarded"} ${count} ${TOLD[name]}, ${bytes} bytes${count === 0 ? "" : `: ${frames}`}.`,
      );
    }
  return EXIT.fine;
}
