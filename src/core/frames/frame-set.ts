/**
 * A set of frame numbers, kept as disjoint ascending runs with a step, never as a list:
 * ten million frames cost no more than ten.
 *
 * Invariant (canonical form): runs ascend and do not interleave (`a.last < b.first`); a run with
 * step 1 is a maximal stretch of neighbours; a run with a larger step holds three frames or more,
 * none of which has a neighbour in the set; other lone frames are runs of one. The form depends
 * only on the members, so equal sets have equal runs.
 *
 * What would fall apart into more than MAX_RUNS runs is refused with FrameSetTooFragmented.
 */
import { lastAtOrBelow } from "./search";
import type { FrameSet, Run } from "./frame-runs";
import { RunBuilder } from "./run-builder";

export type { FrameSet, Run };

/** Frame numbers beyond nine digits are slips of the hand, or dates, and would not fit a file name pattern. */
export const MAX_FRAME_NUMBER = 999_999_999;

/** The set without members. One object, so that what depends on it is not drawn anew. */
export const EMPTY: FrameSet = { runs: [], count: 0 };

/** Members of a run: both ends belong to it. */
export const runCount = (run: Run): number => (run.last - run.first) / run.step + 1;

/** first..last by step, both ends meant: the last member is the greatest that the step reaches. */
export function rangeSet(first: number, last: number, step = 1): FrameSet {
  if (last < first) return EMPTY;
  const builder = new RunBuilder();
  builder.push(first, last - ((last - first) % step), step);
  return builder.finish();
}

/** The set of the given numbers, in any order, doubles allowed. */
export function setOf(frames: Iterable<number>): FrameSet {
  const sorted = Float64Array.from(frames).sort();
  const builder = new RunBuilder();
  let previous = NaN;
  for (const frame of sorted) {
    if (frame !== previous) builder.push(frame, frame, 1);
    previous = frame;
  }
  return builder.finish();
}

/** Members of either. */
export const union = (a: FrameSet, b: FrameSet): FrameSet =>
  b.count === 0 ? a : a.count === 0 ? b : sweep(a, b, "union");

/** Members of `a` that are not in `b`. */
export const difference = (a: FrameSet, b: FrameSet): FrameSet =>
  a.count === 0 || b.count === 0 ? a : sweep(a, b, "difference");

/** Members of both. */
export const intersection = (a: FrameSet, b: FrameSet): FrameSet =>
  a.count === 0 || b.count === 0 ? EMPTY : sweep(a, b, "intersection");

/** Union of many sets, pairwise, so that ten thousand single frames cost n log n and not n². */
export function unionAll(sets: readonly FrameSet[]): FrameSet {
  if (sets.length === 0) return EMPTY;
  if (sets.length === 1) return sets[0]!;
  const half = sets.length >> 1;
  return union(unionAll(sets.slice(0, half)), unionAll(sets.slice(half)));
}

/** Whether two sets have the same members: runs are canonical, so equal sets have equal runs. */
export const isEqual = (a: FrameSet, b: FrameSet): boolean =>
  a.runs.length === b.runs.length &&
  a.runs.every(
    (run, i) =>
      run.first === b.runs[i]!.first && run.last === b.runs[i]!.last && run.step === b.runs[i]!.step,
  );

/** The lowest member, null of an empty set. */
export const firstOf = (set: FrameSet): number | null => set.runs[0]?.first ?? null;
/** The highest member, null of an empty set. */
export const lastOf = (set: FrameSet): number | null => set.runs.at(-1)?.last ?? null;

/** Whether a frame is a member, in log n of the number of runs. */
export function has(set: FrameSet, frame: number): boolean {
  const run = set.runs[lastAtOrBelow(set.runs.length, (i) => set.runs[i]!.first, frame)];
  return run !== undefined && frame <= run.last && (frame - run.first) % run.step === 0;
}

/** The members in ascending order. */
export function* members(set: FrameSet): Generator<number> {
  for (const run of set.runs) for (let frame = run.first; frame <= run.last; frame += run.step) yield frame;
}

