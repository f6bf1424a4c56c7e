/** `plain-tally history`: what happened to one frame. */
import { viewFrameHistory } from "@/server/views/frame-history";
import { type SequenceOptions, findSequence } from "./shots";
import { EXIT, type ExitCode, print, printJson, wholeNumber } from "./command";
import type { FrameEvent } from "@/contract/frame-history";

const told = (event: FrameEvent): string => {
  switch (event.kind) {
    case "attempt":
      return `${event.outcome} on ${event.node}, run ${event.run}${event.message === null ? "" : `: ${event.message}`}`;
    case "found":
      return `${event.code} by ${event.who ?? event.source}: ${event.text}`;
    case "closed":
      return `${event.state}${event.who === null ? "" : ` by ${event.who}`}: ${event.text}${event.why === null ? "" : ` (${event.why})`}`;
    case "replaced":
      return `replaced: ${event.file}${event.isAccepted ? ", accepted" : ""}`;
  }
};

export async function historyCommand(
  shot: string,
  frame: string,
  options: SequenceOptions & { readonly json?: boolean },
): Promise<ExitCode> {
  const number = wholeNumber(frame, "the frame", Number.MIN_SAFE_INTEGER);
  const { id } = await findSequence(shot, options);
  const history = await viewFrameHistory(id, number);
  if (options.json) printJson(history);
  else {
    print(history.file === null ? `frame ${number}: no file` : `frame ${number}: ${history.file.name}`);
    for (const event of history.events) print(`${new Date(event.at).toISOString()}  ${told(event)}`);
  }
  return EXIT.fine;
}
