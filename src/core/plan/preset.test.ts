import { type Plan, PLAN_DEFAULTS, readPlan } from "./plan";
import { applyPreset, presetFaults, presetOf, SHIPPED_PRESETS } from "./preset";

const rate = { numerator: 24, denominator: 1 };
const plan: Plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/a.json",
  cameras: ["main"],
  frames: "1-24",
  timeLine: { first: 1, last: 24, rate },
  rate,
};

test("four come along, and each is sound on a plain plan", () => {
  expect(SHIPPED_PRESETS.map((p) => p.name)).toEqual([
    "Moving rough",
    "Small proof",
    "Overnight final",
    "Linear final with passes",
  ]);
  for (const { settings } of SHIPPED_PRESETS)
    expect([presetFaults(settings, plan), readPlan(applyPreset(plan, settings)).ok]).toEqual([[], true]);
});

test("what a preset keeps says nothing of the shot, and comes back as it was", () => {
  const other: Plan = { ...plan, scene: "scenes/b.json", frames: "5-9", samples: 9 };
  const kept = presetOf({ ...plan, samples: 77, filter: { kind: "mitchell", radius: 2 } });
  expect(Object.keys(kept)).not.toEqual(expect.arrayContaining(["scene"]));
  expect(applyPreset(other, kept)).toEqual({
    ...other,
    samples: 77,
    filter: { kind: "mitchell", radius: 2 },
  });
});

test("a preset whose values cannot be is told by its own fields, not by others of the plan", () =>
  expect(presetFaults({ samples: 0 }, { ...plan, frames: "9-1" }).map((f) => f.field)).toEqual(["samples"]));
