/**
 * What costs as much as there is to look at is followed by a rest: looks take at most a twentieth of the time.
 * No rest is longer than a minute, though. On a slow share, or a busy machine, a look takes long by the clock and
 * costs little, and what pages show is taken for what is there now.
 */
const REST_SHARE = 20;
const MAX_REST_MS = 60_000;

/** Milliseconds to rest after so many of looking. */
export const restAfter = (spentMs: number): number => Math.min(MAX_REST_MS, spentMs * REST_SHARE);