/** The member at a position (0-based), or null past the end. O(runs). */
export function memberAt(set: FrameSet, index: number): number | null {
  let rest = index;
  if (rest < 0) return null;
  for (const run of set.runs) {
    const n = runCount(run);
    if (rest < n) return run.first + rest * run.step;
    rest -= n;
  }
  return null;
}

/** The same set, every frame so much later. */
export const shifted = (set: FrameSet, by: number): FrameSet =>
  by === 0
    ? set
    : {
        runs: set.runs.map((run) => ({ ...run, first: run.first + by, last: run.last + by })),
        count: set.count,
      };

/** With so many frames before and behind each member. */
export const grown = (set: FrameSet, by: number): FrameSet =>
  unionAll(Array.from({ length: by * 2 + 1 }, (_, i) => shifted(set, i - by)));

/** Members in [first, last], as a set. */
export const within = (set: FrameSet, first: number, last: number): FrameSet =>
  intersection(set, rangeSet(first, last));

/** Of two sets; all three go over both once, from low to high. */
type Operation = "union" | "difference" | "intersection";

/** First member of a run at or above `lo`. */
const firstFrom = (run: Run, lo: number): number =>
  run.first >= lo ? run.first : run.first + Math.ceil((lo - run.first) / run.step) * run.step;

/** Last member of a run at or below `hi`, counted on from a member. */
const lastUpTo = (run: Run, first: number, hi: number): number =>
  run.last <= hi ? run.last : first + Math.floor((hi - first) / run.step) * run.step;

/** The part of a run inside [lo, hi], or null when no member falls there. */
function clip(run: Run, lo: number, hi: number): Run | null {
  const first = firstFrom(run, lo);
  return first > Math.min(run.last, hi) ? null : { first, last: lastUpTo(run, first, hi), step: run.step };
}

/** The part of a run from lo to hi, which keeps its step. */
function pushClipped(builder: RunBuilder, run: Run, lo: number, hi: number): void {
  const first = firstFrom(run, lo);
  if (first <= hi && first <= run.last) builder.push(first, lastUpTo(run, first, hi), run.step);
}

/**
 * Walks both lists of runs once. Runs of one list do not interleave, so between two neighbouring
 * borders at most one run of each side is alive and the question is about two progressions.
 */
function sweep(a: FrameSet, b: FrameSet, operation: Operation): FrameSet {
  const builder = new RunBuilder();
  const runsA = a.runs;
  const runsB = b.runs;
  let i = 0;
  let j = 0;
  let at = Math.min(runsA[0]!.first, runsB[0]!.first);
  while (i < runsA.length && j < runsB.length) {
    const runA = runsA[i]!;
    const runB = runsB[j]!;
    const startA = at > runA.first ? at : runA.first;
    const startB = at > runB.first ? at : runB.first;
    let hi: number;
    // Most stretches have one side alive, or two without a step: these cost no object.
    if (startA < startB) {
      hi = startB <= runA.last ? startB - 1 : runA.last;
      if (operation !== "intersection") pushClipped(builder, runA, startA, hi);
    } else if (startB < startA) {
      hi = startA <= runB.last ? startA - 1 : runB.last;
      if (operation === "union") pushClipped(builder, runB, startB, hi);
    } else {
      hi = runA.last < runB.last ? runA.last : runB.last;
      if (runA.step !== 1 || runB.step !== 1)
        combine(builder, clip(runA, startA, hi), clip(runB, startB, hi), operation);
      else if (operation !== "difference") builder.push(startA, hi, 1);
    }
    at = hi + 1;
    if (runA.last < at) i++;
    if (runB.last < at) j++;
  }
  // One side is through; what is left of the other, its first run from where the walk has got to.
  if (operation !== "intersection")
    for (; i < runsA.length; i++)
      pushClipped(builder, runsA[i]!, Math.max(at, runsA[i]!.first), runsA[i]!.last);
  if (operation === "union")
    for (; j < runsB.length; j++)
      pushClipped(builder, runsB[j]!, Math.max(at, runsB[j]!.first), runsB[j]!.last);
  return builder.finish();
}

