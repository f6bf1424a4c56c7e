/**
 * What follows from a plan of 100,000 frames, as at every keystroke: reading it, its names, hazards, notes,
 * staleness.
 */
import { median } from "@/core/many";
import { consequencesOf } from "@/core/plan/consequences";
import { passesMadeStale } from "@/core/plan/fingerprint";
import { changedFields, type Plan, PLAN_DEFAULTS, readPlan } from "@/core/plan/plan";
import { rangeSet } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { type Measured, rounded, timeEach } from "./measured";

const FRAMES = 100_000;
const TIMES = 60;
const LIMIT_MS = 50;

export function planKeystroke(): Measured {
  const rate = { numerator: 24, denominator: 1 };
  // Frames that were patched here and there: 2,000 runs, not one.
  const phrase = Array.from({ length: 2_000 }, (_, i) => `${i * 50 + 1}-${i * 50 + 49}`).join(",");
  const plan: Plan = {
    ...PLAN_DEFAULTS,
    scene: "scenes/a.json",
    cameras: ["main", "side"],
    frames: phrase,
    timeLine: { first: 1, last: FRAMES, rate },
    rate,
    passes: ["beauty", "denoised", "depth", "normal"],
    digits: 6,
  };
  const files = rangeSet(1, FRAMES / 2);
  const markers = Array.from({ length: 20 }, (_, i) => ({
    name: `part ${i}`,
    first: i * 5_000 + 1,
    end: (i + 1) * 5_000 + 1,
  }));
  let typed = 0;
  const work = (): void => {
    const next: Plan = { ...plan, samples: 16 + (typed++ % 64) };
    const read = readPlan(next);
    if (!read.ok) throw new Error(read.faults[0]!.message);
    consequencesOf(read.value, {
      sceneRate: null,
      namedProject: "film",
      namedShot: "S010",
      version: 1,
      purpose: "final",
      markers,
      files,
    });
    changedFields(plan, next);
    passesMadeStale(plan, next);
  };
  timeEach(10, work);
  const value = median(timeEach(TIMES, work));
  const yardstick = median(timeEach(TIMES, () => void parsePhrase(phrase)));
  return {
    name: "plan-keystroke",
    value: rounded(value),
    unit: "ms",
    yardstick: rounded(yardstick),
    ratio: rounded(value / yardstick),
    goal: `all that follows from a plan of 100,000 frames in 2,000 runs under ${LIMIT_MS} ms (yardstick: reading its phrase alone)`,
    holds: value < LIMIT_MS,
  };
}
