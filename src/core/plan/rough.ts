/** Rough runs: what makes a plan quick, and what puts everything back. */
import { firstOf, lastOf } from "../frames/frame-set";
import { parsePhrase } from "../frames/phrase";
import { DEFAULT_FILE } from "../image/file-format";
import type { Shading } from "./picture";
import { changedFields, type Plan } from "./plan";
import { outsideTimeLine, retimePhrase, sceneTime, type TimeLine } from "./scene-time";
import type { Rate } from "../timing/rate";

/**
 * Settings that a rough run turns down; making it final puts them back. The rest is decided once, for both.
 */
const ROUGH_FIELDS = [
  "frames",
  "timeLine",
  "rate",
  "shading",
  "scale",
  "samples",
  "minSamples",
  "noiseTarget",
  "timeLimit",
  "sampling",
  "keepSamples",
  "passes",
  "file",
  "alpha",
  "filter",
  "dither",
] as const satisfies readonly (keyof Plan)[];

/** Quick settings: light over one surface, half the size, two samples, small files. */
const QUICK = {
  shading: "direct",
  scale: 50,
  samples: 2,
  minSamples: 1,
  noiseTarget: null,
  timeLimit: null,
  sampling: "rounds",
  keepSamples: false,
  passes: ["beauty"],
  file: DEFAULT_FILE.jpeg,
  alpha: "none",
} as const satisfies Partial<Plan>;

/**
 * Numbers at another rate are counted from the time line's first frame. Frames that lie wholly outside of it are
 * counted from their own: a scene of 0-23 must not be numbered from the shot's 1001 backwards.
 */
function timeLineOf(plan: Plan): TimeLine {
  const asked = parsePhrase(plan.frames);
  const [first, last] = asked.ok ? [firstOf(asked.set), lastOf(asked.set)] : [null, null];
  if (!asked.ok || first === null || last === null) return plan.timeLine;
  if (outsideTimeLine(asked.set, plan).count < asked.set.count) return plan.timeLine;
  return {
    ...plan.timeLine,
    first: Math.floor(sceneTime(plan, first)),
    last: Math.ceil(sceneTime(plan, last)),
  };
}

/** @param rate another rate keeps the duration: 150 frames at 30 are 50 at 10 */
export function roughOf(plan: Plan, rate: Rate = plan.rate, shading: Shading = QUICK.shading): Plan {
  const timeLine = timeLineOf(plan);
  const from = { ...plan, timeLine };
  return {
    ...plan,
    ...QUICK,
    shading,
    timeLine,
    rate,
    frames: retimePhrase(plan.frames, from, { ...from, rate }),
  };
}

/** What a rough hands on to its final, and what goes back. */
export interface MadeFinal {
  /** The origin with what was decided in the rough plan. */
  readonly plan: Plan;
  /** Rough settings that went back to the origin's. */
  readonly putBack: readonly (keyof Plan)[];
  /** What the rough plan decided anew and the final one takes over. */
  readonly takenOver: readonly (keyof Plan)[];
}

/** @param origin the plan that the rough one was made from */
export function finalOf(rough: Plan, origin: Plan): MadeFinal {
  const differ = changedFields(origin, rough);
  const isRough = (field: keyof Plan): boolean => (ROUGH_FIELDS as readonly string[]).includes(field);
  const takenOver = differ.filter((field) => !isRough(field));
  return {
    plan: { ...origin, ...Object.fromEntries(takenOver.map((field) => [field, rough[field]])) },
    putBack: differ.filter(isRough),
    takenOver,
  };
}
