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
import { RunBuilder } from "./run-builder";

export interface Run {
  readonly first: number;
  readonly last: number;
  /** Distance between members; 1 for a run of one. `last - first` is a multiple of it. */
  readonly step: number;
}

export interface FrameSet {
  readonly runs: readonly Run[];
  readonly count: number;
}

export const EMPTY: FrameSet = { runs: [], count: 0 };

export const runCount = (run: Run): number => (run.last - run.first) / run.step + 1;

const fromBuilder = (builder: RunBuilder): FrameSet => {
  const runs = builder.finish();
  let count = 0;
  for (const run of runs) count += runCount(run);
  return { runs, count };
};

/** first..last by step, both ends meant: the last member is the greatest that the step reaches. */
export function rangeSet(first: number, last: number, step = 1): FrameSet {
  if (last < first) return EMPTY;
  const builder = new RunBuilder();
  builder.push(first, last - ((last - first) % step), step);
  return fromBuilder(builder);
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
  return fromBuilder(builder);
}

/** Members of either. */
export const union = (a: FrameSet, b: FrameSet): FrameSet => (b.count === 0 ? a : a.count === 0 ? b : sweep(a, b, "union"));

/** Members of `a` that are not in `b`. */
export const difference = (a: FrameSet, b: FrameSet): FrameSet => (a.count === 0 || b.count === 0 ? a : sweep(a, b, "difference"));

/** Members of both. */
export const intersection = (a: FrameSet, b: FrameSet): FrameSet => (a.count === 0 || b.count === 0 ? EMPTY : sweep(a, b, "intersection"));

/** Union of many sets, pairwise, so that ten thousand single frames cost n log n and not n². */
export function unionAll(sets: readonly FrameSet[]): FrameSet {
  if (sets.length === 0) return EMPTY;
  if (sets.length === 1) return sets[0]!;
  const half = sets.length >> 1;
  return union(unionAll(sets.slice(0, half)), unionAll(sets.slice(half)));
}

export const isEqual = (a: FrameSet, b: FrameSet): boolean =>
  a.runs.length === b.runs.length &&
  a.runs.every((run, i) => run.first === b.runs[i]!.first && run.last === b.runs[i]!.last && run.step === b.runs[i]!.step);

export const firstOf = (set: FrameSet): number | null => set.runs[0]?.first ?? null;
export const lastOf = (set: FrameSet): number | null => set.runs.at(-1)?.last ?? null;

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

/** Members in [first, last], as a set. */
export const within = (set: FrameSet, first: number, last: number): FrameSet => intersection(set, rangeSet(first, last));

type Operation = "union" | "difference" | "intersection";

/** The part of a run inside [lo, hi], or null when no member falls there. */
function clip(run: Run | null, lo: number, hi: number): Run | null {
  if (run === null) return null;
  const first = run.first >= lo ? run.first : run.first + Math.ceil((lo - run.first) / run.step) * run.step;
  const top = Math.min(run.last, hi);
  if (first > top) return null;
  return { first, last: first + Math.floor((top - first) / run.step) * run.step, step: run.step };
}

/**
 * Walks both lists of runs once. Runs of one list do not interleave, so between two neighbouring
 * borders at most one run of each side is alive and the question is about two progressions.
 */
function sweep(a: FrameSet, b: FrameSet, operation: Operation): FrameSet {
  const builder = new RunBuilder();
  let i = 0;
  let j = 0;
  let at = -Infinity;
  while (i < a.runs.length || j < b.runs.length) {
    const runA = a.runs[i] ?? null;
    const runB = b.runs[j] ?? null;
    if (runB === null && operation !== "union" && operation !== "difference") break;
    if (runA === null && operation !== "union") break;
    const startA = runA === null ? Infinity : Math.max(at, runA.first);
    const startB = runB === null ? Infinity : Math.max(at, runB.first);
    const lo = Math.min(startA, startB);
    let hi = Infinity;
    if (runA !== null) hi = Math.min(hi, startA > lo ? startA - 1 : runA.last);
    if (runB !== null) hi = Math.min(hi, startB > lo ? startB - 1 : runB.last);
    combine(builder, startA === lo ? clip(runA, lo, hi) : null, startB === lo ? clip(runB, lo, hi) : null, operation);
    at = hi + 1;
    if (runA !== null && runA.last < at) i++;
    if (runB !== null && runB.last < at) j++;
  }
  return fromBuilder(builder);
}

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
    for (let gap = hole.first; gap < hole.last; gap += hole.step) pushPart(gap + a.step, gap + hole.step - a.step);
  }
  pushPart(hole.last + a.step, a.last);
}

/** Pushes the union of two interleaving progressions, the sparser one frame by frame. */
function pushBoth(builder: RunBuilder, a: Run, b: Run): void {
  const [dense, sparse] = a.step <= b.step ? [a, b] : [b, a];
  if (a.step === b.step && Math.abs(a.first - b.first) * 2 === a.step && Math.abs(a.last - b.last) * 2 === a.step) {
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
