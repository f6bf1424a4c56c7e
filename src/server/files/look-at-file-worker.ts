/** A worker thread: looks at a picture file. */
import { type LookDepth, lookAtFile, type LookedAt } from "./look-at-file";

export interface LookTask {
  readonly file: string;
  readonly depth: LookDepth;
}

export default function look({ file, depth }: LookTask): Promise<LookedAt> {
  return lookAtFile(file, depth);
}
