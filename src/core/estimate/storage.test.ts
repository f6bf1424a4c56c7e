import { type Plan, PLAN_DEFAULTS } from "../plan/plan";
import { planCheckpointBytes } from "../run/checkpoint";
import { storageNeed } from "./storage";

const rate = { numerator: 24, denominator: 1 };
const plan: Plan = {
  ...PLAN_DEFAULTS,
  ...{ scene: "a.json", cameras: ["main", "side"], frames: "1-10", width: 64, height: 36 },
  timeLine: { first: 1, last: 10, rate },
  rate,
  passes: ["beauty", "depth"],
  checkpoints: { kind: "never" },
};

test("files by what files like them took, else by format and size; every camera has its own", () => {
  const need = storageNeed(plan, 10, 2, new Map([["beauty", 1_000]]));
  expect(need.parts[0]).toEqual({ pass: "beauty", bytes: 20_000, isMeasured: true });
  expect(need.parts[1]).toMatchObject({ pass: "depth", isMeasured: false });
  expect(need).toMatchObject({ saved: 0, total: 20_000 + need.parts[1]!.bytes });
});

test("kept samples lie beside every frame, others beside those in work", () => {
  const one = planCheckpointBytes(plan);
  const saved = (change: Partial<Plan>): number =>
    storageNeed({ ...plan, ...change }, 10, 3, new Map()).saved;
  expect(saved({ keepSamples: true })).toBe(20 * one);
  expect(saved({ checkpoints: { kind: "on-stop" } })).toBe(3 * one);
});
