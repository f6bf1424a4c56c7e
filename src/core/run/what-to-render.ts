/**
 * Which of the wanted frames a run renders under a policy, and the reason for each frame either way.
 * Results alone decide, with one exception: what a run has already is never given to a second one.
 */
import { difference, type FrameSet, intersection, union, unionAll, EMPTY } from "../frames/frame-set";
import type { Pass } from "../plan/passes";
import { RESULTS, type Result, type Tally } from "../tally/tally";

/**
 * fill: what has no picture; mend: also what is not good; all: everything anew; refine: more samples where
 * less than the plan asks was made.
 */
export const POLICIES = ["fill", "mend", "all", "refine"] as const;
/** What somebody asks for by one word. */
export type Policy = (typeof POLICIES)[number];

/** Results that a policy renders; everything else is kept. */
const RENDERS: Readonly<Record<Policy, readonly Result[]>> = {
  fill: ["missing", "partial", "failed"],
  mend: ["missing", "partial", "failed", "flagged", "stale"],
  all: ["missing", "partial", "failed", "flagged", "stale", "good", "unchecked"],
  refine: ["missing", "partial", "failed"],
};

/**
 * Why a frame is rendered or kept: its result, that it holds too few samples, or that another run already has
 * it.
 */
export type FrameReason = Exclude<Result, "extra"> | "few-samples" | "in-a-run";

export interface ReasonedFrames {
  /** One for all of them. */
  readonly reason: FrameReason;
  readonly frames: FrameSet;
}

export interface RenderDecision {
  /** With the reason for each; disjoint. */
  readonly render: readonly ReasonedFrames[];
  /** With the reason for each; disjoint from what is rendered. */
  readonly keep: readonly ReasonedFrames[];
  /** All of `render` together. */
  readonly toRender: FrameSet;
  /** Wanted, but the plan does not ask for them. */
  readonly notAsked: FrameSet;
}

/** Pure: frames outside the plan are never rendered; frames that wait or render elsewhere are kept out. */
export function framesToRender(tally: Tally, wanted: FrameSet, policy: Policy): RenderDecision {
  const asked = intersection(wanted, tally.asked);
  const busy = intersection(asked, union(tally.activities.waiting, tally.activities.rendering));
  const free = difference(asked, busy);
  const render: ReasonedFrames[] = [];
  const keep: ReasonedFrames[] = [];
  for (const reason of RESULTS) {
    if (reason === "extra") continue;
    const result = intersection(free, tally.results[reason]);
    const refined = policy === "refine" && reason === "good" ? intersection(result, tally.refinable) : EMPTY;
    if (refined.count > 0) render.push({ reason: "few-samples", frames: refined });
    const frames = difference(result, refined);
    if (frames.count > 0) (RENDERS[policy].includes(reason) ? render : keep).push({ reason, frames });
  }
  if (busy.count > 0) keep.push({ reason: "in-a-run", frames: busy });
  return {
    render,
    keep,
    toRender: render.length === 0 ? EMPTY : unionAll(render.map((r) => r.frames)),
    notAsked: difference(wanted, tally.asked),
  };
}

/** Frames of one camera that share the passes to be written. */
export interface PassFrames {
  readonly passes: readonly Pass[];
  /** That need exactly these passes. */
  readonly frames: FrameSet;
}

/**
 * Puts the decisions of a camera's passes together: each frame once, with the passes that need it. Disjoint.
 */
export function sharePasses(
  decisions: readonly { readonly pass: Pass; readonly toRender: FrameSet }[],
): PassFrames[] {
  let parts: PassFrames[] = [];
  for (const { pass, toRender } of decisions) {
    const next: PassFrames[] = [];
    let left = toRender;
    for (const part of parts) {
      const both = intersection(part.frames, left);
      const alone = difference(part.frames, left);
      left = difference(left, part.frames);
      if (both.count > 0) next.push({ passes: [...part.passes, pass], frames: both });
      if (alone.count > 0) next.push({ passes: part.passes, frames: alone });
    }
    if (left.count > 0) next.push({ passes: [pass], frames: left });
    parts = next;
  }
  return parts;
}
