/**
 * Runs as the pages show them: how far, how fast, what came of it. Types alone: pages may import them.
 * Counts are of frames where nothing else is said: a frame with four passes counts once. All times are
 * milliseconds since 1970 and all durations seconds.
 */
import type { DispatchView } from "./cluster";
import type { DeedView } from "./who";
import type { Awaited, RendererLimit } from "@/core/run/standstill";
import type { PreflightPoint } from "@/core/run/preflight";
import type { Policy } from "@/core/run/what-to-render";
import type { RunHeld } from "./hold";
import type { RunManner } from "./run-manner";
import type { RunState } from "@/core/run/run-life";

/** How fast a run goes and when it ends: changes by the clock too, while nothing happens. */
export interface RunPaceView {
  /** Mean of those made last; null before the first. */
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
  /** Revision of the plan that it follows in each of them, and the newest one that is saved. */
  readonly revisions: readonly {
    readonly version: string;
    readonly follows: number;
    readonly newest: number;
  }[];
  readonly state: RunState;
  /** What decided which of the wanted frames were needed. */
  readonly policy: Policy;
  /** The frames that it was started for, as a phrase. */
  readonly wanted: string;
  /**
   * The gathered light that it makes before its frames; null: its scene asks for none, or all of it was
   * there.
   */
  readonly lighting: { readonly made: number; readonly total: number } | null;
  /** The run that it waits for, and why that is not good yet; null: it waits for none, or for none any more. */
  readonly awaits: Awaited | null;
  /** Of its renderer, where only so many frames may be in work at once. */
  readonly limit: RendererLimit | null;
  /** How it stands with a batch system; null: it is not with one. */
  readonly dispatch: DispatchView | null;
  /** Its frames are with machines that are not connected. */
  readonly isHandedOut: boolean;
  /** Why no frame of it is leased though it goes on. */
  readonly held: RunHeld | null;
  /** Frames that are its work: done, failed and left. */
  readonly total: number;
  /** Made by this run. */
  readonly done: number;
  /** Given up after their tries. */
  readonly failed: number;
  /** Waiting or in work. */
  readonly left: number;
  /** What people did to it, the newest first. */
  readonly deeds: readonly DeedView[];
  readonly createdAt: number;
  /** Null while it goes, or may go on. */
  readonly endedAt: number | null;
}

/** Shares of a run that was handed out to machines that are not connected. */
export interface HandOutView {
  /** What to take along: absolute path of the folder with the plan file and the scene. */
  readonly folder: string;
  /** Where the frames that come back belong: absolute path of the version's folder. */
  readonly returnTo: string;
  readonly shares: readonly {
    /** As it was named when the run was handed out. */
    readonly machine: string;
    /** What it was given, as a phrase. */
    readonly frames: string;
    /** How many frames that are. */
    readonly count: number;
    /** How many of them have come back and were taken in. */
    readonly back: number;
    /** Frames that are not back, as a phrase. */
    readonly missing: string;
    /** What was still missing is rendered here instead. */
    readonly isTakenBack: boolean;
    /** What to type on that machine. */
    readonly command: string;
  }[];
}

/** What a run came to, or has come to so far. */
export interface RunSummaryView {
  readonly id: number;
  readonly state: RunState;
  /** Frames that came of it. */
  readonly made: number;
  /** Frames that it left alone when it started. */
  readonly kept: number;
  /** Frames that still wait, or were stopped. */
  readonly left: number;
  readonly setAside: { readonly count: number; readonly frames: string };
  /** Housekeeping has removed what its nodes did: seconds and nodes are not known any more. */
  readonly isTidied: boolean;
  /** In which it made frames, from the first one's start to the last one's end; null before one has ended. */
  readonly seconds: number | null;
  /** Between them: stopped, paused, held, or without a node. */
  readonly stoodStillSeconds: number;
  /** Seconds of all attempts on all nodes together. */
  readonly workSeconds: number;
  /** As it was estimated when it started; null: nothing was timed. */
  readonly estimatedSeconds: number | null;
  /** What people did to it, the newest first. */
  readonly deeds: readonly DeedView[];
  /** One of each version. */
  readonly folders: readonly string[];
  readonly nodes: readonly {
    readonly node: string;
    /** Frames that this node finished. */
    readonly made: number;
    /** Attempts that ended in a fault. */
    readonly failed: number;
    /** Attempts whose lease ran out. */
    readonly lost: number;
    /** Spent in all its attempts. */
    readonly seconds: number;
  }[];
}

export interface PreflightView {
  /** In the order of what to look at first; a red one stops the start. */
  readonly points: readonly PreflightPoint[];
}

export interface LogLine {
  /** Ascending: the page asks for what came after the last one it has. */
  readonly id: number;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly run: number;
  readonly node: string;
  readonly frame: number;
  readonly level: "info" | "warning" | "error";
  readonly text: string;
}
