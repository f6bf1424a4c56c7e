/**
 * Runs that a batch system hands to its machines: what is asked for, and what a page shows of it. A run (or a part of it) becomes
 * array jobs whose tasks are its frames; whoever else takes frames of the run goes on doing so.
 */
import type { Who } from "./who";
import { BOUNDS, textOfLength } from "./bounds";
import { checker, objectOf } from "./validate";

/** What a frame may use there; null: as the batch system has it. */
export interface ClusterWish {
  /** Part of the run, as a phrase; null: all of it. */
  readonly frames: string | null;
  readonly partition: string | null;
  /** That one frame may take. */
  readonly minutes: number | null;
  readonly memoryMb: number | null;
}

/** What is left out goes as the batch system has it. */
export const checkSendRun = checker<Partial<ClusterWish>>(
  objectOf<Partial<ClusterWish>>(
    {
      frames: { anyOf: [{ type: "null" }, { type: "string", minLength: 1, maxLength: BOUNDS.phrase }] },
      // As Slurm names one; never an option of its own.
      partition: {
        anyOf: [
          { type: "null" },
          { ...textOfLength(BOUNDS.declaredName), pattern: "^[A-Za-z0-9_][A-Za-z0-9_.-]*$" },
        ],
      },
      minutes: { type: ["integer", "null"], minimum: 1, maximum: BOUNDS.clusterMinutes },
      memoryMb: { type: ["integer", "null"], minimum: 16, maximum: BOUNDS.memoryMb },
    },
    [],
  ),
);

/** A run as it stands with the batch system. */
export interface DispatchView extends ClusterWish {
  /** Numbers of its arrays that are not over, as the batch system has them. */
  readonly jobs: readonly number[];
  /** Tasks, at the last look. */
  readonly waits: number;
  readonly held: number;
  readonly works: number;
  /** Why the first of them wait, in the batch system's own word. */
  readonly reason: string | null;
  /** Why it did not take what was to be submitted; null: it did. */
  readonly fault: string | null;
  readonly sentBy: Who;
  /** Milliseconds since 1970. */
  readonly sentAt: number;
}

/** What can be chosen of the batch system. */
export interface ClusterView {
  /** One is named in the configuration of the server. */
  readonly isDeclared: boolean;
  readonly partitions: readonly ClusterPartition[];
  /** Why it does not answer; null: it does. */
  readonly fault: string | null;
}

/** Machines that are given out together. */
export interface ClusterPartition {
  readonly name: string;
  readonly isUsual: boolean;
  readonly machines: number;
}
