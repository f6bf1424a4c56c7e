/**
 * Difference, count and formatting on ten million frames with ten thousand holes, against a JavaScript Set.
 */
import { median } from "@/core/many";
import { difference, rangeSet, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { type Measured, rounded, timeEach } from "./measured";

const FRAMES = 10_000_000;
const HOLES = 10_000;
/** Enough that most of them run in compiled code, as in a server that lives for days. */
const ROUNDS = 201;

/** Holes without a common step, so that no series of them shrinks to one run. */
function holeNumbers(): number[] {
  let state = 1;
  const numbers = new Set<number>();
  while (numbers.size < HOLES)
    numbers.add(1 + ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) % FRAMES));
  return [...numbers];
}

/** Writes ascending numbers as runs: what the yardstick needs to print the same phrase. */
function formatNumbers(numbers: Iterable<number>): string {
  const terms: string[] = [];
  let first = NaN;
  let last = NaN;
  const flush = (): void =>
    void (Number.isNaN(first) || terms.push(first === last ? String(first) : `${first}-${last}`));
  for (const n of numbers) {
    if (n !== last + 1) {
      flush();
      first = n;
    }
    last = n;
  }
  flush();
  return terms.join(",");
}

export function frameSets(): Measured {
  const holes = holeNumbers();
  const all = rangeSet(1, FRAMES);
  const gone = setOf(holes);
  let ours = { count: 0, phrase: "" };
  const times = timeEach(ROUNDS, () => {
    const left = difference(all, gone);
    ours = { count: left.count, phrase: formatPhrase(left) };
    // A text that was put together from pieces is made whole when it is first read: that counts.
    ours.phrase.charCodeAt(ours.phrase.length >> 1);
  });
  const plainAll = new Set<number>();
  for (let n = 1; n <= FRAMES; n++) plainAll.add(n);
  const plainGone = new Set(holes);
  let theirs = { count: 0, phrase: "" };
  const [yardstick] = timeEach(1, () => {
    const left = new Set<number>();
    for (const n of plainAll) if (!plainGone.has(n)) left.add(n);
    theirs = { count: left.size, phrase: formatNumbers(left) };
  });
  // Lone frames between two holes of one distance may be written as a step by us: the counts must agree, and
  // the length nearly.
  if (ours.count !== theirs.count || Math.abs(ours.phrase.length - theirs.phrase.length) > 100)
    throw new Error("The two do not agree.");
  const value = median(times);
  const ratio = yardstick! / value;
  return {
    name: "frame-sets",
    value: rounded(value),
    unit: "ms",
    yardstick: rounded(yardstick!),
    ratio: rounded(ratio),
    goal: "at least 1,000 times as fast as a Set, and under 10 ms",
    holds: ratio >= 1000 && value < 10,
  };
}
