/** All that is known of one frame: what it is now, and what happened to it, the newest first. */
import type { Measures } from "@/core/image/measure-picture";
import type { FindingView } from "./sequence-view";
import type { Who } from "./who";

/** Times in milliseconds since 1970. */
export type FrameEvent =
  | {
      readonly kind: "attempt";
      readonly at: number;
      readonly run: number;
      readonly node: string;
      readonly outcome: "running" | "done" | "failed" | "lost" | "stopped";
      /** Seconds that it took; null while it is under way. */
      readonly seconds: number | null;
      /** Of its fault; null: none. */
      readonly message: string | null;
    }
  | ({ readonly kind: "found"; readonly at: number } & Pick<FindingView, "source" | "who" | "code" | "text">)
  | {
      readonly kind: "closed";
      readonly at: number;
      readonly who: Who;
      readonly state: "dismissed" | "fixed";
      /** What was found, and why it is none where somebody said so. */
      readonly text: string;
      readonly why: string | null;
    }
  /** Its file was put aside for another. */
  | { readonly kind: "replaced"; readonly at: number; readonly file: string; readonly isAccepted: boolean };

export interface FrameHistoryView {
  readonly frame: number;
  /** Null: there is none. */
  readonly file: {
    readonly name: string;
    readonly bytes: number;
    readonly at: number;
    readonly node: string | null;
    readonly samples: number | null;
    readonly seconds: number | null;
  } | null;
  /** Null before a node has measured that file, and of what cannot be shown. */
  readonly measures: Measures | null;
  readonly events: readonly FrameEvent[];
}
