/** One sequence as its page shows it, packed by column, and what some of its frames have become since. */
import type { Pass } from "@/core/plan/passes";
import type { PackedSet, PackedTally } from "@/core/tally/packed";
import type { RunView } from "./run-view";

/** A sequence of the same version, in one line. */
export interface SiblingView {
  readonly id: number;
  readonly camera: string;
  readonly pass: Pass;
  readonly tally: PackedTally;
  readonly nodes: SequenceFrames["nodes"];
}

export interface FindingView {
  readonly id: number;
  readonly frame: number;
  readonly source: "check" | "node" | "person";
  readonly code: string;
  readonly text: string;
  readonly state: "open" | "dismissed" | "fixed";
  readonly createdAt: number;
  readonly closedAt: number | null;
}

/** Measures by column; position i of each belongs to the i-th frame of `frames`. */
export interface FileColumns {
  readonly frames: PackedSet;
  readonly seconds: readonly (number | null)[];
  readonly luminance: readonly (number | null)[];
  /** Index into `nodes`, -1 for unknown. */
  readonly node: readonly number[];
  readonly nodes: readonly string[];
  /** First 16 digits of the content's hash: the picture's address carries it. Empty until looked at. */
  readonly content: readonly string[];
  readonly samples: readonly (number | null)[];
  readonly bytes: readonly number[];
}

/** Saved samples of frames, by column. */
export interface SavedColumns {
  readonly frames: PackedSet;
  /** Samples that every pixel has. */
  readonly samples: readonly number[];
  /** Share of what was asked, 0 to 1. */
  readonly share: readonly number[];
  /** Render seconds that went into them. */
  readonly seconds: readonly number[];
}

/** One file of a frame, measured. */
export interface FileMeasures {
  readonly samples: number | null;
  /** Grain, share of white. */
  readonly noise: number;
  readonly bytes: number;
}

/** A frame's file and the one it replaced. */
export interface FrameChangeView {
  /** Name of the file from before. */
  readonly file: string;
  readonly before: FileMeasures;
  readonly now: FileMeasures;
  /** Mean absolute difference of luminance, 0 to 1; null when the sizes differ. */
  readonly difference: number | null;
}

/** All that is told of the frames of a sequence: of every one, or of those that have changed. */
export interface SequenceFrames {
  readonly id: number;
  readonly tally: PackedTally;
  readonly files: FileColumns;
  /** Frames whose file each node made. */
  readonly nodes: Readonly<Record<string, PackedSet>>;
  readonly saved: SavedColumns;
  /** Open ones, by frame. */
  readonly findings: readonly FindingView[];
  /** Newest first. */
  readonly closedFindings: readonly FindingView[];
  readonly check: { readonly done: number; readonly total: number } | null;
}

export interface SequenceView extends SequenceFrames {
  readonly runs: readonly RunView[];
  /** The beauty sequence of its camera: leases and progress are told under its id. */
  readonly leadId: number;
  /** All sequences that the plan asks for, this one too, in the plan's order. */
  readonly siblings: readonly SiblingView[];
}

/**
 * What frames of a version have become: takes the place of all that was known of them, and of nothing else.
 */
export interface VersionChange {
  readonly frames: PackedSet;
  /** Every sequence that its plan asks for. */
  readonly sequences: readonly SequenceFrames[];
  /** Runs that the change belongs to, as they are now. */
  readonly runs: readonly RunView[];
}

/** Replaced files of a sequence that are kept, and their bytes. */
export interface AsideFilesView {
  readonly count: number;
  readonly bytes: number;
  readonly frames: PackedSet;
}
