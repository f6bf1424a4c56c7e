/** What a handover was made from, as one hash: another one now means that frames under it have changed. */
import crypto from "node:crypto";
import type { Reel } from "./reel";

/** Over each slot's sequence, number and content, in their order; also of frames that have no file. */
export function madeFrom(reel: Reel): string {
  const hash = crypto.createHash("sha256");
  for (const { of, frame } of reel.slots) {
    const source = of === null ? undefined : reel.sources[of];
    const content = frame === null ? null : (source?.files.get(frame)?.content ?? null);
    hash.update(`${source?.sequence.id ?? 0}:${frame ?? ""}:${content ?? ""}\n`);
  }
  // A flag that was set or taken back changes what is handed over as well.
  for (const { kind, of, set } of reel.troubles) hash.update(`${kind}:${of}:${JSON.stringify(set.runs)}\n`);
  return hash.digest("hex");
}
