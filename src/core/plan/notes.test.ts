import { formatPhrase } from "../frames/phrase";
import { planNotes } from "./notes";
import { type Plan, PLAN_DEFAULTS, type Purpose, readPlan } from "./plan";
import { scaledSize } from "./picture";
import type { Rate } from "../timing/rate";

const rate = { numerator: 24, denominator: 1 };
const plan: Plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/a.json",
  cameras: ["main"],
  frames: "1001-1096",
  timeLine: { first: 1001, last: 1096, rate },
  rate,
  passes: ["beauty", "denoised"],
};
const markers = [{ name: "storm", first: 1040, end: 1060 }];
const notes = (change: Partial<Plan> = {}, purpose: Purpose = "final", sceneRate: Rate | null = null) => {
  const read = readPlan({ ...plan, ...change });
  if (!read.ok) throw new Error(read.faults[0]!.message);
  return planNotes(read.value, purpose, markers, sceneRate);
};

test("a clean final plan has no note", () => expect(notes()).toEqual([]));

test.each<[string, Partial<Plan>, object]>([
  ["a step", { frames: "1001-1095/2" }, { code: "step", step: 2 }],
  ["one frame only", { frames: "1001" }, { code: "one-frame" }],
  ["quick shading", { shading: "direct" }, { code: "quick-shading", shading: "direct" }],
  ["a scale", { scale: 50 }, { code: "scaled", scale: 50, width: 960, height: 540 }],
  ["few samples", { samples: 2 }, { code: "few-samples", samples: 2 }],
  ["no denoising", { passes: ["beauty"] }, { code: "not-denoised", samples: 64 }],
  [
    "another rate",
    { rate: { numerator: 12, denominator: 1 }, frames: "1001-1048" },
    { code: "other-rate", frames: 48, atOwnRate: 96 },
  ],
])("%s is named in a final plan and fine in a rough one", (_what, change, note) => {
  expect(notes(change)).toEqual([expect.objectContaining(note)]);
  expect(notes(change, "rough")).toEqual([]);
});

test("markers switched off and frames outside the time line are named in any plan", () => {
  expect(notes({ markersOff: ["storm", "gone"] }, "rough")).toEqual([
    { code: "marker-off", names: ["storm"] },
  ]);
  const [outside] = notes({ frames: "990-1100" }, "rough");
  expect(
    outside?.code === "outside-time-line" && [formatPhrase(outside.frames), formatPhrase(outside.inside)],
  ).toEqual(["990-1000,1097-1100", "1001-1096"]);
});

test("every n-th and back keeps the range that was written", () => {
  const [step] = notes({ frames: "1001-1096/2" });
  expect(step?.code === "step" && [step.step, formatPhrase(step.full)]).toEqual([2, "1001-1096"]);
});

test("a scene that was made for another rate is told, and one click takes it for what it is", () => {
  const [pal, film] = [25, 24].map((numerator) => ({ numerator, denominator: 1 }));
  expect(notes({}, "final", film)).toEqual([]);
  const [note] = notes({}, "final", pal);
  expect(note).toMatchObject({ code: "scene-rate", scene: pal, taken: film });
  const mended = { ...plan, ...(note?.code === "scene-rate" ? note.mend : {}) };
  expect([mended.rate, mended.timeLine]).toEqual([pal, { first: 1001, last: 1096, rate: pal }]);
  expect(notes(mended, "final", pal)).toEqual([]);
});

test.each([
  [1919, 1081, 100],
  [1366, 769, 50],
  [1000, 1000, 33],
])("an odd size %p x %p at %p %% has a mend that is even", (width, height, scale) => {
  const odd = notes({ width, height, scale }, "rough").find((n) => n.code === "odd-size");
  if (odd === undefined)
    return expect([
      scaledSize({ width, height, scale }).width % 2,
      scaledSize({ width, height, scale }).height % 2,
    ]).toEqual([0, 0]);
  const mended = scaledSize({ ...odd.mend, scale });
  expect([
    mended.width % 2,
    mended.height % 2,
    mended.width >= odd.width,
    mended.height >= odd.height,
  ]).toEqual([0, 0, true, true]);
});
