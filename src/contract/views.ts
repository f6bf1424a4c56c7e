/** What the server shows the pages. Types alone: pages may import them. */
import type { EditUse } from "@/core/edit/edit-use";
import type { CostSample } from "@/core/estimate/cost-model";
import type { Pass } from "@/core/plan/passes";
import type { VersionStatus } from "@/core/plan/version-status";
import type { PreflightPoint } from "@/core/run/preflight";
import type { PresetSettings } from "@/core/plan/preset";
import type { Plan, Purpose, VersionKey } from "@/core/plan/plan";
import type { Policy } from "@/core/run/what-to-render";
import type { PackedSet, PackedTally } from "@/core/tally/packed";
import type { Rate } from "@/core/timing/rate";
import type { AsideReason, RunHeld } from "./hold";
import type { NodeSettings } from "./node-settings";
import type { Pause, RunManner } from "./run-manner";
import type { RunState } from "@/core/run/run-life";

export interface ApiError {
  readonly code: string;
  readonly message: string;
  readonly faults: readonly { readonly field: string; readonly code: string; readonly message: string }[];
}

/** How fast a run goes and when it ends: changes by the clock too, while nothing happens. */
export interface RunPaceView {
  readonly secondsAFrame: number | null;
  /** Null while nothing is in work, or it has only begun. */
  readonly framesAMinute: number | null;
  /** Milliseconds since 1970, by the server's clock. */
  readonly likelyFinish: number | null;
  /** Nine times in ten it is done by then. */
  readonly lateFinish: number | null;
}

export interface RunView extends RunPaceView, RunManner {
  readonly id: number;
  /** Names of the versions that it covers. */
  readonly versions: readonly string[];
  readonly state: RunState;
  readonly policy: Policy;
  readonly wanted: string;
  /** The gathered light that it makes before its frames; null: its scene asks for none, or all of it was there. */
  readonly lighting: { readonly made: number; readonly total: number } | null;
  /** Its frames are with machines that are not connected. */
  readonly isHandedOut: boolean;
  /** Why no frame of it is leased though it goes on. */
  readonly held: RunHeld | null;
  readonly total: number;
  readonly done: number;
  readonly failed: number;
  readonly left: number;
  readonly createdAt: number;
  readonly endedAt: number | null;
}

/** Shares of a run that was handed out to machines that are not connected. */
export interface HandOutView {
  /** What to take along: absolute path of the folder with the plan file and the scene. */
  readonly folder: string;
  /** Where the frames that come back belong: absolute path of the version's folder. */
  readonly returnTo: string;
  readonly shares: readonly {
    readonly machine: string;
    readonly frames: string;
    readonly count: number;
    readonly back: number;
    /** Frames that are not back, as a phrase. */
    readonly missing: string;
    readonly isTakenBack: boolean;
    readonly command: string;
  }[];
}

/** What a run came to, or has come to so far. */
export interface RunSummaryView {
  readonly id: number;
  readonly state: RunState;
  readonly made: number;
  /** Frames that it left alone when it started. */
  readonly kept: number;
  readonly left: number;
  readonly setAside: { readonly count: number; readonly frames: string };
  /** From its first frame's start to its last one's end; null before one has ended. */
  readonly seconds: number | null;
  /** Seconds of all attempts on all nodes together. */
  readonly workSeconds: number;
  /** As it was estimated when it started; null: nothing was timed. */
  readonly estimatedSeconds: number | null;
  /** One of each version. */
  readonly folders: readonly string[];
  readonly nodes: readonly {
    readonly node: string;
    readonly made: number;
    readonly failed: number;
    readonly lost: number;
    readonly seconds: number;
  }[];
}

export interface Poster {
  readonly sequenceId: number;
  readonly frame: number;
  readonly content: string;
}

export interface ShotLine {
  readonly code: string;
  readonly title: string;
  readonly first: number;
  readonly last: number;
  readonly version: number;
  readonly purpose: Purpose;
  readonly camera: string;
  readonly pass: Pass;
  readonly sequenceId: number;
  readonly tally: PackedTally;
  readonly run: RunView | null;
  readonly poster: Poster | null;
}

export interface ProjectsView {
  readonly projects: readonly { readonly slug: string; readonly title: string; readonly shots: number }[];
}

export interface ShotsView {
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  readonly shots: readonly ShotLine[];
}

export interface SequenceChoice {
  readonly id: number;
  readonly version: number;
  readonly purpose: Purpose;
  readonly camera: string;
  readonly pass: Pass;
}

/** A version of a shot, with what was decided on it. */
export interface VersionView {
  readonly id: number;
  readonly name: string;
  readonly purpose: Purpose;
  readonly status: VersionStatus;
}

/** A sequence of the same version, in one line. */
export interface SiblingView {
  readonly id: number;
  readonly camera: string;
  readonly pass: Pass;
  readonly tally: PackedTally;
  /** Frames whose file each node made. */
  readonly nodes: Readonly<Record<string, PackedSet>>;
}

export interface ShotView {
  readonly code: string;
  readonly title: string;
  readonly first: number;
  readonly last: number;
  readonly markers: readonly { readonly name: string; readonly first: number; readonly end: number }[];
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  readonly choices: readonly SequenceChoice[];
  /** In the order of the choices. */
  readonly versions: readonly VersionView[];
  readonly sequence: SequenceChoice;
  readonly versionId: number;
  readonly revision: number;
  readonly revisionId: number;
  readonly plan: Plan;
  /** Of a rough version: the plan it was made from, and its version. */
  readonly madeFrom: { readonly version: string; readonly versionId: number; readonly plan: Plan } | null;
  /** What the newest edit uses of the shot. */
  readonly edit: EditUse | null;
  /** Absolute path of the sequence's folder, for copying. */
  readonly folder: string;
  /** Scene files of the project. */
  readonly scenes: readonly string[];
  /** Renderers that a plan may name. */
  readonly renderers: readonly string[];
  readonly hasFiles: boolean;
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
  readonly bytes: number;
}

