/**
 * What frames of a plan take on a disk: the one figure that Plan, Prove and the preflight show.
 * Files by what files of the same kind and size took, where there are any, else by format and size; and the
 * samples that are saved beside them.
 */
import { guessPassBytes } from "../plan/pass-bytes";
import type { Pass } from "../plan/passes";
import type { Plan } from "../plan/plan";
import { checkpointStorage } from "../run/checkpoint";

export interface StorageNeed {
  readonly parts: readonly {
    readonly pass: Pass;
    /** Of all frames and cameras. */
    readonly bytes: number;
    /** From files that are there, and not from format and size. */
    readonly isMeasured: boolean;
  }[];
  /** Bytes of saved samples, at most at one time. */
  readonly saved: number;
  /** Bytes. */
  readonly total: number;
}

/**
 * @param frames of one camera
 * @param inWork frames that render at once: each may have saved samples
 * @param measured mean bytes of a file of a pass, of files like the plan's
 */
export function storageNeed(
  plan: Plan,
  frames: number,
  inWork: number,
  measured: ReadonlyMap<Pass, number>,
): StorageNeed {
  const parts = plan.passes.map((pass) => ({
    pass,
    bytes: (measured.get(pass) ?? guessPassBytes(plan, pass)) * frames * plan.cameras.length,
    isMeasured: measured.has(pass),
  }));
  const saved = checkpointStorage(plan, frames, inWork);
  return { parts, saved, total: parts.reduce((sum, part) => sum + part.bytes, saved) };
}
