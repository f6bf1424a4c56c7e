/** Checks that go on in this process: what each has left, how far it is, and how to cancel it. */
import { EMPTY, type FrameSet } from "@/core/frames/frame-set";

export interface CheckJob {
  readonly sequenceId: number;
  readonly total: number;
  done: number;
  /** Frames whose file is still to be read. */
  left: FrameSet;
  readonly cancel: AbortController;
}

const shared = globalThis as { plainTallyChecks?: Map<number, CheckJob> };

/** Next may load a module twice; the jobs of a process are one map. */
export const checkJobs = (): Map<number, CheckJob> => (shared.plainTallyChecks ??= new Map());

/** Frames that a check in this process has still to read. */
export const framesBeingChecked = (sequenceId: number): FrameSet =>
  checkJobs().get(sequenceId)?.left ?? EMPTY;
