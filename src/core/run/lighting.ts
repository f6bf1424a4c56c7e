/**
 * Which frames of a lighting cache a frame reads. Caches lie at the multiples of the step, whatever a
 * run's own frames are: a frame reads the same two caches in every run, and its picture depends on
 * nothing but itself.
 */
import { type FrameSet, members, setOf } from "../frames/frame-set";

export interface LightingBracket {
  readonly before: number;
  readonly after: number;
  /** Of the later one, 0 to 1. */
  readonly share: number;
}

/** The caches at a frame or to both sides of it. */
export function lightingBracket(frame: number, every: number): LightingBracket {
  const before = Math.floor(frame / every) * every;
  return before === frame
    ? { before, after: frame, share: 0 }
    : { before, after: before + every, share: (frame - before) / every };
}

/** Frames at which a lighting cache must be there for these frames. */
export function lightingFrames(frames: FrameSet, every: number): FrameSet {
  const needed = new Set<number>();
  for (const frame of members(frames)) {
    const { before, after } = lightingBracket(frame, every);
    needed.add(before);
    needed.add(after);
  }
  return setOf(needed);
}

/** Lighting caches that an attempt made itself: the first part of a run makes one each, a frame those that it misses. */
export interface LightingWork {
  readonly made: number;
  readonly seconds: number;
}

export const NO_LIGHTING: LightingWork = { made: 0, seconds: 0 };
