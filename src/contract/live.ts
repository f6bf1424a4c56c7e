/**
 * What is told to open pages while things change.
 * A page opens one stream and hears of everything on it. A message is never the whole state but what
 * changed, so that a page of 100,000 frames costs no more than the frames that change; a page that missed
 * something asks for the whole once, and goes on from there.
 */
import type { NodeView } from "./node-view";
import type { VersionChange } from "./sequence-view";

export interface RenderingView {
  readonly runId: number;
  /** Its name in addresses. */
  readonly project: string;
  /** Code of the shot. */
  readonly shot: string;
  /** Name of the version. */
  readonly version: string;
  /** A proof: no frame of the sequence is in work. */
  readonly isProof: boolean;
  /** Gathers light: no frame of the sequence is in work. */
  readonly isLight: boolean;
  /** Of the beauty pass: the other passes come from the same rendering. */
  readonly sequenceId: number;
  /** Number of the frame's file. */
  readonly frame: number;
  readonly node: string;
  /** From 0 to 1, as the renderer says. */
  readonly progress: number;
  /** Since this attempt began, by the database's clock. */
  readonly seconds: number;
  /** What frames beside it took; null until the run has made one. */
  readonly expectedSeconds: number | null;
}

/** A project whose folder the server cannot see at the moment. */
export interface OutOfSightView {
  /** Its name in addresses. */
  readonly project: string;
  /** Absolute, on the server. */
  readonly folder: string;
  /** Milliseconds since 1970: when it was first missed. */
  readonly since: number;
  /** What the system says, or that it is not the project's. */
  readonly why: string;
}

/**
 * Server-sent messages. `changed` names the sequences whose view is out of date; `null` is every one.
 * `frames` brings what has changed with it.
 */
export type LiveMessage =
  | { readonly type: "frames"; readonly change: VersionChange }
  | { readonly type: "changed"; readonly sequences: readonly number[] | null }
  | {
      readonly type: "live";
      readonly rendering: readonly RenderingView[];
      readonly nodes: readonly NodeView[];
      /** Since any node finished a frame; null before the first. */
      readonly lastFrameSeconds: number | null;
      /** Empty where every folder is there. */
      readonly outOfSight: readonly OutOfSightView[];
    }
  | { readonly type: "trouble"; readonly message: string };
