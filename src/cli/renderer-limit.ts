/** `plain-tally limit`: how many frames of a renderer may be in work at once. */
import { BOUNDS } from "@/contract/bounds";
import { limitRenderer } from "@/server/actions/nodes";
import { pool } from "@/server/db/pool";
import { rendererLimits } from "@/server/store/renderer-limits";
import { CallWrong, EXIT, type ExitCode, print, printJson, wholeNumber } from "./command";
import { whoCalls } from "./who";

export async function limitCommand(
  renderer: string | undefined,
  options: { readonly atOnce?: string; readonly none?: boolean; readonly json?: boolean },
): Promise<ExitCode> {
  const { atOnce, none } = options;
  if (atOnce !== undefined || none === true) {
    if (renderer === undefined) throw new CallWrong("say which renderer");
    if (atOnce !== undefined && none === true) throw new CallWrong("--at-once and --none exclude each other");
    const most = atOnce === undefined ? null : wholeNumber(atOnce, "--at-once", 1);
    if (most !== null && most > BOUNDS.atOnce) throw new CallWrong(`--at-once is ${BOUNDS.atOnce} at most`);
    await limitRenderer(renderer, most, whoCalls());
  }
  const limits = [...(await rendererLimits(pool()))].filter(
    ([name]) => renderer === undefined || name === renderer,
  );
  if (options.json) printJson(limits.map(([name, most]) => ({ renderer: name, atOnce: most })));
  else {
    if (limits.length === 0) print("As many frames as nodes take.");
    for (const [name, most] of limits) print(`${name}  ${most} at once`);
  }
  return EXIT.fine;
}
