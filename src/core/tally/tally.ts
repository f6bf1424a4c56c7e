/**
 * The state of every frame of a sequence, derived from facts in one place. Two axes: the *result* is
 * what we have, the *activity* what goes on. The result is the first row of RESULT_ROWS that matches.
 *
 * A tally is a partition: each asked frame is in exactly one result other than `extra`; `extra`
 * holds the files that the plan does not ask for and is counted apart. Sets, not lists, so that a
 * million frames derive as fast as their number of runs allows.
 */
import { difference, EMPTY, type FrameSet, intersection, union, unionAll } from "../frames/frame-set";

/** In the order in which they are told. */
export const RESULTS = [
  "good",
  "flagged",
  "failed",
  "missing",
  "partial",
  "stale",
  "unchecked",
  "extra",
] as const;
export type Result = (typeof RESULTS)[number];

/** In the order in which a frame goes through them. */
export const ACTIVITIES = ["waiting", "rendering", "checking"] as const;
/** Idle frames are all the others; no set of them is kept. */
export type Activity = (typeof ACTIVITIES)[number];

/** Where several frames share a pixel the worst shows: earlier in this list is worse. */
export const WORST_FIRST: readonly Result[] = [
  "flagged",
  "failed",
  "missing",
  "partial",
  "stale",
  "unchecked",
  "extra",
  "good",
];

/** What is known of a sequence, each a set of frame numbers. */
export interface Facts {
  /** Frames that the plan asks for. */
  readonly asked: FrameSet;
  /** A file is there. */
  readonly files: FrameSet;
  /** A file that nothing has looked at since it appeared or changed. */
  readonly unlooked: FrameSet;
  /** A check rejects the file: cut short, empty, corrupt, another size. */
  readonly rejected: FrameSet;
  /** A finding of a check or a person is open. */
  readonly findingOpen: FrameSet;
  /** The file's look fingerprint is known and is not the plan's. */
  readonly otherLook: FrameSet;
  /** The file holds fewer samples than the plan asks for by now. */
  readonly lowEffort: FrameSet;
  /** A checkpoint holds part of the samples. */
  readonly checkpointed: FrameSet;
  /** The last attempt ended in an error. */
  readonly lastAttemptFailed: FrameSet;
  /** In the queue of a run that goes on. */
  readonly waiting: FrameSet;
  /** On lease. */
  readonly rendering: FrameSet;
  /** Their file is about to be read. */
  readonly checking: FrameSet;
}

/** Of a sequence that nobody planned and nothing wrote. */
export const NO_FACTS: Facts = {
  asked: EMPTY,
  files: EMPTY,
  unlooked: EMPTY,
  rejected: EMPTY,
  findingOpen: EMPTY,
  otherLook: EMPTY,
  lowEffort: EMPTY,
  checkpointed: EMPTY,
  lastAttemptFailed: EMPTY,
  waiting: EMPTY,
  rendering: EMPTY,
  checking: EMPTY,
};

export interface Tally {
  /** By the plan. */
  readonly asked: FrameSet;
  /** Disjoint; together all of `asked`, and the extra ones. */
  readonly results: Readonly<Record<Result, FrameSet>>;
  /** Disjoint; what is in none is idle. */
  readonly activities: Readonly<Record<Activity, FrameSet>>;
  /**
   * Good frames that hold fewer samples than the plan asks for: work for a refining run, and good all the
   * same.
   */
  readonly refinable: FrameSet;
}

/** The same plan in a version that nothing was made of yet. */
export const asFresh = ({ asked }: Pick<Tally, "asked">): Tally => deriveTally({ ...NO_FACTS, asked });

/** The table of states, in order; the first row that matches names the result of an asked frame. */
const RESULT_ROWS: readonly (readonly [Result, (facts: Facts) => FrameSet])[] = [
  ["flagged", (f) => intersection(f.files, union(f.rejected, f.findingOpen))],
  ["stale", (f) => difference(intersection(f.files, f.otherLook), f.unlooked)],
  ["good", (f) => difference(f.files, f.unlooked)],
  ["unchecked", (f) => f.files],
  ["partial", (f) => f.checkpointed],
  ["failed", (f) => f.lastAttemptFailed],
  ["missing", (f) => f.asked],
];

/** First match wins, in the order of the table above; every frame of plan or disk gets one result. */
export function deriveTally(facts: Facts): Tally {
  const results: Record<Result, FrameSet> = {
    good: EMPTY,
    flagged: EMPTY,
    failed: EMPTY,
    missing: EMPTY,
    partial: EMPTY,
    stale: EMPTY,
    unchecked: EMPTY,
    extra: difference(facts.files, facts.asked),
  };
  let open = facts.asked;
  for (const [result, matches] of RESULT_ROWS) {
    results[result] = intersection(open, matches(facts));
    open = difference(open, results[result]);
  }
  // A frame is in one activity: what happens now hides what waits.
  const rendering = facts.rendering;
  const checking = difference(facts.checking, rendering);
  const waiting = difference(facts.waiting, union(rendering, checking));
  return {
    asked: facts.asked,
    results,
    activities: { waiting, rendering, checking },
    refinable: intersection(results.good, facts.lowEffort),
  };
}

/** What the policy `mend` would render: the patch list. */
export const todoOf = (tally: Tally): FrameSet => {
  const r = tally.results;
  return unionAll([r.missing, r.partial, r.failed, r.flagged, r.stale]);
};

export interface TallyCounts {
  /** Frames that the plan asks for. */
  readonly asked: number;
  readonly results: Readonly<Record<Result, number>>;
  readonly activity: Readonly<Record<Activity, number>>;
}

/** How many each set has. */
const countEach = <K extends string>(sets: Readonly<Record<K, FrameSet>>): Record<K, number> =>
  Object.fromEntries(Object.entries<FrameSet>(sets).map(([key, set]) => [key, set.count])) as Record<
    K,
    number
  >;

/** How many frames are in each state. */
export const countsOf = (tally: Tally): TallyCounts => ({
  asked: tally.asked.count,
  results: countEach(tally.results),
  activity: countEach(tally.activities),
});
