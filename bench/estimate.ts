/**
 * Estimate and list schedule of 10,000 frames on 50 nodes; the yardstick is the bare sum over the same costs.
 */
import { median } from "@/core/many";
import { costModel, type CostSample, frameCosts } from "@/core/estimate/cost-model";
import { estimateRun } from "@/core/estimate/estimate";
import { STAND_IN } from "@/core/plan/renderer";
import { rangeSet } from "@/core/frames/frame-set";
import { type Measured, rounded, timeEach } from "./measured";

const FRAMES = 10_000;
const NODES = 50;
const TIMES = 60;
const LIMIT_MS = 50;
const PLAN = { renderer: STAND_IN };

export function estimate(): Measured {
  const samples = Array.from({ length: 400 }, (_, i): CostSample => ({
    frame: 1 + i * 25,
    node: `node-${i % NODES}`,
    pixels: 2_073_600,
    samples: 64,
    startupSeconds: 1,
    renderSeconds: 60 + 20 * Math.sin(i / 40) + (i % 7),
    denoiseSeconds: 4,
    writeSeconds: 0.5,
    otherLoad: 0,
    cpuShare: 1,
  }));
  const target = { pixels: 2_073_600, samples: 128, isDenoised: true, timeLimit: null };
  const frames = rangeSet(1, FRAMES);
  const speeds = Array.from({ length: NODES }, (_, i) => 0.7 + (i % 7) / 10);
  const work = (): void =>
    void estimateRun(costModel(samples, PLAN)!, {
      frames,
      cameras: 1,
      lighting: null,
      target,
      speeds,
      lostShare: 0.02,
    });
  timeEach(10, work);
  const value = median(timeEach(TIMES, work));
  const model = costModel(samples, PLAN)!;
  const yardstick = median(
    timeEach(TIMES, () => void frameCosts(model, frames, target).render.reduce((a, b) => a + b, 0)),
  );
  return {
    name: "estimate",
    value: rounded(value),
    unit: "ms",
    yardstick: rounded(yardstick),
    ratio: rounded(value / yardstick),
    goal: `model, costs and schedule of 10,000 frames on 50 nodes under ${LIMIT_MS} ms (yardstick: the costs alone, summed up)`,
    holds: value < LIMIT_MS,
  };
}
