import fc from "fast-check";
import {
  difference,
  EMPTY,
  type FrameSet,
  grown,
  has,
  intersection,
  isEqual,
  memberAt,
  members,
  rangeSet,
  runCount,
  setOf,
  union,
  unionAll,
} from "./frame-set";
import { formatPhrase, parsePhrase } from "./phrase";

const SEED = 20261124;
const frame = fc.integer({ min: -40, max: 60 });
const stepped = fc
  .tuple(frame, fc.integer({ min: 0, max: 60 }), fc.integer({ min: 1, max: 9 }))
  .map(([a, n, s]) => rangeSet(a, a + n, s));
/** A set built the way people build them: stepped ranges and loose frames, added and taken away. */
const frameSet = fc
  .tuple(
    fc.array(stepped, { maxLength: 4 }),
    fc.array(frame, { maxLength: 8 }),
    fc.array(stepped, { maxLength: 2 }),
  )
  .map(([ranges, loose, holes]) => difference(union(unionAll(ranges), setOf(loose)), unionAll(holes)));

const list = (set: FrameSet): number[] => [...members(set)];
const sorted = (numbers: Iterable<number>): number[] => [...new Set(numbers)].sort((a, b) => a - b);
const check = <T>(property: fc.IProperty<T>): void => fc.assert(property, { seed: SEED, numRuns: 400 });

describe("frame sets agree with a plain Set", () => {
  test("union, difference and intersection", () => {
    check(
      fc.property(frameSet, frameSet, (a, b) => {
        const inB = new Set(list(b));
        expect(list(union(a, b))).toEqual(sorted([...list(a), ...list(b)]));
        expect(list(difference(a, b))).toEqual(list(a).filter((f) => !inB.has(f)));
        expect(list(intersection(a, b))).toEqual(list(a).filter((f) => inB.has(f)));
      }),
    );
  });

  test("count, membership and position", () => {
    check(
      fc.property(frameSet, (a) => {
        const all = list(a);
        expect(a.count).toBe(all.length);
        const around = Array.from({ length: 170 }, (_, i) => i - 45);
        expect(around.filter((f) => has(a, f))).toEqual(all);
        expect(all.map((_, i) => memberAt(a, i))).toEqual(all);
        expect(memberAt(a, all.length)).toBeNull();
      }),
    );
  });

  test("the canonical form depends only on the members", () => {
    check(
      fc.property(frameSet, frameSet, (a, b) => {
        const joined = union(a, b);
        expect(joined.runs).toEqual(setOf(list(joined)).runs);
        const rest = difference(a, b);
        expect(rest.runs).toEqual(setOf(list(rest)).runs);
      }),
    );
  });
});

describe("set laws", () => {
  test("commutative, associative, distributive, and taking away undoes adding", () => {
    check(
      fc.property(frameSet, frameSet, frameSet, (a, b, c) => {
        expect(isEqual(union(a, b), union(b, a))).toBe(true);
        expect(isEqual(union(union(a, b), c), union(a, union(b, c)))).toBe(true);
        expect(isEqual(intersection(a, union(b, c)), union(intersection(a, b), intersection(a, c)))).toBe(
          true,
        );
        expect(isEqual(difference(union(a, b), b), difference(a, b))).toBe(true);
        expect(isEqual(union(difference(a, b), intersection(a, b)), a)).toBe(true);
        expect(isEqual(difference(a, a), EMPTY)).toBe(true);
      }),
    );
  });
});

describe("phrases and sets", () => {
  test("parse after format is the identity", () => {
    check(
      fc.property(
        frameSet.filter((s) => s.count > 0),
        (a) => {
          const read = parsePhrase(formatPhrase(a));
          expect(read.ok && isEqual(read.set, a)).toBe(true);
        },
      ),
    );
  });

  test("a step is written only where it shortens the phrase", () => {
    check(
      fc.property(
        frameSet.filter((s) => s.count > 0),
        (a) => {
          for (const run of a.runs.filter((r) => r.step > 1 && runCount(r) <= 12)) {
            const plain = list({ runs: [run], count: runCount(run) }).join(",");
            expect(formatPhrase({ runs: [run], count: runCount(run) }).length).toBeLessThanOrEqual(
              plain.length,
            );
          }
        },
      ),
    );
  });
});

test("a set grows by the frames beside each member, once where they meet", () => {
  expect([...members(grown(setOf([3, 5, 20]), 1))]).toEqual([2, 3, 4, 5, 6, 19, 20, 21]);
  expect(grown(setOf([3]), 0)).toEqual(setOf([3]));
  expect(grown(EMPTY, 4).count).toBe(0);
});

test("ten million frames cost no more than ten", () => {
  const odd = difference(rangeSet(1, 10_000_000), rangeSet(2, 10_000_000, 2));
  expect(odd.runs).toEqual([{ first: 1, last: 9_999_999, step: 2 }]);
  expect(union(odd, rangeSet(2, 10_000_000, 2)).runs).toEqual([{ first: 1, last: 10_000_000, step: 1 }]);
  expect(difference(rangeSet(1, 10_000_000), rangeSet(1000, 10_000_000, 1000)).count).toBe(9_990_000);
});

test("a set that falls apart into more than a million runs is refused, and says so", () => {
  const read = parsePhrase("1-10000000,!1-10000000/3");
  expect(read).toMatchObject({ ok: false, error: { code: "frame-set-too-fragmented", column: 12 } });
});
