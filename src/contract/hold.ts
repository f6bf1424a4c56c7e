/**
 * Why a node takes no frames, or none of a run; and why a run is held. Kept, sent and tested in this shape;
 * the words are the pages'.
 */
import type { ReadyAnswer } from "./node-request";
import type { Who } from "./who";

export type AsideReason =
  /** It failed on frames that others made. */
  | {
      readonly code: "fails-alone";
      /** Frames that this node failed. */
      readonly frames: readonly number[];
      /** Code of the fault that all of them had. */
      readonly error: string;
      /** Sentence of the last of them. */
      readonly message: string;
    }
  /** It does not see what the run needs, or cannot write. It lets itself in again when it does. */
  | ({ readonly code: "not-ready" } & ReadyAnswer)
  /** Somebody saw what it makes. */
  | { readonly code: "by-hand"; readonly why: string; readonly who: Who };

export type RunHeld =
  /** Goes on by itself when `goesOnAt` bytes are free; all that is left needs `need`. */
  | { readonly code: "disk-full"; readonly need: number; readonly goesOnAt: number; readonly free: number }
  /** Every node failed on its first frame in the same way. */
  | {
      readonly code: "scene-fails";
      /** Code of the fault. */
      readonly error: string;
      /** Sentence of the last failure. */
      readonly message: string;
      /** Names of the nodes that failed. */
      readonly nodes: readonly string[];
      /** Numbers of the frames that failed. */
      readonly frames: readonly number[];
    };
