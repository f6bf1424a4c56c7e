import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { type Arrival, claimSeconds, paceOf, usualSeconds } from "./arrivals";
import { formatPhrase } from "../frames/phrase";

const arrivals = (frames: readonly number[], everyS: number, seconds: number | null = null): Arrival[] =>
  frames.map((frame, i) => ({ frame, modifiedMs: 1_000_000 + i * everyS * 1000, seconds }));

test("a pace is told from the last arrivals, with the gaps behind the front and what is left", () => {
  const came = arrivals([1, 2, 3, 5, 6, 9, 10], 48);
  const last = came.at(-1)!.modifiedMs;
  const pace = paceOf(came, rangeSet(1, 20), setOf([7]), last + 30_000)!;
  expect([pace.everySeconds, pace.front, pace.left]).toEqual([48, 10, 13]);
  // 7 is claimed: somebody is at it.
  expect(formatPhrase(pace.behind)).toBe("4,8");
  expect(pace.finishMs).toBe(last + 13 * 48_000);
});

test("what was copied in one go has no pace, nor what came long ago, nor a single file", () => {
  const asked = rangeSet(1, 20);
  expect(paceOf(arrivals([1, 2, 3], 0), asked, EMPTY, 1_000_001)).toBeNull();
  expect(paceOf(arrivals([1, 2, 3], 10), asked, EMPTY, 10_000_000)).toBeNull();
  expect(paceOf(arrivals([1], 10), asked, EMPTY, 1_000_001)).toBeNull();
  expect(paceOf([], asked, EMPTY, 0)).toBeNull();
});

test("a pace goes by what came last: a slow beginning is forgotten", () => {
  const slow = arrivals(
    Array.from({ length: 30 }, (_, i) => i + 1),
    600,
  );
  const from = slow.at(-1)!.modifiedMs;
  const fast = Array.from({ length: 20 }, (_, i) => ({
    ...{ frame: 31 + i, seconds: null },
    modifiedMs: from + (i + 1) * 5_000,
  }));
  expect(paceOf([...slow, ...fast], rangeSet(1, 60), EMPTY, fast.at(-1)!.modifiedMs)!.everySeconds).toBe(5);
});

test("a claim holds for a few times what a frame takes, by claims that came true where any did", () => {
  expect(usualSeconds([])).toBeNull();
  expect(claimSeconds([])).toBe(1800);
  expect(claimSeconds(arrivals([1, 2, 3], 48))).toBe(192);
  // Three machines: one file every 10 s, each of which took 300.
  expect(claimSeconds(arrivals([1, 2, 3], 10, 300))).toBe(1200);
  expect(claimSeconds(arrivals([1, 2, 3], 1))).toBe(60);
});
