/**
 * How many frames a node takes at once: as many as make its start-up a small part, or spare it to ask for
 * each of very short ones.
 */

export const MAX_BATCH = 32;
/** Start-up may be this part of a batch's time. */
const STARTUP_SHARE = 0.05;
/** A node asks for frames about so often, where they are shorter. */
const LEAST_SECONDS = 2;
/** So many batches a node are left towards the end, so that no node waits for another's last batch. */
const BATCHES_LEFT = 2;

/** Seconds, as the node measured them in this run. */
export interface Pace {
  /** Start-up that is paid once a batch. */
  readonly startupSeconds: number;
  /** Seconds of a frame without it. */
  readonly frameSeconds: number;
}

/** Frames to take at once by what a node measured; one while that is nothing. */
export function proposeBatch(measured: Pace | null): number {
  if (measured === null) return 1;
  const frame = Math.max(measured.frameSeconds, 1e-3);
  const forStartup = measured.startupSeconds / (STARTUP_SHARE * frame);
  const forAsking = LEAST_SECONDS / frame;
  return Math.min(MAX_BATCH, Math.max(1, Math.floor(forAsking), Math.ceil(forStartup)));
}

/** Of a batch, what is fair to take when so many frames wait for so many nodes. */
export const fairShare = (batch: number, waiting: number, nodes: number): number =>
  Math.max(1, Math.min(batch, Math.floor(waiting / (BATCHES_LEFT * Math.max(1, nodes)))));

/** As many waiting frames as need to be counted to know a fair share. */
export const countForShare = (batch: number, nodes: number): number =>
  batch * BATCHES_LEFT * Math.max(1, nodes);
