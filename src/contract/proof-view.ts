/** Proofs as the Prove bench shows them, with all that an estimate is made from. */
import type { CostSample } from "@/core/estimate/cost-model";
import type { Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import type { RunView } from "./run-view";

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
