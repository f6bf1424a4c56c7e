/**
 * When the samples of a frame in work are saved.
 * Part of the effort and not of the look: it decides what a stop costs, never what a picture is.
 */
export type CheckpointRule =
  | { readonly kind: "every"; readonly minutes: number }
  /** Only when somebody stops the run or the node. */
  | { readonly kind: "on-stop" }
  | { readonly kind: "never" };

/** What a plan means that says nothing: at most five minutes of work are ever lost. */
export const USUAL_CHECKPOINTS = { kind: "every", minutes: 5 } as const satisfies CheckpointRule;
/** A second and a half: for short tests; less would only write. */
export const MIN_CHECKPOINT_MINUTES = 0.025;
