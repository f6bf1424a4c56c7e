/**
 * How many frames a node takes at once: as many as make its start-up a small part, or spare it to ask for
 * each of very short ones. Towards the end what is left is shared out, once: each further batch would pay for
 * its start again.
 */

export const MAX_BATCH = 100;
/** Start-up may be this part of a batch's time. */
const STARTUP_SHARE = 0.05;
/** A node asks for frames about so often, where they are shorter. */
const LEAST_SECONDS = 2;
/** A program that takes several is first called for so many: one frame tells nothing of its start-up. */
const FIRST_BATCH = 4;
/**
 * The last share is taken in two halves, so that no slot waits for a slower one, where start-up is at most this
 * part of the share's time.
 */
const CHEAP_STARTUP = 0.25;

/** Seconds, as the node measured them in this run. */
export interface Pace {
  /** Start-up that is paid once a batch. */
  readonly startupSeconds: number;
  /** Seconds of a frame without it. */
  readonly frameSeconds: number;
}

/**
 * Frames to take at once by what a node measured.
 * @param measured null before the first frame
 * @param takesSeveral one call of the renderer makes several frames
 */
export function proposeBatch(measured: Pace | null, takesSeveral: boolean): number {
  if (measured === null) return takesSeveral ? FIRST_BATCH : 1;
  const frame = Math.max(measured.frameSeconds, 1e-3);
  const forStartup = measured.startupSeconds / (STARTUP_SHARE * frame);
  const forAsking = LEAST_SECONDS / frame;
  return Math.min(MAX_BATCH, Math.max(1, Math.floor(forAsking), Math.ceil(forStartup)));
}

/**
 * Of a batch, what is fair to take.
 * @param left frames of the run that nobody renders yet, also those that are kept for somebody
 * @param slots frames that all nodes together render at once
 */
export function fairShare(batch: number, left: number, slots: number, measured: Pace | null): number {
  const share = Math.ceil(left / Math.max(1, slots));
  if (2 * batch <= share) return batch;
  const isCheap =
    measured === null || measured.startupSeconds <= CHEAP_STARTUP * share * measured.frameSeconds;
  return Math.max(1, Math.min(batch, isCheap ? Math.ceil(share / 2) : share));
}

/** As many frames as need to be counted to know a fair share. */
export const countForShare = (batch: number, slots: number): number => 2 * batch * Math.max(1, slots);