/** Saved samples of frames, by column. */
export interface HeldColumns {
  readonly frames: PackedSet;
  /** Samples that every pixel has. */
  readonly samples: readonly number[];
  /** Share of what was asked, 0 to 1. */
  readonly share: readonly number[];
  /** Render seconds that went into them. */
  readonly seconds: readonly number[];
  readonly bytes: number;
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

export interface SequenceView {
  readonly id: number;
  readonly tally: PackedTally;
  readonly files: FileColumns;
  readonly findings: readonly FindingView[];
  readonly closedFindings: readonly FindingView[];
  readonly runs: readonly RunView[];
  /** The beauty sequence of its camera: leases and progress are told under its id. */
  readonly leadId: number;
  /** All sequences that the plan asks for, this one too, in the plan's order. */
  readonly siblings: readonly SiblingView[];
  readonly check: { readonly done: number; readonly total: number } | null;
  /** Files kept aside, and their bytes. */
  readonly aside: { readonly count: number; readonly bytes: number; readonly frames: PackedSet };
  readonly held: HeldColumns;
}

export interface RenderingView {
  readonly runId: number;
  /** Its name in addresses. */
  readonly project: string;
  readonly shot: string;
  /** Name of the version. */
  readonly version: string;
  /** A proof: no frame of the sequence is in work. */
  readonly isProof: boolean;
  /** Gathers light: no frame of the sequence is in work. */
  readonly isLight: boolean;
  readonly sequenceId: number;
  readonly frame: number;
  readonly node: string;
  readonly progress: number;
  readonly seconds: number;
  /** What frames beside it took; null until the run has made one. */
  readonly expectedSeconds: number | null;
}

export interface NodeView {
  readonly name: string;
  readonly state: "at-work" | "idle" | "paused" | "set-aside" | "away" | "stopped";
}

/** A node with what is decided of it. */
export interface NodeDetail extends NodeView, NodeSettings {
  readonly host: string;
  /** Frames it has made since midnight by the server's clock, and how many of its attempts failed. */
  readonly made: number;
  readonly failed: number;
  readonly asides: readonly AsideView[];
}

/** Why a node gets no frames, or none of a run. */
export interface AsideView {
  readonly id: number;
  /** null: it gets frames of no run. */
  readonly runId: number | null;
  readonly shot: string | null;
  readonly reason: AsideReason;
  /** Milliseconds since 1970, by the server's clock. */
  readonly at: number;
}

export interface NodesView {
  readonly nodes: readonly NodeDetail[];
  /** For all of them at once. */
  readonly pause: Pause;
}

/** Server-sent messages. `changed` names the sequences whose view is out of date; `null` is every one. */
export type LiveMessage =
  | { readonly type: "changed"; readonly sequences: readonly number[] | null }
  | {
      readonly type: "live";
      readonly rendering: readonly RenderingView[];
      readonly nodes: readonly NodeView[];
      readonly lastFrameSeconds: number | null;
    }
  | { readonly type: "trouble"; readonly message: string };

/** A scene file as it is now. */
export interface SceneView {
  readonly cameras: readonly string[];
  /** Frames from one gathered light to the next; null where the scene asks for none. */
  readonly lightEvery: number | null;
  /** Changes when the scene or anything it uses does. */
  readonly version: string;
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
  readonly settings: PresetSettings;
}

export interface RevisionView {
  readonly number: number;
  readonly plan: Plan;
}

export interface ImportedEdit {
  readonly title: string;
  /** Clips that bear a shot's name, and how many shots those are. */
  readonly matched: number;
  readonly shots: number;
  /** Some of the names that mean no shot. */
  readonly unmatched: readonly string[];
}

export interface OpenedVersion {
  readonly version: VersionKey;
}

export interface ProofPass {
  readonly pass: Pass;
  readonly sequenceId: number;
  readonly content: string;
  readonly bytes: number;
  readonly noise: number;
  readonly luminance: number;
  /** The saved plan would make this very file. */
  readonly fits: boolean;
}

export interface ProofFrame {
  readonly camera: string;
  readonly cost: CostSample;
  readonly stoppedBy: "samples" | "noise" | "time" | null;
  readonly passes: readonly ProofPass[];
}

export interface ProofView {
  readonly runId: number;
  readonly state: RunView["state"];
  readonly plan: Plan;
  readonly wanted: string;
  readonly left: number;
  readonly failed: number;
  readonly createdAt: number;
  readonly frames: readonly ProofFrame[];
}

/** What is known of a version's gathered light. */
export interface LightView {
  /** Those that are there and fit for the saved plan, a phrase for each camera. */
  readonly there: Readonly<Record<string, string>>;
  /** Seconds of such as were made, newest first. */
  readonly timed: readonly { readonly scene: string; readonly seconds: number }[];
}

export interface ProofsView {
  /** Newest first. */
  readonly proofs: readonly ProofView[];
  /** Frames of real runs of the version, newest first. */
  readonly history: readonly CostSample[];
  /** Share of the work that made no frame lately. */
  readonly lostShare: number;
  readonly lighting: LightView;
  readonly freeBytes: number | null;
}

export interface PreflightView {
  readonly points: readonly PreflightPoint[];
}

export interface LogLine {
  readonly id: number;
  readonly at: number;
  readonly run: number;
  readonly node: string;
  readonly frame: number;
  readonly level: "info" | "warning" | "error";
  readonly text: string;
}
