/**
 * One sequence as its page shows it, packed by column, and what some of its frames have become since.
 * Columns and packed sets because a sequence may have 100,000 frames: an object for each would be ten times
 * as long. Position i of every column belongs to the i-th frame of its `frames`, ascending. A change has
 * the same shape for fewer frames, so that the page has one way of taking in either.
 */
import type { Who } from "./who";
import type { Pass } from "@/core/plan/passes";
import type { PackedSet, PackedTally } from "@/core/tally/packed";
import type { RunView } from "./run-view";

/** A sequence of the same version, in one line. */
export interface SiblingView {
  readonly id: number;
  readonly camera: string;
  readonly pass: Pass;
  /** What its band shows, as the beauty's is. */
  readonly tally: PackedTally;
  readonly nodes: SequenceFrames["nodes"];
}

/** A rectangle of a picture, in parts of its width and height, from the left and the top. */
export interface FindingPlace {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

export interface FindingView {
  readonly id: number;
  /** Number of the frame's file. */
  readonly frame: number;
  /** Who found it: the checks, the node that made the frame, somebody looking, or the measures and somebody's word. */
  readonly source: "check" | "node" | "person" | "odd";
  /** The person that flagged it; null: a check or a node, or nobody said. */
  readonly who: Who;
  /** Kind of the finding: a key of the words on the page. */
  readonly code: string;
  /** With what was measured and the limit. */
  readonly text: string;
  /** Closed by a person, or by a new picture of the frame. */
  readonly state: "open" | "dismissed" | "fixed";
  /** Milliseconds since 1970. */
  readonly createdAt: number;
  /** Null while it is open. */
  readonly closedAt: number | null;
  /** The person that dismissed it. */
  readonly closedWho: Who;
  /** The reason of who dismissed it; null: none was given. */
  readonly why: string | null;
  /** Where in the picture it is; null: all of it. */
  readonly place: FindingPlace | null;
}

/** Measures by column; position i of each belongs to the i-th frame of `frames`. */
export interface FileColumns {
  /** Frames that have a file. */
  readonly frames: PackedSet;
  /** Render seconds; null for files that were not rendered here. */
  readonly seconds: readonly (number | null)[];
  /** Mean as shown, from 0 to 1; null where the picture cannot be measured. */
  readonly luminance: readonly (number | null)[];
  /** Grain, as a share of white; null where the picture cannot be measured. */
  readonly noise: readonly (number | null)[];
  /** Index into `nodes`, -1 for unknown. */
  readonly node: readonly number[];
  /** Names, in the order of the numbers in `node`. */
  readonly nodes: readonly string[];
  /** First 16 digits of the content's hash: the picture's address carries it. Empty until looked at. */
  readonly content: readonly string[];
  /** A pixel; null where the renderer does not count them. */
  readonly samples: readonly (number | null)[];
  /** Of the file on disk. */
  readonly bytes: readonly number[];
}

/** Saved samples of frames, by column. */
export interface SavedColumns {
  /** Frames that have saved samples and may go on from them. */
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
  /** A pixel; null where the renderer does not count them. */
  readonly samples: number | null;
  /** Grain, share of white. */
  readonly noise: number;
  /** Of the file. */
  readonly bytes: number;
}

/** A frame's file and the one it replaced. */
export interface FrameChangeView {
  /** Name of the file from before. */
  readonly file: string;
  /** Only its small picture is kept: something else has replaced the file, and nothing brings it back. */
  readonly isSmall: boolean;
  readonly before: FileMeasures;
  readonly now: FileMeasures;
  /** Mean absolute difference of luminance, 0 to 1; null when the sizes differ. */
  readonly difference: number | null;
}

/** All that is told of the frames of a sequence: of every one, or of those that have changed. */
export interface SequenceFrames {
  readonly id: number;
  /** Results and activities as sets. */
  readonly tally: PackedTally;
  readonly files: FileColumns;
  /** Frames whose file each node made. */
  readonly nodes: Readonly<Record<string, PackedSet>>;
  readonly saved: SavedColumns;
  /** Open ones, by frame. */
  readonly findings: readonly FindingView[];
  /** Newest first. */
  readonly closedFindings: readonly FindingView[];
  /** Pictures that the check at work has looked at; null while none is. */
  readonly check: { readonly done: number; readonly total: number } | null;
}

export interface SequenceView extends SequenceFrames {
  /** Those of the version, the newest first. */
  readonly runs: readonly RunView[];
  /** The beauty sequence of its camera: leases and progress are told under its id. */
  readonly leadId: number;
  /** All sequences that the plan asks for, this one too, in the plan's order. */
  readonly siblings: readonly SiblingView[];
  /** How its frames come in, where something else makes them; null: they are rendered here. */
  readonly elsewhere: ElsewhereView | null;
}

/** What files tell that something else makes. */
export interface ElsewhereView {
  /** Empty files that it puts down before it begins, oldest first. */
  readonly claims: readonly {
    readonly frame: number;
    /** Milliseconds since 1970. */
    readonly sinceMs: number;
    /** Older than a few frames take: nobody is at it any more. */
    readonly isOver: boolean;
  }[];
  /** What a log said of frames that are there, by frame; the first of them. */
  readonly said: readonly { readonly frame: number; readonly text: string }[];
  /** Null where too little has come, or nothing any more. */
  readonly pace: {
    readonly everySeconds: number;
    /** The furthest of the last. */
    readonly front: number;
    /** Asked frames before it that are not there. */
    readonly behind: PackedSet;
    readonly left: number;
    /** Milliseconds since 1970; null when none is left. */
    readonly finishMs: number | null;
  } | null;
}

/**
 * What frames of a version have become: takes the place of all that was known of them, and of nothing else.
 */
export interface VersionChange {
  /** Which frames the columns below are about. */
  readonly frames: PackedSet;
  /** Every sequence that its plan asks for. */
  readonly sequences: readonly SequenceFrames[];
  /** Runs that the change belongs to, as they are now. */
  readonly runs: readonly RunView[];
}

/** Replaced files of a sequence that are kept, or small pictures of them, and their bytes. */
export interface AsideFilesView {
  readonly count: number;
  readonly bytes: number;
  /** Of these, files whose successors somebody has accepted. */
  readonly accepted: number;
  /** Days for which they are kept once what replaced them is whole. */
  readonly keptDays: number;
  /** Frames of which an older picture is kept. */
  readonly frames: PackedSet;
  /** Name of the newest of each of them, by frame. */
  readonly names: readonly string[];
  /** They are small pictures of files that something else has replaced. */
  readonly areSmall: boolean;
}
