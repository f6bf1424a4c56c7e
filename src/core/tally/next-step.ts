/**
 * The one next step of a shot, from its counts and whether a run is on.
 * The ledger asks for it, and a line there never offers two: what is most worth doing, not all that could
 * be done.
 */
import type { TallyCounts } from "./tally";

/** What it is, with the number of frames where there are several. */
export type NextStep =
  | { readonly step: "watch" }
  | { readonly step: "resume"; readonly frames: number }
  | { readonly step: "run"; readonly frames: number }
  | { readonly step: "run-rest"; readonly frames: number }
  | { readonly step: "patch"; readonly frames: number }
  /** Something else renders them. */
  | { readonly step: "ask"; readonly frames: number }
  /** All is good: it can be given away. */
  | { readonly step: "hand-over" };

/**
 * @param stoppedLeft frames that a stopped run still owns
 * @param isWatched something else renders the frames
 */
export function nextStep(
  counts: TallyCounts,
  isRunning: boolean,
  stoppedLeft: number,
  isWatched = false,
): NextStep {
  const { good, flagged, stale, missing, partial, failed } = counts.results;
  const open = missing + partial + failed;
  if (isWatched)
    return open + flagged + stale > 0
      ? { step: "ask", frames: open + flagged + stale }
      : { step: "hand-over" };
  if (isRunning) return { step: "watch" };
  if (stoppedLeft > 0) return { step: "resume", frames: stoppedLeft };
  if (flagged + stale + failed > 0) return { step: "patch", frames: open + flagged + stale };
  if (open === counts.asked) return { step: "run", frames: open };
  if (open > 0)
    return good * 2 > counts.asked ? { step: "patch", frames: open } : { step: "run-rest", frames: open };
  return { step: "hand-over" };
}
