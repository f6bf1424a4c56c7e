/**
 * Which frames of gathered light a frame reads. Caches lie at the multiples of the step, whatever a
 * run's own frames are: a frame reads the same two caches in every run, and its picture depends on
 * nothing but itself.
 */
import { type FrameSet, members, setOf } from "../frames/frame-set";

export interface LightBracket {
  /** Scene frame of the cache at or before the frame. */
  readonly before: number;
  /** The next one; the same where the frame lies on one. */
  readonly after: number;
  /** Of the later one, 0 to 1. */
  readonly share: number;
}

/** The caches at a frame or to both sides of it. */
export function lightBracket(frame: number, every: number): LightBracket {
  const before = Math.floor(frame / every) * every;
  return before === frame
    ? { before, after: frame, share: 0 }
    : { before, after: before + every, share: (frame - before) / every };
}

/** Frames at which gathered light must be there for these frames. */
export function lightFrames(frames: FrameSet, every: number): FrameSet {
  const needed = new Set<number>();
  for (const frame of members(frames)) {
    const { before, after } = lightBracket(frame, every);
    needed.add(before);
    needed.add(after);
  }
  return setOf(needed);
}

/**
 * Gathered light that an attempt made itself: the first part of a run makes one each, a frame those that it
 * misses.
 */
export interface GatherWork {
  /** Frames of light that were gathered. */
  readonly made: number;
  /** That it took. */
  readonly seconds: number;
}

/** A run whose scene asks for none, or has all of it. */
export const NO_GATHER: GatherWork = { made: 0, seconds: 0 };
