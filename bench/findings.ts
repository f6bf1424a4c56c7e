/** What is odd in a shot of 10,000 frames after a change of threshold: nothing is measured, and no file opened. */
import { EMPTY } from "@/core/frames/frame-set";
import { median } from "@/core/many";
import { type MeasuredFrame, USUAL_THRESHOLDS } from "@/core/odd/odd";
import { stepTo } from "@/core/odd/change";
import { oddOnes } from "@/core/odd/odd-ones";
import { profileOf } from "@/core/odd/profile";
import { measuredShot } from "../tests/support/messes/score";
import { syntheticShot } from "../tests/support/messes/synthetic-shot";
import { type Measured, rounded } from "./measured";

const FRAMES = 10_000;
const SHOTS = 4;
const ROUNDS = 9;
const GOAL_MS = 100;

/** Synthetic shots one after the other, again and again. */
function longShot(): readonly MeasuredFrame[] {
  const some = Array.from({ length: SHOTS }, (_, i) => measuredShot(syntheticShot(i + 1))).flat();
  return Array.from({ length: FRAMES }, (_, i) => ({
    ...some[i % some.length]!,
    frame: i + 1,
    content: `${i}`,
  }));
}

const timed = (work: () => unknown): number => {
  const from = performance.now();
  work();
  return performance.now() - from;
};

export function findings(): Measured {
  const frames = longShot();
  const profile = profileOf(frames);
  const sketches = frames.map((frame) => frame.sketch);
  const [changed, plain]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++) {
    const thresholds = { ...USUAL_THRESHOLDS, change: USUAL_THRESHOLDS.change + round / 10 };
    changed.push(timed(() => oddOnes(profile, thresholds, { flashes: EMPTY, holds: EMPTY })));
    plain.push(timed(() => sketches.map((sketch, i) => stepTo(sketches[Math.max(0, i - 1)]!, sketch))));
  }
  const [value, yardstick] = [median(changed), median(plain)];
  return {
    name: "findings",
    value: rounded(value),
    unit: "ms",
    yardstick: rounded(yardstick),
    ratio: rounded(value / yardstick),
    goal: `under ${GOAL_MS} ms for ${FRAMES} frames (yardstick: all of them compared once, block by block, with the frame before)`,
    holds: value < GOAL_MS,
  };
}
