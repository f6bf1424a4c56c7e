/** What is told to open pages while things change. */
import type { NodeView } from "./node-view";
import type { VersionChange } from "./sequence-view";

export interface RenderingView {
  readonly runId: number;
  /** Its name in addresses. */
  readonly project: string;
  readonly shot: string;
  /** Name of the version. */
  readonly version: string;
  /** A proof: no frame of the sequence is in work. */
  readonly isProof: boolean;
  /** Gathers light: no frame of the sequence is in work. */
  readonly isLight: boolean;
  readonly sequenceId: number;
  readonly frame: number;
  readonly node: string;
  readonly progress: number;
  readonly seconds: number;
  /** What frames beside it took; null until the run has made one. */
  readonly expectedSeconds: number | null;
}

/**
 * Server-sent messages. `changed` names the sequences whose view is out of date; `null` is every one.
 * `frames` brings what has changed with it.
 */
export type LiveMessage =
  | { readonly type: "frames"; readonly change: VersionChange }
  | { readonly type: "changed"; readonly sequences: readonly number[] | null }
  | {
      readonly type: "live";
      readonly rendering: readonly RenderingView[];
      readonly nodes: readonly NodeView[];
      readonly lastFrameSeconds: number | null;
    }
  | { readonly type: "trouble"; readonly message: string };
