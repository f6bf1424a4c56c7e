/** How the files of a sequence came to be, as far as that may be a cause: packed sets, since a shot may have 100,000 frames. */
import type { PackedSet } from "@/core/tally/packed";

export interface CircumstancesView {
  /** Calls of a renderer that made more than one frame. */
  readonly calls: readonly {
    readonly node: string;
    /** Milliseconds since 1970. */
    readonly fromMs: number;
    readonly frames: PackedSet;
  }[];
  /** By the hour in which the files were written, by the server's clock. */
  readonly hours: readonly { readonly fromMs: number; readonly frames: PackedSet }[];
  /** By what was warned of while they were made; numbers in it are left out, as they are each frame's own. */
  readonly warnings: readonly { readonly text: string; readonly frames: PackedSet }[];
}
