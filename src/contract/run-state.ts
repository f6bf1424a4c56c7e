import type { RunOrder } from "@/core/run/run-order";

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
export const goesOn = (state: RunState): boolean =>
  state === "active" || state === "stopping" || state === "halting";

/** What goes before what: a run of a higher priority gets every free node first. */
export const PRIORITIES = [-1, 0, 1] as const;
export type Priority = (typeof PRIORITIES)[number];

/** How a run goes. Times are milliseconds since 1970; null: at once, or until it is done. */
export interface RunManner {
  readonly nodes: readonly string[] | null;
  readonly order: RunOrder;
  readonly priority: Priority;
  readonly startAt: number | null;
  readonly stopAt: number | null;
  /** Frames that a node takes at once; null: as many as its start-up asks for. */
  readonly batch: number | null;
}
export const USUAL_MANNER: RunManner = {
  nodes: null,
  order: "first-to-last",
  priority: 0,
  startAt: null,
  stopAt: null,
  batch: null,
};

/** Whether a node, or all of them, take frames: as usual, none after those in work, or none and those in work are saved and given back. */
export const PAUSES = ["no", "after-frame", "now"] as const;
export type Pause = (typeof PAUSES)[number];
