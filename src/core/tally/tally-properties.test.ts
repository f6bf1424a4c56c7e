/** What holds for every sequence, whatever its facts. */
import fc from "fast-check";
import {
  difference,
  EMPTY,
  type FrameSet,
  intersection,
  isEqual,
  setOf,
  union,
  unionAll,
} from "../frames/frame-set";
import { formatPhrase, parsePhrase } from "../frames/phrase";
import { framesToRender, POLICIES } from "../run/what-to-render";
import { phraseNames } from "./names";
import { packTally, patchTally, unpackTally } from "./packed";
import { ACTIVITIES, countsOf, deriveTally, type Facts, NO_FACTS, RESULTS, todoOf } from "./tally";

const SEED = 20261125;
const frames = fc.array(fc.integer({ min: 1, max: 40 }), { maxLength: 30 }).map(setOf);
const facts: fc.Arbitrary<Facts> = fc.record({
  asked: frames,
  files: frames,
  unlooked: frames,
  rejected: frames,
  findingOpen: frames,
  otherLook: frames,
  lowEffort: frames,
  checkpointed: frames,
  lastAttemptFailed: frames,
  waiting: frames,
  rendering: frames,
  checking: frames,
});
const check = <T>(property: fc.IProperty<T>): void => fc.assert(property, { seed: SEED, numRuns: 300 });

const mapFacts = (change: (key: keyof Facts) => FrameSet): Facts =>
  Object.fromEntries((Object.keys(NO_FACTS) as (keyof Facts)[]).map((key) => [key, change(key)])) as {
    [K in keyof Facts]: FrameSet;
  };

const disjoint = (sets: readonly FrameSet[]): boolean =>
  unionAll(sets).count === sets.reduce((sum, set) => sum + set.count, 0);

test("results part the asked frames: each is in exactly one, and extra lies outside", () => {
  check(
    fc.property(facts, (f) => {
      const { results, asked } = deriveTally(f);
      const inside = RESULTS.filter((r) => r !== "extra").map((r) => results[r]);
      expect(disjoint(inside)).toBe(true);
      expect(isEqual(unionAll(inside), asked)).toBe(true);
      expect(intersection(results.extra, asked)).toEqual(EMPTY);
      expect(isEqual(results.extra, difference(f.files, asked))).toBe(true);
    }),
  );
});

test("a frame is in at most one activity", () => {
  check(
    fc.property(facts, (f) => {
      const { activities } = deriveTally(f);
      expect(disjoint(ACTIVITIES.map((a) => activities[a]))).toBe(true);
      expect(isEqual(activities.rendering, f.rendering)).toBe(true);
    }),
  );
});

test("the counts are the sizes of the sets, and survive the way to the browser", () => {
  check(
    fc.property(facts, (f) => {
      const tally = deriveTally(f);
      const counts = countsOf(tally);
      expect(counts).toEqual(countsOf(unpackTally(packTally(tally))));
      expect(RESULTS.filter((r) => r !== "extra").reduce((sum, r) => sum + counts.results[r], 0)).toBe(
        counts.asked,
      );
    }),
  );
});

describe("what a run renders", () => {
  test("render and keep part the wanted frames of the plan; each policy renders at least what the one before does", () => {
    check(
      fc.property(facts, frames, (f, wanted) => {
        const tally = deriveTally(f);
        const decisions = POLICIES.map((policy) => framesToRender(tally, wanted, policy));
        for (const { render, keep, toRender, notAsked } of decisions) {
          const parts = [...render, ...keep].map((r) => r.frames);
          expect(disjoint(parts)).toBe(true);
          expect(isEqual(unionAll(parts), intersection(wanted, tally.asked))).toBe(true);
          expect(isEqual(toRender, unionAll(render.map((r) => r.frames)))).toBe(true);
          expect(isEqual(notAsked, difference(wanted, tally.asked))).toBe(true);
        }
        const [fill, mend, all] = decisions.map((d) => d.toRender) as [FrameSet, FrameSet, FrameSet];
        expect([difference(fill, mend).count, difference(mend, all).count]).toEqual([0, 0]);
      }),
    );
  });

  test("a refining run is fill, and of the good frames those that hold too few samples", () => {
    check(
      fc.property(facts, (f) => {
        const tally = deriveTally(f);
        const [fill, refine] = (["fill", "refine"] as const).map(
          (policy) => framesToRender(tally, tally.asked, policy).toRender,
        ) as [FrameSet, FrameSet];
        const busy = union(tally.activities.waiting, tally.activities.rendering);
        expect(
          isEqual(difference(refine, fill), difference(intersection(tally.results.good, f.lowEffort), busy)),
        ).toBe(true);
        expect(difference(fill, refine).count).toBe(0);
      }),
    );
  });

  test("todo is what mend would render, but for what a run has already", () => {
    check(
      fc.property(facts, (f) => {
        const tally = deriveTally(f);
        const busy = union(tally.activities.waiting, tally.activities.rendering);
        expect(
          isEqual(framesToRender(tally, tally.asked, "mend").toRender, difference(todoOf(tally), busy)),
        ).toBe(true);
      }),
    );
  });

  test("a good frame is never rendered by fill or mend", () => {
    check(
      fc.property(facts, (f) => {
        const tally = deriveTally(f);
        for (const policy of ["fill", "mend"] as const)
          expect(
            intersection(framesToRender(tally, tally.asked, policy).toRender, tally.results.good).count,
          ).toBe(0);
      }),
    );
  });
});

test("every name of the language means its set, and plain numbers say the same", () => {
  check(
    fc.property(facts, (f) => {
      const tally = deriveTally(f);
      const names = phraseNames({ tally, markers: {}, nodes: {} });
      for (const name of [...RESULTS, ...ACTIVITIES, "todo", "all"]) {
        const read = parsePhrase(name, names);
        expect(read.ok).toBe(true);
        if (!read.ok || read.set.count === 0) continue;
        const plain = parsePhrase(formatPhrase(read.set));
        expect(plain.ok && isEqual(plain.set, read.set)).toBe(true);
      }
    }),
  );
});

test("the tally of some frames alone, put into the tally of before, is the tally of all", () => {
  check(
    fc.property(facts, facts, frames, (before, after, changed) => {
      const now = mapFacts((key) =>
        union(difference(before[key], changed), intersection(after[key], changed)),
      );
      const alone = deriveTally(mapFacts((key) => intersection(now[key], changed)));
      expect(patchTally(packTally(deriveTally(before)), changed, packTally(alone))).toEqual(
        packTally(deriveTally(now)),
      );
    }),
  );
});
