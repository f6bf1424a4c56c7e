/**
 * A fixed split of frames over machines that are not connected: by range, or by named stretches.
 * Shares never overlap and together are all of the frames: who renders what is fixed, since nobody can ask.
 */
import { difference, EMPTY, type FrameSet, intersection, memberAt, within } from "../frames/frame-set";

/**
 * Stretches of nearly equal length, one after the other; the first ones take what does not divide. Empty ones
 * are left out.
 */
export function splitByRange(frames: FrameSet, machines: number): FrameSet[] {
  const parts: FrameSet[] = [];
  for (let i = 0, from = 0; i < machines; i++) {
    const size = Math.floor(frames.count / machines) + (i < frames.count % machines ? 1 : 0);
    if (size > 0) parts.push(within(frames, memberAt(frames, from)!, memberAt(frames, from + size - 1)!));
    from += size;
  }
  return parts;
}

/**
 * One part a stretch, in their order; a frame of two goes with the first, and what lies in none makes a part
 * of its own. Empty ones are left out.
 */
export function splitByStretches(frames: FrameSet, stretches: readonly FrameSet[]): FrameSet[] {
  let left = frames;
  const parts = stretches.map((stretch) => {
    const part = intersection(left, stretch);
    left = difference(left, part);
    return part;
  });
  return [...parts, left].filter((part) => part.count > 0);
}

/** Frames that two parts name both; empty when the parts are apart. */
export function overlapOf(parts: readonly FrameSet[]): FrameSet {
  for (const [i, part] of parts.entries()) {
    for (const other of parts.slice(0, i)) {
      const both = intersection(part, other);
      if (both.count > 0) return both;
    }
  }
  return EMPTY;
}
