/**
 * Nodes as the pages show them.
 * One row for each name that ever registered. A node is at work or idle by what it leases, paused or set
 * aside by what was decided of it, and away when its heartbeat is late: the first of these that holds is
 * its state.
 */
import type { DeedView } from "./who";
import type { PlannedNode } from "@/core/estimate/node-slots";
import type { AsideReason } from "./hold";
import type { NodeSettings } from "./node-settings";
import type { Pause } from "./run-manner";

export interface NodeView extends PlannedNode {
  /** What a person would say of it in one word. */
  readonly state:
    | "at-work"
    | "idle"
    | "paused"
    | "off-hours"
    | "set-aside"
    | "away"
    | "stopped"
    // Of a batch system: works when that starts it.
    | "on-call";
  /** Runs that it is set aside from, though it works. */
  readonly asideFrom: readonly number[];
  /** That it is in. */
  readonly groups: readonly string[];
}

/** A node with what is decided of it. */
export interface NodeDetail extends NodeView, NodeSettings {
  /** Tasks of a batch system work under its name: how many at once, and when, is decided there. */
  readonly isCalled: boolean;
  /** Frames it has made since midnight by the server's clock, and how many of its attempts failed. */
  readonly made: number;
  readonly failed: number;
  /** Who paused it last, or let it go on; null: nobody did. */
  readonly pausedBy: DeedView | null;
  /** Those that hold now. */
  readonly asides: readonly AsideView[];
}

/** Why a node gets no frames, or none of a run. */
export interface AsideView {
  readonly id: number;
  /** null: it gets frames of no run. */
  readonly runId: number | null;
  /** Code of the run's shot; null where the node is set aside from everything. */
  readonly shot: string | null;
  readonly reason: AsideReason;
  /** Milliseconds since 1970, by the server's clock. */
  readonly at: number;
}

export interface NodesView {
  /** By name. */
  readonly nodes: readonly NodeDetail[];
  /** For all of them at once. */
  readonly pause: Pause;
  /** Who paused all of them last, or let them go on. */
  readonly pausedBy: DeedView | null;
}
