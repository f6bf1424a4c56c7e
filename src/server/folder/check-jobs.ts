/** Checks that go on in this process: what each has left, how far it is, and how to cancel it. */
import { EMPTY, type FrameSet } from "@/core/frames/frame-set";

/** One a sequence at most: a second wish joins the first. */
export interface CheckJob {
  readonly sequenceId: number;
  /** Files that it reads. */
  readonly total: number;
  /** Of those, read so far. */
  done: number;
  /** Frames whose file is still to be read. */
  left: FrameSet;
  /** What was read stays known. */
  readonly cancel: AbortController;
}

/** The pages' server may load this module twice; there is one process. */
const shared = globalThis as { plainTallyChecks?: Map<number, CheckJob> };

/** Next may load a module twice; the jobs of a process are one map. */
export const checkJobs = (): Map<number, CheckJob> => (shared.plainTallyChecks ??= new Map());

/** Frames that a check in this process has still to read. */
export const framesBeingChecked = (sequenceId: number): FrameSet =>
  checkJobs().get(sequenceId)?.left ?? EMPTY;
