import { rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { deriveTally, NO_FACTS } from "../tally/tally";
import { canonicalJson, fingerprintsOf } from "./fingerprint";
import { changedFields, type Plan, readPlan } from "./plan";
import { framesToRender, type Policy } from "./what-to-render";

const plan: Plan = { scene: "scenes/a.json", camera: "main", frames: "1-10", width: 240, height: 135, samples: 6, seed: 1, namePattern: "{shot}.{frame}", digits: 4, format: "png8" };

describe("a plan is read whole or refused with every fault at its field", () => {
  test("a sound one", () => expect(readPlan(plan)).toMatchObject({ ok: true, value: { asked: { count: 10 } } }));
  test.each<[Partial<Plan>, keyof Plan, string]>([
    [{ width: 0 }, "width", "plan-width"],
    [{ height: 40_000 }, "height", "plan-height"],
    [{ samples: 1.5 }, "samples", "plan-samples"],
    [{ frames: "10-1" }, "frames", "phrase-backwards"],
    [{ frames: "" }, "frames", "phrase-empty"],
    [{ frames: "1-3,!1-3" }, "frames", "plan-no-frames"],
    [{ frames: "1-2000000" }, "frames", "plan-too-many-frames"],
    [{ frames: "todo" }, "frames", "phrase-name"],
    [{ namePattern: "{shot}" }, "namePattern", "pattern-no-frame"],
    [{ digits: 0 }, "digits", "pattern-digits"],
    [{ scene: " " }, "scene", "plan-scene"],
  ])("%p", (change, field, code) => expect(readPlan({ ...plan, ...change })).toMatchObject({ ok: false, faults: [{ field, code }] }));
  test("two faults are both told", () => {
    const read = readPlan({ ...plan, width: 0, frames: "x y" });
    expect(!read.ok && read.faults.map((f) => f.field)).toEqual(["width", "frames"]);
  });
});

describe("fingerprints", () => {
  const sources = { scene: "aa", files: { "tower.png": "bb" }, engine: "stand-in 1", pass: "beauty" };
  const base = fingerprintsOf(plan, sources);
  test("more samples is effort, not look", () => {
    const more = fingerprintsOf({ ...plan, samples: 64 }, sources);
    expect([more.look === base.look, more.effort === base.effort]).toEqual([true, false]);
  });
  test("name, digits and frames are in none", () => expect(fingerprintsOf({ ...plan, namePattern: "x.{frame}", digits: 6, frames: "1-20" }, sources)).toEqual(base));
  test.each([{ scene: "ab" }, { files: { "tower.png": null } }, { engine: "stand-in 2" }, { pass: "depth" }])("%p changes the look", (change) =>
    expect(fingerprintsOf(plan, { ...sources, ...change }).look).not.toBe(base.look));
  test("the canonical form does not depend on the order of keys", () => expect(canonicalJson({ b: [1, { d: null, c: "x" }], a: true })).toBe('{"a":true,"b":[1,{"c":"x","d":null}]}'));
});

describe("what a run renders", () => {
  const tally = deriveTally({ ...NO_FACTS, asked: rangeSet(1, 10), files: rangeSet(1, 6), rejected: setOf([2]), otherLook: setOf([3]), unlooked: setOf([4]), lastAttemptFailed: setOf([8]), waiting: setOf([9]), rendering: setOf([6]) });
  test.each<[Policy, string, [string, string][]]>([
    ["fill", "7-8,10", [["good", "1,5"], ["flagged", "2"], ["stale", "3"], ["unchecked", "4"], ["in-a-run", "6,9"]]],
    ["mend", "2-3,7-8,10", [["good", "1,5"], ["unchecked", "4"], ["in-a-run", "6,9"]]],
    ["all", "1-5,7-8,10", [["in-a-run", "6,9"]]],
  ])("%s", (policy, rendered, kept) => {
    const decision = framesToRender(tally, rangeSet(1, 12), policy);
    expect(formatPhrase(decision.toRender)).toBe(rendered);
    expect(decision.keep.map((k) => [k.reason, formatPhrase(k.frames)])).toEqual(kept);
    expect(formatPhrase(decision.notAsked)).toBe("11-12");
  });
});

test("what changed between two plans is told field by field", () => expect(changedFields(plan, { ...plan, samples: 8, digits: 5 })).toEqual(["samples", "digits"]));
