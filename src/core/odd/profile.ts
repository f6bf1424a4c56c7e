/**
 * A sequence as it runs: how it changes from frame to frame, and what is usual around each. All of it is worked out
 * once for the files that are there; a change of threshold asks it again, and works nothing of it out anew.
 */
import { median } from "../many";
import { meanOf, stepsOf } from "./change";
import type { MeasuredFrame } from "./odd";
import { type Usual, usualAround } from "./sides";
import { type Strikes, strikesOf } from "./strikes";

/** Frames on each side that say how much things move. */
const REACH = 8;

/** Measures that are followed along the shot. */
export const FOLLOWED = {
  brightness: (f: MeasuredFrame) => f.measures.luminance,
  black: (f: MeasuredFrame) => f.measures.black,
  clipped: (f: MeasuredFrame) => f.measures.clipped,
  noise: (f: MeasuredFrame) => f.measures.noise,
  size: (f: MeasuredFrame) => f.bytes,
  hot: (f: MeasuredFrame) => f.measures.hot,
} as const;
export type Followed = keyof typeof FOLLOWED;

export interface Motion {
  /** Change of each block that leads to a frame; null where there is none to compare. */
  readonly steps: readonly (Float32Array | null)[];
  /** Of each step the mean, and the median block; null without a step. */
  readonly means: readonly (number | null)[];
  readonly halves: readonly (number | null)[];
  /** Of the steps around each frame: the median mean of those that move, the median half, and the share that stands. */
  readonly usualMean: readonly number[];
  readonly usualHalf: readonly number[];
  readonly standing: readonly number[];
  /** Blocks that change and change back. */
  readonly strikes: Strikes;
}

export interface Profile {
  readonly frames: readonly MeasuredFrame[];
  readonly motion: Motion;
  /** What is usual around each frame; null where too few are near. */
  readonly usual: Readonly<Record<Followed, readonly (Usual | null)[]>>;
  /** Frames whose seconds are known, with what is usual around each. */
  readonly timed: readonly {
    readonly frame: number;
    readonly seconds: number;
    readonly usual: Usual | null;
  }[];
}

const halfOf = (step: Float32Array): number => {
  const sorted = Float32Array.from(step).sort();
  return sorted.length === 0 ? 0 : sorted[sorted.length >> 1]!;
};

function motionOf(frames: readonly MeasuredFrame[]): Motion {
  const sketches = frames.map((f) => f.sketch);
  const steps = stepsOf(sketches);
  const means = steps.map((step) => (step === null ? null : meanOf(step)));
  const halves = steps.map((step) => (step === null ? null : halfOf(step)));
  const around = (values: readonly (number | null)[], i: number): readonly number[] =>
    values.slice(Math.max(1, i - REACH), i + REACH + 1).filter((v) => v !== null);
  const near = frames.map((_, i) => around(means, i));
  const moving = near.map((values) => values.filter((v) => v > 0));
  return {
    steps,
    means,
    halves,
    strikes: strikesOf(sketches, { steps, wholes: halves.map((half) => half ?? 0) }),
    usualMean: moving.map(median),
    usualHalf: frames.map((_, i) => median(around(halves, i))),
    standing: near.map((values, i) =>
      values.length === 0 ? 0 : (values.length - moving[i]!.length) / values.length,
    ),
  };
}

const usualOf = (values: readonly number[]): readonly (Usual | null)[] =>
  values.map((_, i) => usualAround(values, i));

/** @param frames of one sequence, by number; what lies apart is compared all the same */
export function profileOf(frames: readonly MeasuredFrame[]): Profile {
  const timed = frames.flatMap(({ frame, seconds }) => (seconds === null ? [] : [{ frame, seconds }]));
  const usualSeconds = usualOf(timed.map(({ seconds }) => seconds));
  return {
    frames,
    motion: motionOf(frames),
    usual: {
      brightness: usualOf(frames.map(FOLLOWED.brightness)),
      black: usualOf(frames.map(FOLLOWED.black)),
      clipped: usualOf(frames.map(FOLLOWED.clipped)),
      noise: usualOf(frames.map(FOLLOWED.noise)),
      size: usualOf(frames.map(FOLLOWED.size)),
      hot: usualOf(frames.map(FOLLOWED.hot)),
    },
    timed: timed.map((one, i) => ({ ...one, usual: usualSeconds[i]! })),
  };
}