/** One stretch on which both sets are a single run or nothing. */
function combine(builder: RunBuilder, a: Run | null, b: Run | null, operation: Operation): void {
  const keepA = operation !== "intersection";
  if (a === null || b === null) {
    if (a !== null && keepA) builder.push(a.first, a.last, a.step);
    if (b !== null && operation === "union") builder.push(b.first, b.last, b.step);
    return;
  }
  const shared = sharedMembers(a, b);
  if (operation === "intersection") {
    if (shared !== null) builder.push(shared.first, shared.last, shared.step);
  } else if (operation === "difference") {
    if (shared === null) builder.push(a.first, a.last, a.step);
    else pushWithout(builder, a, shared);
  } else if (shared !== null && runCount(shared) === runCount(b)) {
    builder.push(a.first, a.last, a.step);
  } else if (shared !== null && runCount(shared) === runCount(a)) {
    builder.push(b.first, b.last, b.step);
  } else {
    pushBoth(builder, a, b);
  }
}

/** Euclid. Where two steps meet, members repeat at their least common multiple. */
const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Members that two progressions share: again a progression (Chinese remainder), or null. */
function sharedMembers(a: Run, b: Run): Run | null {
  // A run of one has step 1 by convention; the tests below hold for it because its range is a point.
  const lo = Math.max(a.first, b.first);
  const hi = Math.min(a.last, b.last);
  if (lo > hi) return null;
  const divisor = gcd(a.step, b.step);
  if ((b.first - a.first) % divisor !== 0) return null;
  // Walk the one with the larger step until it meets the other: at most (smaller step / gcd) tries.
  const [walker, other] = a.step >= b.step ? [a, b] : [b, a];
  const start = clip(walker, lo, hi);
  if (start === null) return null;
  const tries = other.step / divisor;
  for (let k = 0, frame = start.first; k < tries && frame <= hi; k++, frame += walker.step) {
    if ((frame - other.first) % other.step !== 0) continue;
    const step = walker.step * tries;
    const last = frame + Math.floor((hi - frame) / step) * step;
    return { first: frame, last, step: last === frame ? 1 : step };
  }
  return null;
}

/** Pushes `a` without `hole`, whose members all belong to `a`. */
function pushWithout(builder: RunBuilder, a: Run, hole: Run): void {
  const pushPart = (first: number, last: number): void => {
    if (first <= last) builder.push(first, last, first === last ? 1 : a.step);
  };
  if (hole.first === hole.last) {
    pushPart(a.first, hole.first - a.step);
    pushPart(hole.first + a.step, a.last);
    return;
  }
  const every = hole.step / a.step;
  pushPart(a.first, hole.first - a.step);
  if (every === 2) {
    // Every second one goes: what stays between the holes is again one run.
    const first = hole.first + a.step;
    const last = hole.last - a.step;
    if (first <= last) builder.push(first, last, first === last ? 1 : hole.step);
  } else if (every > 2) {
    for (let gap = hole.first; gap < hole.last; gap += hole.step)
      pushPart(gap + a.step, gap + hole.step - a.step);
  }
  pushPart(hole.last + a.step, a.last);
}

/** Pushes the union of two interleaving progressions, the sparser one frame by frame. */
function pushBoth(builder: RunBuilder, a: Run, b: Run): void {
  const [dense, sparse] = a.step <= b.step ? [a, b] : [b, a];
  if (
    a.step === b.step &&
    Math.abs(a.first - b.first) * 2 === a.step &&
    Math.abs(a.last - b.last) * 2 === a.step
  ) {
    builder.push(Math.min(a.first, b.first), Math.max(a.last, b.last), a.step / 2);
    return;
  }
  let next = dense.first;
  for (let frame = sparse.first; frame <= sparse.last; frame += sparse.step) {
    const before = clip({ first: next, last: dense.last, step: dense.step }, next, frame);
    if (next <= dense.last && before !== null) {
      builder.push(before.first, before.last, before.first === before.last ? 1 : dense.step);
      next = before.last + dense.step;
      if (before.last === frame) continue;
    }
    builder.push(frame, frame, 1);
  }
  if (next <= dense.last) builder.push(next, dense.last, next === dense.last ? 1 : dense.step);
}
