import { type Plan, PLAN_DEFAULTS, readPlan } from "./plan";
import { finalOf, roughOf } from "./rough";

const rate = { numerator: 30, denominator: 1 };
const plan: Plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/a.json",
  cameras: ["main"],
  frames: "1-150",
  timeLine: { first: 1, last: 150, rate },
  rate,
  samples: 256,
  passes: ["beauty", "depth"],
  alpha: "straight",
};

test("a rough plan is sound, small, quick, and at a lower rate lasts as long: 150 at 30 are 50 at 10", () => {
  const rough = roughOf(plan, { numerator: 10, denominator: 1 });
  expect(readPlan(rough).ok).toBe(true);
  expect(rough).toMatchObject({
    frames: "1-50",
    shading: "direct",
    scale: 50,
    passes: ["beauty"],
    alpha: "none",
  });
});

test("a range keeps its end beside its step, and frames outside the time line keep their numbers", () => {
  expect(roughOf({ ...plan, frames: "1-150/4" }).frames).toBe("1-150/4");
  const timeLine = { first: 1001, last: 1024, rate: { numerator: 24, denominator: 1 } };
  const outside = { ...plan, frames: "0-23", timeLine, rate: timeLine.rate };
  expect(roughOf(outside, { numerator: 10, denominator: 1 }).frames).toBe("0-9");
  const inside = { ...outside, frames: "1001-1024" };
  expect(roughOf(inside, { numerator: 10, denominator: 1 }).frames).toBe("1001-1010");
});

test("making it final puts the rough settings back, takes over what was decided meanwhile, and lists both", () => {
  const rough: Plan = { ...roughOf(plan), cameras: ["side"], samples: 4 };
  const made = finalOf(rough, plan);
  expect(made.plan).toEqual({ ...plan, cameras: ["side"] });
  expect([...made.putBack].sort()).toEqual(["alpha", "file", "passes", "samples", "scale", "shading"]);
  expect(made.takenOver).toEqual(["cameras"]);
});
