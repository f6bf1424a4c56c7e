/** `plain-tally rebuild`: the tally out of what lies beside the frames, when the database is lost. */
import path from "node:path";
import type { RebuildStep, RebuiltView } from "@/contract/rebuild";
import { rebuildBelow } from "@/server/actions/rebuild";
import { placeBelowRoot } from "@/server/folder/place-below-root";
import { EXIT, type ExitCode, print, printJson } from "./command";

/** Told on standard error where a person looks on. */
function tellSteps(): ((step: RebuildStep) => void) | undefined {
  if (!process.stderr.isTTY) return undefined;
  return ({ folder, doing, done }) => process.stderr.write(`\r\u001b[K${folder}: ${done} ${doing}`);
}

/** @param folder of a project, or one with projects in it, below a root; relative to where the command is called */
export async function rebuildCommand(
  folder: string,
  { json }: { readonly json?: boolean },
): Promise<ExitCode> {
  const onStep = tellSteps();
  const rebuilt = await rebuildBelow(
    await placeBelowRoot(path.resolve(folder)),
    onStep === undefined ? {} : { onStep },
  );
  if (onStep !== undefined) process.stderr.write("\r\u001b[K");
  const { projects, shots, versions, frames, attempts, flags } = rebuilt;
  if (json) printJson({ projects, shots, versions, frames, attempts, flags });
  else for (const line of linesOf(rebuilt)) print(line);
  return rebuilt.refused.length > 0 ? EXIT.frames : EXIT.fine;
}

function* linesOf(rebuilt: RebuiltView): Generator<string> {
  const { projects, shots, versions, frames, attempts, flags } = rebuilt;
  yield `Back in the tally: ${projects} projects, ${shots} shots, ${versions} versions, ${frames} frames, ${attempts} attempts, ${flags} open flags.`;
  for (const slug of rebuilt.there) yield `${slug} is in the tally already: it stays as it is.`;
  for (const folder of rebuilt.removed)
    yield `${folder}: its project was taken out of the tally, and stays out. Its frames can be taken in.`;
  for (const name of rebuilt.fromPictures)
    yield `${name}: no record knows it, its plan is read from its pictures.`;
  for (const text of rebuilt.refused) yield `Left out: ${text}`;
  if (rebuilt.broken > 0) yield `${rebuilt.broken} lines of records could not be used and were left out.`;
}
