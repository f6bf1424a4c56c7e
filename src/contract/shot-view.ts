/** Projects, their shots and their plans as the pages show them. Types alone: pages may import them. */
import type { DeedView, Who } from "./who";
import type { EditUse } from "@/core/edit/edit-use";
import type { RendererOffer } from "@/core/plan/renderer-offer";
import type { Pass } from "@/core/plan/passes";
import type { VersionStatus } from "@/core/plan/version-status";
import type { PresetSettings } from "@/core/plan/preset";
import type { NamedAs, Plan, Purpose, VersionKey } from "@/core/plan/plan";
import type { ShotSound } from "@/core/sound/shot-sound";
import type { PackedTally } from "@/core/tally/packed";
import type { Rate } from "@/core/timing/rate";
import type { AskTemplate } from "@/core/run/ask-elsewhere";
import type { RunView } from "./run-view";

export interface Poster {
  readonly sequenceId: number;
  /** The frame that stands for the sequence. */
  readonly frame: number;
  /** Hash of its file: part of the picture's address, so that it may be kept for ever. */
  readonly content: string;
}

export interface ShotLine {
  readonly code: string;
  readonly title: string;
  /** Of the time line. */
  readonly first: number;
  /** Of the time line, inclusive. */
  readonly last: number;
  /** The one that the ledger shows: chosen, or the newest. */
  readonly version: number;
  readonly purpose: Purpose;
  /** Something else renders its frames. */
  readonly isWatched: boolean;
  /** First of the plan. */
  readonly camera: string;
  /** Number of them. */
  readonly cameras: number;
  readonly pass: Pass;
  /** The sequence whose band the line shows. */
  readonly sequenceId: number;
  /** All of its version: a change of any may change what its run came to. */
  readonly sequences: readonly number[];
  readonly tally: PackedTally;
  /** Names of nodes that made frames that are there. */
  readonly nodes: readonly string[];
  /** The one that goes, or the last; null where none was started. */
  readonly run: RunView | null;
  /** Null while there is no picture. */
  readonly poster: Poster | null;
  /** What was last done to the shot itself: made, changed, brought back. Null: it is from before names were kept. */
  readonly deed: DeedView | null;
}

export interface ShotsView {
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  /** By code. */
  readonly shots: readonly ShotLine[];
  /** Codes of further shots, whose lines are to be asked for: a large ledger comes in parts. */
  readonly rest: readonly string[];
  /** Codes of those that were put away. */
  readonly archived: readonly string[];
  /** Name of the newest edit that was read; null where none was. */
  readonly edit: string | null;
}

export interface SequenceChoice {
  readonly id: number;
  readonly version: number;
  readonly purpose: Purpose;
  /** Each camera of a version makes sequences of its own. */
  readonly camera: string;
  /** Each pass is a sequence, beside the beauty of its camera. */
  readonly pass: Pass;
}

/** A version of a shot, with what was decided on it. */
export interface VersionView {
  readonly id: number;
  /** `v002`, or `r002` for a rough. */
  readonly name: string;
  readonly purpose: Purpose;
  readonly status: VersionStatus;
  /** Who decided so, and when; null: nobody has decided anything. */
  readonly decided: DeedView | null;
  /** Who discarded files of it last. */
  readonly discarded: DeedView | null;
}

/** The sound of a shot. */
export interface SoundView extends ShotSound {
  /** Changes when the file does: part of its address. Null where it cannot be seen. */
  readonly version: string | null;
}

export interface ShotView {
  readonly code: string;
  readonly title: string;
  readonly first: number;
  readonly last: number;
  /** Stretches with a name; `end` is the first frame behind. */
  readonly markers: readonly { readonly name: string; readonly first: number; readonly end: number }[];
  /** Null: it has none. */
  readonly sound: SoundView | null;
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  /** Every sequence of the shot that can be looked at. */
  readonly choices: readonly SequenceChoice[];
  /** In the order of the choices. */
  readonly versions: readonly VersionView[];
  /** The one that is looked at. */
  readonly sequence: SequenceChoice;
  readonly versionId: number;
  /** What folders and files of the version are called after. */
  readonly namedAs: NamedAs;
  /** Number of the plan in force, from 1 in each version. */
  readonly revision: number;
  readonly revisionId: number;
  /** Of that revision, as saved. */
  readonly plan: Plan;
  /** Of a rough version: the plan it was made from, and its version. */
  readonly madeFrom: {
    readonly version: string;
    readonly versionId: number;
    readonly revisionId: number;
    readonly plan: Plan;
  } | null;
  /** What the newest edit uses of the shot. */
  readonly edit: EditUse | null;
  /** Absolute path of the sequence's folder, for copying. */
  readonly folder: string;
  /** Of all sequences of a version that is watched, by its place in the plan; empty where it is rendered here. */
  readonly watchedFolders: readonly string[];
  /** Calls of places that render elsewhere, as the configuration declares them. */
  readonly calls: readonly AskTemplate[];
  /** Scene files of the project. */
  readonly scenes: readonly string[];
  /** Renderers that a plan may name, with what each offers; the stand-in first. */
  readonly renderers: readonly RendererOffer[];
  /** Names and kind of file are fixed from then on. */
  readonly hasFiles: boolean;
}

/** A scene file as it is now. */
export interface SceneView {
  /** In the order of the scene file. */
  readonly cameras: readonly string[];
  /** Frames a second that it was made for; null where what it says is no rate. */
  readonly rate: Rate | null;
  /** Frames from one gathered light to the next; null where the scene asks for none. */
  readonly lightEvery: number | null;
  /** Changes when the scene or anything it uses does. */
  readonly version: string;
  /** What stands in it at the shot's first frame, seen from above, in metres; the largest first. */
  readonly footprints: readonly {
    readonly name: string | null;
    readonly x: readonly [number, number];
    readonly z: readonly [number, number];
  }[];
}

export interface MotionView {
  /** Scene frame after which nothing changes; null where something does to the end. */
  readonly movesUntil: number | null;
  /** Scene frame from which only sky is in sight; null where there is no such. */
  readonly emptyFrom: number | null;
}

export interface PresetView {
  readonly id: number;
  readonly name: string;
  /** Those that it sets; the rest of a plan stays as it is. */
  readonly settings: PresetSettings;
  /** Who saved or renamed it last. */
  readonly who: Who;
  /** When, in milliseconds since 1970. */
  readonly changedAt: number;
}

export interface RevisionView {
  /** From 1 in each version. */
  readonly number: number;
  readonly plan: Plan;
  /** The person that saved it. */
  readonly who: Who;
  /** Milliseconds since 1970. */
  readonly savedAt: number;
}

export interface ImportedEdit {
  /** As the list calls itself. */
  readonly title: string;
  /** Clips that bear a shot's name, and how many shots those are. */
  readonly matched: number;
  /** How many events of the list are ours. */
  readonly shots: number;
  /** Some of the names that mean no shot. */
  readonly unmatched: readonly string[];
}

export interface OpenedVersion {
  /** Purpose and number: where the page goes next. */
  readonly version: VersionKey;
}

/** Of shots that are not archived, in the order of the ledger. */
export interface ShotCodes {
  readonly codes: readonly string[];
}
