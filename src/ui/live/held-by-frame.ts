/** Saved samples of a sequence's frames as they travel (by column), asked frame by frame. */
import { FrameIndex } from "@/core/frames/frame-index";
import { unpackSet } from "@/core/tally/packed";
import type { HeldColumns } from "@/contract/sequence-view";

export interface HeldFrame {
  readonly samples: number;
  /** Share of what was asked, 0 to 1. */
  readonly share: number;
  readonly seconds: number;
}

export class HeldByFrame {
  readonly index: FrameIndex;
  readonly #columns: HeldColumns;

  constructor(columns: HeldColumns) {
    this.#columns = columns;
    this.index = new FrameIndex(unpackSet(columns.frames));
  }

  at(frame: number): HeldFrame | null {
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
