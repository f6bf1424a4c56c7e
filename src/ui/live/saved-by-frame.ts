/** Saved samples of a sequence's frames as they travel (by column), asked frame by frame. */
import { FrameIndex } from "@/core/frames/frame-index";
import { unpackSet } from "@/core/tally/packed";
import type { SavedColumns } from "@/contract/sequence-view";

export interface SavedFrame {
  /** A pixel. */
  readonly samples: number;
  /** Share of what was asked, 0 to 1. */
  readonly share: number;
  /** Render seconds that went into them. */
  readonly seconds: number;
}

/** A frame without saved samples is not in it. */
export class SavedByFrame {
  readonly index: FrameIndex;
  readonly #columns: SavedColumns;

  constructor(columns: SavedColumns) {
    this.#columns = columns;
    this.index = new FrameIndex(unpackSet(columns.frames));
  }

  /** Null where nothing is saved. */
  at(frame: number): SavedFrame | null {
    const i = this.index.positionOf(frame);
    return i === null
      ? null
      : {
          samples: this.#columns.samples[i]!,
          share: this.#columns.share[i]!,
          seconds: this.#columns.seconds[i]!,
        };
  }
}
