/**
 * What files that arrive from elsewhere tell of their making: how long a frame takes, how fast they come, when the last
 * will be there, and which empty file is still somebody's claim. Times of change of the files are all there is to go by.
 */
import {
  difference,
  type FrameSet,
  intersection,
  lastOf,
  rangeSet,
  setOf,
  firstOf,
} from "../frames/frame-set";
import { median } from "../many";

/** A file by its time of change. */
export interface Arrival {
  readonly frame: number;
  /** Milliseconds since 1970, as the file system tells it. */
  readonly modifiedMs: number;
  /** From the claim on a frame to its picture; null where none was seen. */
  readonly seconds: number | null;
}

/** Intervals that a pace is told from: fewer say little, more say what was long ago. */
const PACE_OF = 16;
/** A claim holds for so many times what a frame usually takes. */
const CLAIM_FRAMES = 4;
/** And for so long at least: small frames are counted in seconds, and machines pause. */
const CLAIM_AT_LEAST_S = 60;
/** While nothing says what a frame takes. */
const CLAIM_UNKNOWN_S = 1800;
/** Nothing for so many intervals: they no longer come. */
const SILENT_AFTER = 10;

/** Seconds between files that followed one another, oldest first; files of one moment were copied and not made. */
function intervalsOf(arrivals: readonly Arrival[]): number[] {
  const times = arrivals.map((a) => a.modifiedMs).sort((a, b) => a - b);
  return times
    .slice(1)
    .map((time, i) => (time - times[i]!) / 1000)
    .filter((seconds) => seconds > 0);
}

/** Seconds that a frame usually takes elsewhere; null where nothing says. Several machines make it look shorter. */
export function usualSeconds(arrivals: readonly Arrival[]): number | null {
  const known = arrivals.flatMap(({ seconds }) => (seconds === null ? [] : [seconds]));
  const told = known.length > 0 ? known : intervalsOf(arrivals);
  return told.length === 0 ? null : median(told);
}

/** Seconds for which an empty file counts as somebody's claim on its frame. */
export function claimSeconds(arrivals: readonly Arrival[]): number {
  const usual = usualSeconds(arrivals);
  return usual === null ? CLAIM_UNKNOWN_S : Math.max(CLAIM_AT_LEAST_S, CLAIM_FRAMES * usual);
}

/** How frames come in. */
export interface Pace {
  /** From one to the next. */
  readonly everySeconds: number;
  /** The furthest of those that came last. */
  readonly front: number;
  /** Asked frames before it that are not there. */
  readonly behind: FrameSet;
  /** Asked frames that are not there, those before the front too. */
  readonly left: number;
  /** Milliseconds since 1970; null when none is left. */
  readonly finishMs: number | null;
}

/**
 * @param claimed frames that somebody is at: they are left, and no gaps
 * @returns null where too little has come, or nothing any more
 */
export function paceOf(
  arrivals: readonly Arrival[],
  asked: FrameSet,
  claimed: FrameSet,
  nowMs: number,
): Pace | null {
  const newest = [...arrivals].sort((a, b) => a.modifiedMs - b.modifiedMs).slice(-PACE_OF - 1);
  const intervals = intervalsOf(newest);
  const last = newest.at(-1);
  if (intervals.length === 0 || last === undefined) return null;
  const every = median(intervals);
  if (nowMs - last.modifiedMs > SILENT_AFTER * every * 1000) return null;
  const missing = difference(asked, setOf(arrivals.map((a) => a.frame)));
  const front = lastOf(setOf(newest.map((a) => a.frame)))!;
  const first = firstOf(asked);
  const before = first === null || first > front ? setOf([]) : rangeSet(first, front);
  return {
    everySeconds: every,
    front,
    behind: difference(intersection(missing, before), claimed),
    left: missing.count,
    finishMs: missing.count === 0 ? null : last.modifiedMs + missing.count * every * 1000,
  };
}
