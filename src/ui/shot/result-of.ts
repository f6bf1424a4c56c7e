/**
 * The result of one frame of a tally, or null for a frame that is neither asked nor there.
 * What a frame is called in the sentence and drawn as on the band: results are disjoint, so there is one at
 * most.
 */
import { has } from "@/core/frames/frame-set";
import { type Result, RESULTS, type Tally } from "@/core/tally/tally";

/** Eight sets are asked: for one frame, not for each that is drawn. */
export const resultOf = (tally: Tally, frame: number): Result | null =>
  RESULTS.find((result) => has(tally.results[result], frame)) ?? null;
