/**
 * Columns hold one value a frame of an ascending set. Some frames are known anew: their values take
 * the place of what was there, appear, or go. Copies whole stretches, so that twenty frames among
 * 100,000 cost a copy and no walk.
 */
import { FrameIndex } from "../frames/frame-index";
import { type FrameSet, members } from "../frames/frame-set";

/** A stretch of values: of the column as it was, or of the new ones. */
interface Stretch {
  /** From the column of new values, else from the old one. */
  readonly isNew: boolean;
  readonly from: number;
  /** One past the last. */
  readonly end: number;
}

/** Where old and new values go is worked out once and used for each column of the same frames. */
export class ColumnPatch {
  readonly #stretches: readonly Stretch[];

  /**
   * @param before frames of the column as it was
   * @param frames that are known anew
   * @param anew those of `frames` that have a value now
   */
  constructor(before: FrameSet, frames: FrameSet, anew: FrameSet) {
    const old = new FrameIndex(before);
    const fresh = new FrameIndex(anew);
    const stretches: Stretch[] = [];
    let at = 0;
    for (const frame of members(frames)) {
      const until = old.countBelow(frame);
      if (until > at) stretches.push({ isNew: false, from: at, end: until });
      at = old.positionOf(frame) === null ? until : until + 1;
      const position = fresh.positionOf(frame);
      if (position !== null) stretches.push({ isNew: true, from: position, end: position + 1 });
    }
    if (at < old.count) stretches.push({ isNew: false, from: at, end: old.count });
    this.#stretches = stretches;
  }

  /** @param anew one value for each frame that has one now */
  apply<T>(column: readonly T[], anew: readonly T[]): T[] {
    return ([] as T[]).concat(
      ...this.#stretches.map(({ isNew, from, end }) => (isNew ? anew : column).slice(from, end)),
    );
  }
}
