/**
 * The tally on its way to the browser: by column, never one object a frame. A set travels as one
 * flat list of numbers, three a run: first, last, step.
 */
import { difference, type FrameSet, runCount, union } from "../frames/frame-set";
import type { Activity, Result, Tally } from "./tally";

/** Three numbers a run: first, last, step. */
export type PackedSet = readonly number[];

export interface PackedTally {
  /** By the plan. */
  readonly asked: PackedSet;
  readonly results: Readonly<Record<Result, PackedSet>>;
  readonly activities: Readonly<Record<Activity, PackedSet>>;
  /** Good ones that hold fewer samples than the plan asks for. */
  readonly refinable: PackedSet;
}

/** Three numbers a run. */
export const packSet = (set: FrameSet): PackedSet =>
  set.runs.flatMap((run) => [run.first, run.last, run.step]);

/** The set back. What travels was packed by us: it is not checked again. */
export function unpackSet(packed: PackedSet): FrameSet {
  const runs = [];
  let count = 0;
  for (let i = 0; i + 2 < packed.length; i += 3) {
    const run = { first: packed[i]!, last: packed[i + 1]!, step: packed[i + 2]! };
    runs.push(run);
    count += runCount(run);
  }
  return { runs, count };
}

/** A record with every value changed, keys as they were. */
export const mapValues = <K extends string, A, B>(
  record: Readonly<Record<K, A>>,
  change: (value: A) => B,
): Record<K, B> =>
  Object.fromEntries(Object.entries<A>(record).map(([key, value]) => [key, change(value)])) as Record<K, B>;

/** A tally on its way out. */
export const packTally = (tally: Tally): PackedTally => ({
  asked: packSet(tally.asked),
  results: mapValues(tally.results, packSet),
  activities: mapValues(tally.activities, packSet),
  refinable: packSet(tally.refinable),
});

/** And as it arrives. */
export const unpackTally = (packed: PackedTally): Tally => ({
  asked: unpackSet(packed.asked),
  results: mapValues(packed.results, unpackSet),
  activities: mapValues(packed.activities, unpackSet),
  refinable: unpackSet(packed.refinable),
});

/** What is known of `frames` anew, in the place of what was known of them before. */
export const patchSet = (whole: PackedSet, frames: FrameSet, anew: PackedSet): PackedSet =>
  packSet(union(difference(unpackSet(whole), frames), unpackSet(anew)));

/**
 * @param anew the tally of `frames` alone: the table of states goes frame by frame, so it fits into the whole
 */
export const patchTally = (whole: PackedTally, frames: FrameSet, anew: PackedTally): PackedTally => {
  const patchEach = <K extends string>(
    sets: Readonly<Record<K, PackedSet>>,
    fresh: Readonly<Record<K, PackedSet>>,
  ): Record<K, PackedSet> =>
    Object.fromEntries(
      (Object.keys(sets) as K[]).map((key) => [key, patchSet(sets[key], frames, fresh[key])]),
    ) as Record<K, PackedSet>;
  return {
    asked: patchSet(whole.asked, frames, anew.asked),
    results: patchEach(whole.results, anew.results),
    activities: patchEach(whole.activities, anew.activities),
    refinable: patchSet(whole.refinable, frames, anew.refinable),
  };
};
