/**
 * What may be discarded of a sequence or a version: it is counted first, with its bytes, and then removed. Types and
 * names alone: pages import them.
 */

/** `samples`: what is saved of frames that are not done; `extra`: files that the plan does not ask for. */
export const DISCARDS = ["samples", "extra"] as const;
export type Discard = (typeof DISCARDS)[number];

export interface DiscardBody {
  /** At least one. */
  readonly what: readonly Discard[];
  /** Null: of every frame. */
  readonly phrase: string | null;
  /** This sequence, or all of its version. */
  readonly scope: "sequence" | "version";
  /** Only counts. */
  readonly isDry: boolean;
}

export interface DiscardedFiles {
  readonly count: number;
  readonly bytes: number;
  /** As a phrase; of all sequences together. */
  readonly frames: string;
}

/** What was, or would be, discarded. Frames in work keep what they have, and are not counted. */
export type DiscardedView = Readonly<Record<Discard, DiscardedFiles>>;
