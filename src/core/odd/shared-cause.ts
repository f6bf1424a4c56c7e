/**
 * What the bad frames share: for each node, part of the shot and so on, how many of its frames are bad, how much more
 * often than elsewhere, and how likely that would be by chance.
 */
import { type FrameSet, intersection, members, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { groupBy } from "../many";

/** One thing that frames have in common or not, as whole words: "came from quay-2". */
export interface Factor {
  /** As a column of the table is called. */
  readonly name: string;
  /** "came from", "have", "lie in". */
  readonly verb: string;
  /** Words of each value, with its frames. */
  readonly groups: readonly { readonly value: string; readonly frames: FrameSet }[];
}

export interface SharedCause {
  readonly factor: string;
  readonly value: string;
  /** Of this value: how many are bad, and how many there are. */
  readonly bad: number;
  readonly count: number;
  /** So many times more often bad than all others; null where none of the others is. */
  readonly lift: number | null;
  /** That so many or more would be by chance (Fisher's exact test, one side). */
  readonly chance: number;
  readonly sentence: string;
  readonly frames: FrameSet;
}

/** Rarer by chance than this, it is told in words. */
export const SELDOM = 0.01;

/** Natural logarithms of the factorials up to n. */
function logFactorials(n: number): Float64Array {
  const logs = new Float64Array(n + 1);
  for (let i = 2; i <= n; i++) logs[i] = logs[i - 1]! + Math.log(i);
  return logs;
}

/**
 * Fisher's exact test, one side: of `all` frames `bad` are bad; how likely is it that of `count` taken by lot `hits` or
 * more are? (The tail of the hypergeometric distribution.)
 */
export function chanceOf(
  hits: number,
  count: number,
  bad: number,
  all: number,
  /** Of at least `all`; asked of many groups it is worked out once. */
  log: Float64Array = logFactorials(all),
): number {
  const choose = (n: number, k: number): number => log[n]! - log[k]! - log[n - k]!;
  let sum = 0;
  for (let k = hits; k <= Math.min(count, bad); k++)
    if (count - k <= all - bad)
      sum += Math.exp(choose(bad, k) + choose(all - bad, count - k) - choose(all, count));
  return Math.min(1, sum);
}

/**
 * What `hits` bad ones of `count` mean, where `bad` of `all` are.
 * @param log as `chanceOf` takes it
 */
const weighed = (
  hits: number,
  count: number,
  bad: number,
  all: number,
  log?: Float64Array,
): Pick<SharedCause, "bad" | "count" | "lift" | "chance"> => ({
  bad: hits,
  count,
  lift: bad === hits ? null : hits / count / ((bad - hits) / (all - count)),
  chance: chanceOf(hits, count, bad, all, log),
});

/**
 * @param bad frames that somebody or something rejects, of `all`
 * @param all frames that have a file
 * @returns by how seldom it would be by chance; values that no bad frame has are left out
 */
export function sharedCauses(bad: FrameSet, all: FrameSet, factors: readonly Factor[]): SharedCause[] {
  const badOnes = intersection(bad, all);
  if (badOnes.count === 0) return [];
  const log = logFactorials(all.count);
  return factors
    .flatMap(({ name, verb, groups }) =>
      groups.flatMap(({ value, frames: every }): SharedCause[] => {
        const frames = intersection(every, all);
        const hits = intersection(badOnes, frames).count;
        // What all frames have says nothing.
        if (hits === 0 || frames.count === all.count) return [];
        return [
          {
            factor: name,
            value,
            ...weighed(hits, frames.count, badOnes.count, all.count, log),
            sentence: `${hits} of ${badOnes.count} bad frame${badOnes.count === 1 ? "" : "s"} ${verb} ${value}, as ${frames.count} of all ${all.count} do.`,
            frames,
          },
        ];
      }),
    )
    .sort((a, b) => a.chance - b.chance || b.bad - a.bad);
}

/** What is rejected of one camera's pictures, and what there is of them. */
export interface OfCamera {
  readonly camera: string;
  readonly bad: FrameSet;
  readonly all: FrameSet;
}

/**
 * Whether a camera has more bad frames than the others of its version: the same frame is a picture of its own in each.
 * @returns null where it is the only one, or has none that is bad
 */
export function sharedByCamera(own: OfCamera, others: readonly OfCamera[]): SharedCause | null {
  const [bad, all] = [own, ...others].reduce(([b, a], one) => [b + one.bad.count, a + one.all.count], [0, 0]);
  if (own.bad.count === 0 || own.all.count === all) return null;
  return {
    factor: "camera",
    value: `the camera ${own.camera}`,
    ...weighed(own.bad.count, own.all.count, bad, all),
    sentence: `${own.bad.count} of ${bad} bad frame${bad === 1 ? "" : "s"} of all cameras came from the camera ${own.camera}, as ${own.all.count} of all ${all} do.`,
    frames: own.all,
  };
}

/** Sets that have names. */
export const groupsOf = (named: Readonly<Record<string, FrameSet>>): Factor["groups"] =>
  Object.entries(named).map(([value, frames]) => ({ value, frames }));

/** Frames by a word of each; those of which nothing is known are in no group. */
export function groupsBy(
  frames: Iterable<number>,
  wordOf: (frame: number) => string | null,
): Factor["groups"] {
  return [...groupBy(frames, wordOf)].flatMap(([value, own]) =>
    value === null ? [] : [{ value, frames: setOf(own) }],
  );
}

/** The shot in three parts of as many frames each. */
export function thirdsOf(all: FrameSet): Factor["groups"] {
  const frames = [...members(all)];
  const third = Math.max(1, Math.ceil(frames.length / 3));
  return ["first", "middle", "last"].flatMap((word, i) => {
    const own = setOf(frames.slice(i * third, (i + 1) * third));
    return own.count === 0 ? [] : [{ value: `the ${word} third (${formatPhrase(own)})`, frames: own }];
  });
}
