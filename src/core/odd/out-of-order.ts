/**
 * Files that are older than those before them, along a shot whose files otherwise follow one another in time: left from
 * an earlier render that the later one did not replace.
 */

/** Where more are out of order, there is none: several nodes at work, or a copy. */
const MOST_SHARE = 0.25;
/** Files of one moment come in any order, and some shares know no finer times. */
const LEAST_MS = 2_000;

export interface Older {
  /** Index of the file. */
  readonly at: number;
  /** Index of the file before it that is newer. */
  readonly than: number;
  readonly byMs: number;
}

/** Indexes of the longest run of times that never goes back (patience sorting; Fredman 1975). */
function longestRising(times: readonly number[]): number[] {
  /** The last index of the best run of each length, and what comes before each index in its run. */
  const ends: number[] = [];
  const before = new Int32Array(times.length);
  for (const [i, time] of times.entries()) {
    let [low, high] = [0, ends.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (times[ends[middle]!]! <= time) low = middle + 1;
      else high = middle;
    }
    before[i] = low === 0 ? -1 : ends[low - 1]!;
    ends[low] = i;
  }
  const rising: number[] = [];
  for (let i = ends.at(-1) ?? -1; i >= 0; i = before[i]!) rising.push(i);
  return rising.reverse();
}

/** @param times of change of the files in the order of their frames, in milliseconds */
export function olderThanBefore(times: readonly number[]): readonly Older[] {
  const rising = longestRising(times);
  if (times.length - rising.length > MOST_SHARE * times.length) return [];
  const isInOrder = new Uint8Array(times.length);
  for (const i of rising) isInOrder[i] = 1;
  const older: Older[] = [];
  let than = -1;
  for (const [at, time] of times.entries()) {
    if (isInOrder[at] === 1) than = at;
    // One that is newer than what follows was made again: that is no fault of it.
    else if (than >= 0 && times[than]! - time >= LEAST_MS)
      older.push({ at, than, byMs: times[than]! - time });
  }
  return older;
}
