/** The plan that a new shot begins with, and what becomes of a plan when the shot's time line changes. */
import { formatPhrase, parsePhrase } from "../frames/phrase";
import { rangeSet } from "../frames/frame-set";
import type { Rate } from "../timing/rate";
import { type Plan, PLAN_DEFAULTS } from "./plan";
import type { PresetSettings } from "./preset";

export interface NewPlanWish {
  /** Relative to the project's folder. */
  readonly scene: string;
  readonly renderer: string;
  readonly cameras: readonly string[];
  /** Of the time line, both inclusive. */
  readonly firstFrame: number;
  readonly lastFrame: number;
}

/** Cameras and passes that one name would hide behind another get a token each. */
function patternFor(pattern: string, cameras: number, passes: number): string {
  const missing = [
    ...(cameras > 1 && !pattern.includes("{camera}") ? ["{camera}"] : []),
    ...(passes > 1 && !pattern.includes("{pass}") ? ["{pass}"] : []),
  ];
  if (missing.length === 0) return pattern;
  const added = missing.map((token) => `_${token}`).join("");
  const frame = /\.?(\{frame\}|#+|%0?\d*d)/.exec(pattern);
  return frame === null
    ? pattern + added
    : pattern.slice(0, frame.index) + added + pattern.slice(frame.index);
}

/** All of the time line, at the project's rate, with what the project says of new plans. */
export function newPlan(wish: NewPlanWish, rate: Rate, defaults: PresetSettings): Plan {
  const { scene, renderer, cameras, firstFrame, lastFrame } = wish;
  const settings = { ...PLAN_DEFAULTS, ...defaults };
  const signs = (frame: number): number => String(Math.abs(frame)).length;
  return {
    ...settings,
    scene,
    renderer,
    cameras,
    frames: formatPhrase(rangeSet(firstFrame, lastFrame)),
    timeLine: { first: firstFrame, last: lastFrame, rate },
    rate,
    namePattern: patternFor(settings.namePattern, cameras.length, settings.passes.length),
    digits: Math.max(settings.digits, signs(firstFrame), signs(lastFrame)),
  };
}

/** A plan that asked for all of the time line asks for all of the new one; any other keeps its frames. */
export function followTimeLine(plan: Plan, first: number, last: number): Plan {
  const read = parsePhrase(plan.frames);
  const { offset, timeLine } = plan;
  const all = rangeSet(timeLine.first + offset, timeLine.last + offset);
  const asksForAll = read.ok && formatPhrase(read.set) === formatPhrase(all);
  return {
    ...plan,
    timeLine: { ...timeLine, first, last },
    frames: asksForAll ? formatPhrase(rangeSet(first + offset, last + offset)) : plan.frames,
  };
}
