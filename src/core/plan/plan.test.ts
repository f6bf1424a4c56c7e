import { rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { deriveTally, NO_FACTS } from "../tally/tally";
import { canonicalJson } from "./canonical";
import { fingerprintsOf, type LookSources, passesMadeStale } from "./fingerprint";
import type { Pass } from "./passes";
import { changedFields, type Plan, PLAN_DEFAULTS, readPlan } from "./plan";
import { framesToRender, type Policy, sharePasses } from "../run/what-to-render";

const rate = { numerator: 24, denominator: 1 };
const plan: Plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/a.json",
  cameras: ["main"],
  frames: "1-10",
  timeLine: { first: 1, last: 24, rate },
  rate,
  width: 240,
  height: 135,
  samples: 6,
  namePattern: "{shot}.{frame}",
};

describe("a plan is read whole or refused with every fault at its field", () => {
  test("a sound one", () =>
    expect(readPlan(plan)).toMatchObject({ ok: true, value: { asked: { count: 10 } } }));
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
    [{ width: 1_000_000 }, "width", "plan-width"],
    [{ width: 16_384, scale: 200 }, "scale", "plan-scale"],
    [{ rate: { numerator: 0, denominator: 1 } }, "rate", "plan-rate"],
    [{ minSamples: 7 }, "minSamples", "plan-minSamples"],
    [{ noiseTarget: 0 }, "noiseTarget", "plan-noiseTarget"],
    [{ timeLimit: -1 }, "timeLimit", "plan-timeLimit"],
    [{ filter: { kind: "gaussian", radius: 0 } }, "filter", "plan-filter"],
    [{ lens: { fNumber: 0, focusDistance: 3 } }, "lens", "plan-lens"],
    [{ file: { kind: "jpeg", quality: 0 } }, "file", "plan-file"],
    [{ file: { kind: "jpeg", quality: 90 }, alpha: "straight" }, "alpha", "plan-alpha"],
    [{ passes: ["depth"] }, "passes", "plan-passes"],
    [{ cameras: [] }, "cameras", "plan-cameras"],
  ])("%p", (change, field, code) =>
    expect(readPlan({ ...plan, ...change })).toMatchObject({ ok: false, faults: [{ field, code }] }),
  );
  test("two faults are both told", () => {
    const read = readPlan({ ...plan, width: 0, frames: "x y" });
    expect(!read.ok && read.faults.map((f) => f.field)).toEqual(["width", "frames"]);
  });
});

describe("fingerprints", () => {
  const sources: LookSources = { scene: "aa", files: { "tower.png": "bb" }, engine: "stand-in 1" };
  const prints = (change: Partial<Plan> = {}, pass: Pass = "beauty", from: Partial<LookSources> = {}) =>
    fingerprintsOf({ ...plan, ...change }, { ...sources, ...from }, { camera: "main", pass }, "1");
  const base = prints();
  test("more samples is effort, not look", () => {
    const more = prints({ samples: 64 });
    expect([more.look === base.look, more.effort === base.effort]).toEqual([true, false]);
  });
  test("name, digits and frames are in none", () =>
    expect(prints({ namePattern: "x.{frame}", digits: 6, frames: "1-20" })).toEqual(base));
  test("format and compression are the file's alone", () => {
    const linear = prints({ file: { kind: "exr", depth: "half", compression: "zip" } });
    expect([linear.look === base.look, linear.effort === base.effort, linear.file === base.file]).toEqual([
      true,
      true,
      false,
    ]);
  });
  test.each<Partial<LookSources>>([
    { scene: "ab" },
    { files: { "tower.png": null } },
    { engine: "stand-in 2" },
  ])("%p changes the look", (change) => expect(prints({}, "beauty", change).look).not.toBe(base.look));
  test("every camera and every pass has a look of its own", () => {
    const looks = [
      base.look,
      prints({}, "depth").look,
      fingerprintsOf(plan, sources, { camera: "side", pass: "beauty" }, "1").look,
    ];
    expect(new Set(looks).size).toBe(3);
  });
  test("another denoiser makes the denoised twin stale, and nothing else", () => {
    const of = (pass: Pass, denoiser: string): string =>
      fingerprintsOf(plan, sources, { camera: "main", pass }, denoiser).look;
    expect([of("denoised", "1") === of("denoised", "2"), of("beauty", "1") === of("beauty", "2")]).toEqual([
      false,
      true,
    ]);
  });
  test("distances do not depend on shading or textures", () => {
    expect(prints({ shading: "direct" }, "depth").look).toBe(prints({}, "depth").look);
    expect(prints({}, "normal", { files: {} }).look).toBe(prints({}, "normal").look);
    expect(prints({ shading: "direct" }).look).not.toBe(base.look);
  });
  test("the canonical form does not depend on the order of keys", () =>
    expect(canonicalJson({ b: [1, { d: null, c: "x" }], a: true })).toBe(
      '{"a":true,"b":[1,{"c":"x","d":null}]}',
    ));
});

