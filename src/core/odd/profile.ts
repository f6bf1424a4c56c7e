/**
 * A sequence as it runs: how it changes from frame to frame, and what is usual around each. All of it is worked out
 * once for the files that are there; a change of threshold asks it again, and works nothing of it out anew.
 */
import { median } from "../many";
import { meanOf, stepTo } from "./change";
import type { MeasuredFrame } from "./odd";
import { type Older, olderThanBefore } from "./out-of-order";
import { type Usual, usualAround } from "./sides";
import { type Strikes, strikesOf } from "./strikes";

/** Frames on each side that say how much things move. */
const REACH = 8;

/** Measures that are followed along the shot; null where one is not known. */
export const FOLLOWED = {
  brightness: (f: MeasuredFrame) => f.measures.luminance,
  black: (f: MeasuredFrame) => f.measures.black,
  clipped: (f: MeasuredFrame) => f.measures.clipped,
  noise: (f: MeasuredFrame) => f.measures.noise,
  size: (f: MeasuredFrame) => f.bytes,
  hot: (f: MeasuredFrame) => f.measures.hot,
  seconds: (f: MeasuredFrame) => f.seconds,
  samples: (f: MeasuredFrame) => f.samples,
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
  /** What is usual around each frame; null where too few are near, and of what is not known of the frame. */
  readonly usual: Readonly<Record<Followed, readonly (Usual | null)[]>>;
  readonly older: readonly Older[];
}

const halfOf = (step: Float32Array): number => {
  const sorted = Float32Array.from(step).sort();
  return sorted.length === 0 ? 0 : sorted[sorted.length >> 1]!;
};

function* motionOf(frames: readonly MeasuredFrame[]): Generator<undefined, Motion> {
  const sketches = frames.map((f) => f.sketch);
  const steps: (Float32Array | null)[] = [];
  const means: (number | null)[] = [];
  const halves: (number | null)[] = [];
  for (const [i, sketch] of sketches.entries()) {
    const step = i === 0 ? null : stepTo(sketches[i - 1]!, sketch);
    steps.push(step);
    means.push(step === null ? null : meanOf(step));
    halves.push(step === null ? null : halfOf(step));
    yield;
  }
  const around = (values: readonly (number | null)[], i: number): readonly number[] =>
    values.slice(Math.max(1, i - REACH), i + REACH + 1).filter((v) => v !== null);
  const near = frames.map((_, i) => around(means, i));
  const moving = near.map((values) => values.filter((v) => v > 0));
  yield;
  return {
    steps,
    means,
    halves,
    strikes: yield* strikesOf(sketches, { steps, wholes: halves.map((half) => half ?? 0) }),
    usualMean: moving.map(median),
    usualHalf: frames.map((_, i) => median(around(halves, i))),
    standing: near.map((values, i) =>
      values.length === 0 ? 0 : (values.length - moving[i]!.length) / values.length,
    ),
  };
}

/** Frames of which it is not known are passed over. */
function* usualOf(
  frames: readonly MeasuredFrame[],
  followed: Followed,
): Generator<undefined, readonly (Usual | null)[]> {
  const values = frames.map(FOLLOWED[followed]);
  const known = values.filter((value) => value !== null);
  const usual: (Usual | null)[] = [];
  let at = 0;
  for (const value of values) {
    usual.push(value === null ? null : usualAround(known, at++));
    yield;
  }
  return usual;
}

/**
 * In slices, so that a server may answer others in between: a frame takes more than half a millisecond.
 * @param frames of one sequence, by number; what lies apart is compared all the same
 */
export function* profiling(frames: readonly MeasuredFrame[]): Generator<undefined, Profile> {
  return {
    frames,
    motion: yield* motionOf(frames),
    usual: {
      brightness: yield* usualOf(frames, "brightness"),
      black: yield* usualOf(frames, "black"),
      clipped: yield* usualOf(frames, "clipped"),
      noise: yield* usualOf(frames, "noise"),
      size: yield* usualOf(frames, "size"),
      hot: yield* usualOf(frames, "hot"),
      seconds: yield* usualOf(frames, "seconds"),
      samples: yield* usualOf(frames, "samples"),
    },
    older: olderThanBefore(frames.map(({ modifiedMs }) => modifiedMs)),
  };
}

/** All of it at once. */
export function profileOf(frames: readonly MeasuredFrame[]): Profile {
  const slices = profiling(frames);
  for (;;) {
    const slice = slices.next();
    if (slice.done === true) return slice.value;
  }
}
