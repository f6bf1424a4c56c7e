/**
 * The tally on its way to the browser: by column, never one object a frame. A set travels as one
 * flat list of numbers, three a run: first, last, step.
 */
import { type FrameSet, runCount } from "../frames/frame-set";
import type { Activity, Result, Tally } from "./tally";

export type PackedSet = readonly number[];

export interface PackedTally {
  readonly asked: PackedSet;
  readonly results: Readonly<Record<Result, PackedSet>>;
  readonly activities: Readonly<Record<Activity, PackedSet>>;
  readonly refinable: PackedSet;
}

export const packSet = (set: FrameSet): PackedSet =>
  set.runs.flatMap((run) => [run.first, run.last, run.step]);

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

export const mapValues = <K extends string, A, B>(
  record: Readonly<Record<K, A>>,
  change: (value: A) => B,
): Record<K, B> =>
  Object.fromEntries(Object.entries<A>(record).map(([key, value]) => [key, change(value)])) as Record<K, B>;

export const packTally = (tally: Tally): PackedTally => ({
  asked: packSet(tally.asked),
  results: mapValues(tally.results, packSet),
  activities: mapValues(tally.activities, packSet),
  refinable: packSet(tally.refinable),
});

export const unpackTally = (packed: PackedTally): Tally => ({
  asked: unpackSet(packed.asked),
  results: mapValues(packed.results, unpackSet),
  activities: mapValues(packed.activities, unpackSet),
  refinable: unpackSet(packed.refinable),
});