describe("passes that a change would put out of date", () => {
  const four: Plan = { ...plan, passes: ["beauty", "denoised", "depth", "normal", "direct"] };
  test.each<[string, Partial<Plan>, Pass[]]>([
    [
      "the shading: not the geometry, and not the direct light",
      { shading: "direct" },
      ["beauty", "denoised"],
    ],
    ["the seed: all", { seed: 2 }, ["beauty", "denoised", "depth", "normal", "direct"]],
    ["more samples: none, that is refining", { samples: 64 }, []],
    ["one more pass: none", { passes: [...four.passes, "albedo"] }, []],
    ["the name: none", { digits: 5 }, []],
    ["the scale: all", { scale: 50 }, ["beauty", "denoised", "depth", "normal", "direct"]],
  ])("%s", (_name, change, stale) => expect(passesMadeStale(four, { ...four, ...change })).toEqual(stale));
});

describe("what a run renders", () => {
  const tally = deriveTally({
    ...NO_FACTS,
    asked: rangeSet(1, 10),
    files: rangeSet(1, 6),
    rejected: setOf([2]),
    otherLook: setOf([3]),
    unlooked: setOf([4]),
    lastAttemptFailed: setOf([8]),
    waiting: setOf([9]),
    rendering: setOf([6]),
  });
  test.each<[Policy, string, [string, string][]]>([
    [
      "fill",
      "7-8,10",
      [
        ["good", "1,5"],
        ["flagged", "2"],
        ["stale", "3"],
        ["unchecked", "4"],
        ["in-a-run", "6,9"],
      ],
    ],
    [
      "mend",
      "2-3,7-8,10",
      [
        ["good", "1,5"],
        ["unchecked", "4"],
        ["in-a-run", "6,9"],
      ],
    ],
    ["all", "1-5,7-8,10", [["in-a-run", "6,9"]]],
  ])("%s", (policy, rendered, kept) => {
    const decision = framesToRender(tally, rangeSet(1, 12), policy);
    expect(formatPhrase(decision.toRender)).toBe(rendered);
    expect(decision.keep.map((k) => [k.reason, formatPhrase(k.frames)])).toEqual(kept);
    expect(formatPhrase(decision.notAsked)).toBe("11-12");
  });
});

test("what changed between two plans is told field by field", () =>
  expect(changedFields(plan, { ...plan, samples: 8, digits: 5 })).toEqual(["samples", "digits"]));

test("each frame is asked for once, with the passes that need it", () => {
  const parts = sharePasses([
    { pass: "beauty", toRender: rangeSet(1, 6) },
    { pass: "depth", toRender: rangeSet(4, 9) },
    { pass: "normal", toRender: setOf([5, 20]) },
  ]);
  expect(parts.map((p) => [p.passes.join("+"), formatPhrase(p.frames)]).sort()).toEqual(
    [
      ["beauty", "1-3"],
      ["beauty+depth", "4,6"],
      ["beauty+depth+normal", "5"],
      ["depth", "7-9"],
      ["normal", "20"],
    ].sort(),
  );
});
