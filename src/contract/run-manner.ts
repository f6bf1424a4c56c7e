/**
 * How a run goes: on which nodes, in which order, when, before what. Chosen at the start, changed while it
 * goes.
 */
import type { RunOrder } from "@/core/run/run-order";

/** What goes before what: a run of a higher priority gets every free node first. */
export const PRIORITIES = [-1, 0, 1] as const;
export type Priority = (typeof PRIORITIES)[number];

/** How a run goes. Times are milliseconds since 1970; null: at once, or until it is done. */
export interface RunManner {
  /** Names; null: whoever is free. */
  readonly nodes: readonly string[] | null;
  /** In which order frames are taken. What is in work already is not moved. */
  readonly order: RunOrder;
  readonly priority: Priority;
  /** No frame is leased before. */
  readonly startAt: number | null;
  /** The run stops by itself then: with its samples saved where they can be, else after the frames in work. */
  readonly stopAt: number | null;
  /** Frames that a node takes at once; null: as many as its start-up asks for. */
  readonly batch: number | null;
  /** Number of another run: no frame is leased before all of that one's are good. Null: it waits for none. */
  readonly after: number | null;
}
/** What a start means that says nothing of it: all nodes, at once, first to last. */
export const USUAL_MANNER: RunManner = {
  nodes: null,
  order: "first-to-last",
  priority: 0,
  startAt: null,
  stopAt: null,
  batch: null,
  after: null,
};

/**
 * Whether a node, or all of them, take frames: as usual, none after those in work, or none and those in work
 * are saved and given back.
 */
export const PAUSES = ["no", "after-frame", "now"] as const;
export type Pause = (typeof PAUSES)[number];
