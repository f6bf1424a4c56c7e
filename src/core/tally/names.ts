/**
 * The names that a frame phrase may use beside a shot, resolved from its tally.
 * A name means what it means at this moment: `missing` of a running shot is another set a minute later.
 */
import {
  difference,
  EMPTY,
  firstOf,
  type FrameSet,
  lastOf,
  memberAt,
  rangeSet,
  union,
  unionAll,
} from "../frames/frame-set";
import type { NameResolver } from "../frames/phrase";
import { numbersOfStretch, type Timing } from "../plan/scene-time";
import { ACTIVITIES, RESULTS, type Tally, todoOf } from "./tally";

export interface NameSources {
  /** As it is now. */
  readonly tally: Tally;
  /** Frames of each named stretch of the shot; half-open stretches already cut to frames. */
  readonly markers: Readonly<Record<string, FrameSet>>;
  /** Frames whose file each node made. */
  readonly nodes: Readonly<Record<string, FrameSet>>;
}

/** As a set, for what is one frame. */
const single = (frame: number | null): FrameSet => (frame === null ? EMPTY : rangeSet(frame, frame));

/** `marker(NAME)` alone: what a plan that is being written may say of its shot. */
export const stretchNames =
  (markers: Readonly<Record<string, FrameSet>>): NameResolver =>
  (name, argument) =>
    name === "marker" && argument !== null && Object.hasOwn(markers, argument) ? markers[argument]! : null;

/** Names as the tally has them now: `failed` is another set tomorrow. null for a name that is none. */
export function phraseNames({ tally, markers, nodes }: NameSources): NameResolver {
  return (name, argument) => {
    if (argument !== null) {
      if (name === "marker") return stretchNames(markers)(name, argument);
      if (name === "node") return nodes[argument] ?? null;
      return null;
    }
    const result = RESULTS.find((r) => r === name);
    if (result !== undefined) return tally.results[result];
    const activity = ACTIVITIES.find((a) => a === name);
    if (activity !== undefined) return tally.activities[activity];
    switch (name) {
      case "all":
        return tally.asked;
      case "first":
        return single(firstOf(tally.asked));
      case "last":
        return single(lastOf(tally.asked));
      case "middle":
        return single(middleFrame(tally.asked));
      case "todo":
        return todoOf(tally);
      case "idle":
        return idleOf(tally);
      default:
        return null;
    }
  };
}

/** File numbers of named stretches. They are half-open, so that neighbours share no frame. */
export const markerSets = (
  markers: readonly { readonly name: string; readonly first: number; readonly end: number }[],
  timing: Timing,
): Record<string, FrameSet> =>
  Object.fromEntries(markers.map((m) => [m.name, numbersOfStretch(timing, m.first, m.end - 1)]));

/** The member halfway: of an even number the earlier of the two. */
export const middleFrame = (set: FrameSet): number | null => memberAt(set, Math.floor((set.count - 1) / 2));

/** Frames of the sequence that nothing goes on with. */
function idleOf(tally: Tally): FrameSet {
  const busy = unionAll(Object.values(tally.activities));
  return difference(union(tally.asked, tally.results.extra), busy);
}
