/**
 * Positions of a set's members: the n-th frame, and which one a frame is. For views that show frames
 * side by side: a step of two leaves no holes. O(log runs) a question.
 */
import { type FrameSet, runCount } from "./frame-set";
import { lastAtOrBelow } from "./search";

/**
 * Made once for a set, asked for each frame that is drawn: both directions take log n of the number of runs.
 */
export class FrameIndex {
  readonly set: FrameSet;
  /** Position of each run's first member. */
  readonly #starts: Float64Array;

  constructor(set: FrameSet) {
    this.set = set;
    this.#starts = new Float64Array(set.runs.length);
    let at = 0;
    set.runs.forEach((run, i) => {
      this.#starts[i] = at;
      at += runCount(run);
    });
  }

  get count(): number {
    return this.set.count;
  }

  /** The frame at a position, 0-based; null outside the set. */
  frameAt(position: number): number | null {
    if (position < 0 || position >= this.count) return null;
    const i = lastAtOrBelow(this.#starts.length, (k) => this.#starts[k]!, position);
    const run = this.set.runs[i]!;
    return run.first + (position - this.#starts[i]!) * run.step;
  }

  /** Position of a frame, or null when it is not in the set. */
  positionOf(frame: number): number | null {
    const i = lastAtOrBelow(this.set.runs.length, (k) => this.set.runs[k]!.first, frame);
    const run = this.set.runs[i];
    if (run === undefined || frame > run.last || (frame - run.first) % run.step !== 0) return null;
    return this.#starts[i]! + (frame - run.first) / run.step;
  }

  /** How many members lie before a frame, in the set or not. */
  countBelow(frame: number): number {
    const i = lastAtOrBelow(this.set.runs.length, (k) => this.set.runs[k]!.first, frame - 1);
    const run = this.set.runs[i];
    if (run === undefined) return 0;
    return this.#starts[i]! + Math.floor((Math.min(run.last, frame - 1) - run.first) / run.step) + 1;
  }

  /** Position of the member nearest a frame; null for an empty set. */
  nearestPosition(frame: number): number | null {
    if (this.count === 0) return null;
    const i = lastAtOrBelow(this.set.runs.length, (k) => this.set.runs[k]!.first, frame);
    if (i < 0) return 0;
    const run = this.set.runs[i]!;
    const inside = this.#starts[i]! + Math.min(runCount(run) - 1, Math.round((frame - run.first) / run.step));
    const next = this.set.runs[i + 1];
    return next !== undefined && frame > run.last && next.first - frame < frame - run.last
      ? this.#starts[i + 1]!
      : inside;
  }
}
