/**
 * What a time by the clock would have been without other work on the machine.
 *
 * A frame that was timed while other programs, or other nodes, used the same processors took longer than it
 * costs. Its processor seconds tell by how much: a renderer that keeps `threads` processors busy when it has
 * the machine for itself, and that got only `cpuShare` of them, needs `cpuShare / threads` of the time. What
 * several nodes on one machine cost each other is put back by who plans them together (`node-slots`).
 */
import { median } from "../many";
import { isExternal } from "../plan/renderer";

/** How a time was taken. */
export interface TimedBeside {
  /** Share of the machine that other programs used meanwhile; null where it is not known. */
  readonly otherLoad: number | null;
  /** Processor seconds of the renderer for each second by the clock; null where they could not be told. */
  readonly cpuShare: number | null;
}

/** Where other programs took more than this, a time says little about the frame. */
const BUSY_SHARE = 0.25;
/** Less is lost to what every system does beside. */
const TOLD_FACTOR = 0.95;

/** Whether something else took so much of the machine that the seconds may say too much. Unknown is not busy. */
export const isTimedBusy = ({ otherLoad }: TimedBeside): boolean =>
  otherLoad !== null && otherLoad > BUSY_SHARE;

/**
 * Processors that one frame keeps busy when it has the machine for itself: of the stand-in one, by how it is
 * made; of a program of its own, what its frames on a quiet machine say. Null where there are none.
 */
export function threadsOf(plan: { readonly renderer: string }, timed: readonly TimedBeside[]): number | null {
  if (!isExternal(plan)) return 1;
  const shares = timed.flatMap((t) => (isTimedBusy(t) || t.cpuShare === null ? [] : [t.cpuShare]));
  return shares.length === 0 ? null : median(shares);
}

/**
 * What the seconds are to be multiplied by, 1 at most; null where the machine was busy and nothing tells how
 * much of it the renderer got.
 */
export function aloneFactor(timed: TimedBeside, threads: number | null): number | null {
  if (!isTimedBusy(timed)) return 1;
  if (timed.cpuShare === null || threads === null || threads <= 0) return null;
  return Math.min(1, timed.cpuShare / threads);
}

/** Whether a correction is worth a word. */
export const isTold = (factor: number | null): factor is number => factor !== null && factor < TOLD_FACTOR;
