/**
 * States of a run, and what leaves each:
 *
 *     active    --stop after frames--> stopping --last frame done--> stopped
 *     active, stopping --stop now--> halting --samples saved, leases back--> stopped
 *     active    --nothing left--> done
 *     stopping, halting, stopped, done (with frames left) --go on--> active
 */
export const RUN_STATES = ["active", "stopping", "halting", "stopped", "done"] as const;
export type RunState = (typeof RUN_STATES)[number];

/** Frames of it may be in work. */
export const goesOn = (state: RunState): boolean => state === "active" || state === "stopping" || state === "halting";
