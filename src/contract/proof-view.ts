/**
 * Proofs as the Prove bench shows them, with all that an estimate is made from.
 * A proof is a run of some frames with a plan that need not be saved. What it measured is kept with the
 * plan that it measured, so that the page can tell which proofs still fit after an edit and say so where
 * they do not.
 */
import type { CostSample, TimedLight } from "@/core/estimate/cost-model";
import type { Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import type { RunView } from "./run-view";

export interface ProofPass {
  readonly pass: Pass;
  /** Where the picture belongs; its file lies with the proofs, not with the frames. */
  readonly sequenceId: number;
  /** Hash of the file: part of the picture's address. */
  readonly content: string;
  /** Of the file as written. */
  readonly bytes: number;
  /** Measured in the picture; see core/image. */
  readonly noise: number;
  /** Mean, from 0 to 1, as shown. */
  readonly luminance: number;
  /** The saved plan would make this very file. */
  readonly fits: boolean;
}

export interface ProofFrame {
  readonly camera: string;
  /** Render seconds with what they hang on: the estimate is made from these. */
  readonly cost: CostSample;
  /** What ended the sampling; null where the renderer is a program of its own. */
  readonly stoppedBy: "samples" | "noise" | "time" | null;
  readonly passes: readonly ProofPass[];
}

export interface ProofView {
  readonly runId: number;
  /** Of the run that makes the proofs. */
  readonly state: RunView["state"];
  /** What was proved, with edits that may never have been saved. */
  readonly plan: Plan;
  /** The frames, as a phrase. */
  readonly wanted: string;
  /** Frames that still wait or are in work. */
  readonly left: number;
  /** Frames that were given up. */
  readonly failed: number;
  /** Milliseconds since 1970. */
  readonly createdAt: number;
  readonly frames: readonly ProofFrame[];
}

/** What is known of a version's gathered light. */
export interface LightView {
  /** Those that are there and fit for the saved plan, a phrase for each camera. */
  readonly there: Readonly<Record<string, string>>;
  /** Seconds of such as were made, newest first. */
  readonly timed: readonly TimedLight[];
}

export interface ProofsView {
  /** Newest first. */
  readonly proofs: readonly ProofView[];
  /** Frames of real runs of the version, newest first. */
  readonly history: readonly CostSample[];
  /** Share of the work that made no frame lately. */
  readonly lostShare: number;
  readonly lighting: LightView;
  /** On the disk of the project's folder; null where it cannot be seen. */
  readonly freeBytes: number | null;
}
