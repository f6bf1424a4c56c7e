/** What is to be rendered again of a shot, each range with why. */
import type { PackedSet } from "@/core/tally/packed";
import type { LeftOut } from "@/core/run/leave-out";
import type { PatchRange } from "@/core/run/patch-ranges";

export interface PatchView {
  readonly code: string;
  /** The version that stands for the shot; null: it has none, and nothing to patch. */
  readonly version: string | null;
  /** A run is started in its sight; null with the version. */
  readonly sequenceId: number | null;
  /** Something else renders its frames: they are asked for there. */
  readonly isWatched: boolean;
  /** Sequences that have something to patch. */
  readonly sequences: readonly {
    readonly camera: string;
    readonly pass: string;
    readonly ranges: readonly (Omit<PatchRange, "frames"> & { readonly frames: PackedSet })[];
  }[];
  /** Nodes that made what is wrong, while others are awake. */
  readonly leftOut: readonly LeftOut[];
  /** Names of all others that there are; null where nobody is left out: every node, also one that comes later. */
  readonly nodes: readonly string[] | null;
}
