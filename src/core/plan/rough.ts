/** Rough runs: what makes a plan quick, and what puts everything back. */
import { formatPhrase, parsePhrase } from "../frames/phrase";
import { DEFAULT_FILE } from "../image/file-format";
import { changedFields, type Plan } from "./plan";
import { retimeFrames } from "./scene-time";
import type { Rate } from "../timing/rate";

/**
 * Settings that a rough run turns down; making it final puts them back. The rest is decided once, for both.
 */
const ROUGH_FIELDS = [
  "frames",
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

/** @param rate another rate keeps the duration: 150 frames at 30 are 50 at 10 */
export function roughOf(plan: Plan, rate: Rate = plan.rate): Plan {
  const asked = parsePhrase(plan.frames);
  return {
    ...plan,
    ...QUICK,
    rate,
    frames: asked.ok ? formatPhrase(retimeFrames(asked.set, plan, { ...plan, rate })) : plan.frames,
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
