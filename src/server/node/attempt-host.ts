/**
 * What an attempt is given by the node that makes it.
 * Attempts know nothing of slots, batches and heartbeats: what they need of those is handed to them here,
 * so that each kind of task is one function of (host, lease, signals).
 */
import type { Pool } from "../db/pool";
import { type Engine, RenderFailed } from "../engines/engine";
import type { NodeFaults } from "./faults";
import type { LogLevel } from "@/contract/log";

/** What an attempt needs of its node. */
export interface AttemptHost {
  readonly pool: Pool;
  readonly engine: Engine;
  /** Of the node, for logs and for what its files say of themselves. */
  readonly name: string;
  /** What it is to do wrong, by choice, in the demo and in tests. */
  readonly faults: NodeFaults;
  /** Number of this frame, counted from the node's start. */
  readonly count: number;
  /** Frames of its camera and run that come next in this slot. */
  readonly upcoming: readonly number[];
  readonly log: (level: LogLevel, text: string) => void;
  /** Tries again while the database is away. */
  readonly whileAway: (work: () => Promise<void>) => Promise<void>;
  /** From 0 to 1; told with the next heartbeat. */
  readonly onProgress: (share: number) => void;
  /** A small JPEG; the last one before the next heartbeat is sent. */
  readonly onPreview: (jpeg: Uint8Array) => void;
  /**
   * A finished picture finds no room on the disk; told again as long as it waits. @param bytes what it needs
   */
  readonly onNoRoom: (bytes: number) => void;
  /** The renderer gave a sign of life. */
  readonly onHeard: () => void;
  /** The renderer has ended: what follows may wait for database and storage, and is judged no more. */
  readonly onOver: () => void;
  /** Why the node ended the attempt; null when it did not. */
  readonly failure: () => RenderFailed | null;
  /** Proves anew that the node sees the run's files and can write. */
  readonly proveReady: (runId: number) => Promise<boolean>;
}

export interface AttemptSignals {
  /** The work is not wanted any more: the engine is killed. */
  readonly abort: AbortSignal;
  /** What there is shall be saved, and the frame go back. */
  readonly stop: AbortSignal;
}
