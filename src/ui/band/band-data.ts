/**
 * What the band draws from, by column: for each position (asked frames and extra ones, ascending)
 * one byte of result and one of activity. Made once a change of the tally; panning only reads it.
 */
import { type FrameSet, union } from "@/core/frames/frame-set";
import { FrameIndex } from "@/core/frames/frame-index";
import { ACTIVITIES, type Activity, type Result, type Tally, WORST_FIRST } from "@/core/tally/tally";

export interface BandData {
  /** Numbers of frames by position, and back. */
  readonly index: FrameIndex;
  /** Position in WORST_FIRST: the smaller the worse, so that the worst of a stretch is its minimum. */
  readonly results: Uint8Array;
  /** 0 idle, else 1 + position in ACTIVITIES. */
  readonly activities: Uint8Array;
}

/** Made anew for each tally: linear in frames, a few milliseconds for 100,000. */
export function makeBandData(tally: Tally): BandData {
  const index = new FrameIndex(union(tally.asked, tally.results.extra));
  const results = new Uint8Array(index.count);
  const activities = new Uint8Array(index.count);
  WORST_FIRST.forEach((result, code) => fill(index, results, tally.results[result], code));
  ACTIVITIES.forEach((activity, i) => fill(index, activities, tally.activities[activity], i + 1));
  return { index, results, activities };
}

/** Writes a code at the positions of a set's frames, run by run where positions are neighbours. */
function fill(index: FrameIndex, column: Uint8Array, set: FrameSet, code: number): void {
  for (const run of set.runs) {
    const from = index.positionOf(run.first);
    const to = index.positionOf(run.last);
    if (from !== null && to !== null && to - from === (run.last - run.first) / run.step) {
      column.fill(code, from, to + 1);
      continue;
    }
    for (let frame = run.first; frame <= run.last; frame += run.step) {
      const at = index.positionOf(frame);
      if (at !== null) column[at] = code;
    }
  }
}

/** Result of the frame at a position. */
export const resultAt = (data: BandData, position: number): Result => WORST_FIRST[data.results[position]!]!;

/** What goes on with it. */
export const activityAt = (data: BandData, position: number): Activity | "idle" =>
  data.activities[position] === 0 ? "idle" : ACTIVITIES[data.activities[position]! - 1]!;

/** The worst result among positions [from, to). */
export function worstOf(data: BandData, from: number, to: number): Result {
  let worst = WORST_FIRST.length - 1;
  for (let i = from; i < to && worst > 0; i++) if (data.results[i]! < worst) worst = data.results[i]!;
  return WORST_FIRST[worst]!;
}
