/** A patch list in ranges that say why: frames of one reason together, in the order in which they come first. */
import { difference, EMPTY, firstOf, type FrameSet, intersection, setOf } from "../frames/frame-set";
import { groupBy } from "../many";
import type { Tally } from "../tally/tally";

/** What is known of an open finding. */
export interface Reason {
  readonly frame: number;
  readonly source: "check" | "node" | "person" | "odd";
  readonly code: string;
  readonly text: string;
}

/** Results that need rendering, besides the flagged ones. */
export const UNDONE = ["missing", "failed", "partial", "stale"] as const;

export interface PatchRange {
  readonly result: (typeof UNDONE)[number] | "flagged";
  /** In a person's words, or the code of what was found; null where the result says all. */
  readonly why: string | null;
  /** The words are a person's. */
  readonly isSaid: boolean;
  readonly frames: FrameSet;
}

/** A frame that is flagged for several things is in the range of the first. */
export function patchRanges(
  { results, activities }: Pick<Tally, "results" | "activities">,
  findings: readonly Reason[],
): readonly PatchRange[] {
  // What a node has in hand is seen to.
  const idle = (set: FrameSet): FrameSet =>
    difference(difference(set, activities.rendering), activities.waiting);
  const undone = UNDONE.map((result): PatchRange => ({
    result,
    why: null,
    isSaid: false,
    frames: idle(results[result]),
  }));
  const flagged = idle(results.flagged);
  const firstReasons = [...groupBy(findings, ({ frame }) => frame).values()].map(([first]) => first!);
  const byWhy = groupBy(firstReasons, ({ source, code, text }) =>
    JSON.stringify(source === "person" ? { isSaid: true, why: text } : { isSaid: false, why: code }),
  );
  const ranges = [...byWhy].map(([key, own]): PatchRange => {
    const { isSaid, why } = JSON.parse(key) as { readonly isSaid: boolean; readonly why: string };
    return {
      result: "flagged",
      why,
      isSaid,
      frames: intersection(flagged, setOf(own.map(({ frame }) => frame))),
    };
  });
  const told = ranges.reduce((left, { frames }) => difference(left, frames), flagged);
  return [
    ...undone,
    ...ranges,
    { result: "flagged" as const, why: null, isSaid: false, frames: told.count > 0 ? told : EMPTY },
  ]
    .filter(({ frames }) => frames.count > 0)
    .sort((a, b) => firstOf(a.frames)! - firstOf(b.frames)!);
}
