/** Nodes as the pages show them. */
import type { AsideReason } from "./hold";
import type { NodeSettings } from "./node-settings";
import type { Pause } from "./run-manner";

export interface NodeView {
  readonly name: string;
  readonly state: "at-work" | "idle" | "paused" | "set-aside" | "away" | "stopped";
}

/** A node with what is decided of it. */
export interface NodeDetail extends NodeView, NodeSettings {
  readonly host: string;
  /** Frames it has made since midnight by the server's clock, and how many of its attempts failed. */
  readonly made: number;
  readonly failed: number;
  readonly asides: readonly AsideView[];
}

/** Why a node gets no frames, or none of a run. */
export interface AsideView {
  readonly id: number;
  /** null: it gets frames of no run. */
  readonly runId: number | null;
  readonly shot: string | null;
  readonly reason: AsideReason;
  /** Milliseconds since 1970, by the server's clock. */
  readonly at: number;
}

export interface NodesView {
  readonly nodes: readonly NodeDetail[];
  /** For all of them at once. */
  readonly pause: Pause;
}
