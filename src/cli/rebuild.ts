/** `plain-tally rebuild`: the tally out of what lies beside the frames, when the database is lost. */
import path from "node:path";
import { rebuildBelow, type RebuildStep } from "@/server/actions/rebuild";
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
  const { projects, shots, versions, frames, attempts, flags, there, bare, broken } = await rebuildBelow(
    await placeBelowRoot(path.resolve(folder)),
    onStep === undefined ? {} : { onStep },
  );
  if (onStep !== undefined) process.stderr.write("\r\u001b[K");
  if (json) printJson({ projects, shots, versions, frames, attempts, flags });
  else {
    print(`Back in the tally: ${projects} projects, ${shots} shots, ${versions} versions, ${frames} frames,`);
    print(`${attempts} attempts, ${flags} open flags.`);
    for (const slug of there) print(`${slug} is in the tally already: it stays as it is.`);
    for (const place of bare) print(`${place} has no ledger.`);
    if (broken > 0) print(`${broken} lines could not be used and were left out.`);
  }
  return EXIT.fine;
}
