/** What was measured of the pictures of a sequence, by column, for the lanes of the band that ask for it. */
import type { PackedSet } from "@/core/tally/packed";

/** Position i of each column belongs to the i-th frame of `frames`; null: not known of that picture. */
export interface MeasureColumns {
  /** That were measured. */
  readonly frames: PackedSet;
  /** Mean change from the frame before, as a share of white. */
  readonly change: readonly (number | null)[];
  /** Shares of the picture. */
  readonly black: readonly (number | null)[];
  readonly clipped: readonly (number | null)[];
  /** Pixels. */
  readonly hot: readonly (number | null)[];
}
