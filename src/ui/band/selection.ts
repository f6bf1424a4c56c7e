/** What a gesture on the band does to the selection. Pure; mouse and keys share it. */
import { difference, type FrameSet, has, intersection, rangeSet, union } from "@/core/frames/frame-set";

/** Plain picks anew, `extend` goes on from the anchor, `toggle` adds or takes away. */
export type Gesture = "plain" | "extend" | "toggle";

export interface Picked {
  /** Frames of the band only. */
  readonly selection: FrameSet;
  /** Where the next `extend` goes on from. */
  readonly anchor: number;
}

/** The keys that are held, as every list does it: Shift up to here, Ctrl or Cmd one more. */
export const gestureOf = (event: {
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
}): Gesture => (event.shiftKey ? "extend" : event.ctrlKey || event.metaKey ? "toggle" : "plain");

/** A gesture that begins at `from` and has reached `to` (the same frame for a click).
 * @param shown  every frame on the band; only these can be picked
 * @param before the selection before the gesture began
 * @param anchor of the gesture before, or null
 */
export function pick(
  shown: FrameSet,
  before: FrameSet,
  anchor: number | null,
  gesture: Gesture,
  from: number,
  to: number,
): Picked {
  const start = gesture === "extend" && anchor !== null ? anchor : from;
  const stretch = intersection(shown, rangeSet(Math.min(start, to), Math.max(start, to)));
  if (gesture !== "toggle") return { selection: stretch, anchor: start };
  return {
    selection: has(before, from) ? difference(before, stretch) : union(before, stretch),
    anchor: from,
  };
}
