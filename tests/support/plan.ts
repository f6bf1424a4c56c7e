/** The plan that tests begin with: small, quick, one camera, one pass. */
import { type Plan, PLAN_DEFAULTS } from "@/core/plan/plan";

export const RATE = { numerator: 24, denominator: 1 };
export const PLAN: Plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/test.json",
  cameras: ["main"],
  frames: "1-8",
  timeLine: { first: 1, last: 24, rate: RATE },
  rate: RATE,
  width: 48,
  height: 27,
  samples: 4,
  namePattern: "{shot}.{frame}",
};
