/**
 * What a person asks a run for.
 * What is left out of a wish goes as usual (contract/run-manner); from here on everything is decided.
 */
import type { RunManner } from "@/contract/run-manner";
import type { Policy } from "@/core/run/what-to-render";
export interface WantedShare {
  readonly machine: string;
  readonly phrase: string;
}

/** One sequence, or all that the version's plan asks for. */
export type RunScope = "version" | "sequence";

export interface Wish {
  /** In whose sight it is asked. */
  readonly sequenceId: number;
  readonly scope: RunScope;
  readonly phrase: string;
  readonly policy: Policy;
  /** Names of other versions of the shot that the run covers too: v002, v003. */
  readonly also?: readonly string[];
  /** It is decided as in a version that nothing was made of yet: the run would open its own. */
  readonly inNextVersion?: boolean;
}

export interface RunRequest extends Wish, Partial<RunManner> {
  /** Names; null: all. */
  readonly nodes: readonly string[] | null;
  /** A fixed split over machines that are not connected, instead of nodes. */
  readonly shares?: readonly WantedShare[];
}
