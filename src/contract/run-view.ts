/** Runs as the pages show them: how far, how fast, what came of it. Types alone: pages may import them. */
import type { PreflightPoint } from "@/core/run/preflight";
import type { Policy } from "@/core/run/what-to-render";
import type { RunHeld } from "./hold";
import type { RunManner } from "./run-manner";
import type { RunState } from "@/core/run/run-life";

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
  /**
   * The gathered light that it makes before its frames; null: its scene asks for none, or all of it was
   * there.
   */
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
