/** The files of a sequence as they travel (by column), asked frame by frame. */
import { FrameIndex } from "@/core/frames/frame-index";
import { unpackSet } from "@/core/tally/packed";
import type { FileColumns } from "@/contract/sequence-view";

export interface FileOfFrame {
  /** Of the attempt that made it; null for files of others. */
  readonly seconds: number | null;
  /** Its name; null for files of others. */
  readonly node: string | null;
  /** Empty until the file was looked at. */
  readonly content: string;
  /** Samples a pixel that it says it holds. */
  readonly samples: number | null;
}

/** Nothing is unpacked: 100,000 frames cost an index. */
export class FilesByFrame {
  readonly columns: FileColumns;
  readonly index: FrameIndex;

  constructor(columns: FileColumns) {
    this.columns = columns;
    this.index = new FrameIndex(unpackSet(columns.frames));
  }

  /** Of all files together. */
  get bytes(): number {
    return this.columns.bytes.reduce((sum, bytes) => sum + bytes, 0);
  }

  /** Null where the frame has no file. */
  at(frame: number): FileOfFrame | null {
    const i = this.index.positionOf(frame);
    if (i === null) return null;
    const { seconds, node, nodes, content, samples } = this.columns;
    return {
      seconds: seconds[i] ?? null,
      node: nodes[node[i]!] ?? null,
      content: content[i]!,
      samples: samples[i] ?? null,
    };
  }
}
