/**
 * The row of pictures that a handover shows: a slot for each frame that was asked for, in the order of the numbers, and
 * what is wrong with them. Pure; every kind of handover goes through here, so that movie, list and copies agree.
 *
 *     stop   nothing is made where any frame has a trouble
 *     hold   the picture of the nearest frame before that has none; a card where there is none before
 *     card   a black picture with the number
 */
import {
  difference,
  EMPTY,
  type FrameSet,
  intersection,
  members,
  setOf,
  union,
  unionAll,
} from "../frames/frame-set";
import type { Tally } from "../tally/tally";

export const GAPS = ["stop", "hold", "card"] as const;
/** What is shown in the place of a frame that cannot be handed over as it is. */
export type Gaps = (typeof GAPS)[number];

/** Kinds of trouble, the worst first; a frame has one of them. */
export const TROUBLES = ["missing", "flagged", "otherSize", "stale", "unchecked"] as const;
export type Trouble = (typeof TROUBLES)[number];
/** Disjoint sets of the frames that were asked for. */
export type Troubles = Readonly<Record<Trouble, FrameSet>>;

export type Slot =
  /** `from`: whose file it is; another frame's where that one is held. */
  | { readonly kind: "picture"; readonly frame: number; readonly from: number }
  | { readonly kind: "card"; readonly frame: number };

export interface LineUp {
  readonly slots: readonly Slot[];
  readonly troubles: Troubles;
}

export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/** Of frames whose file was looked at. */
export type SizesOfFrames = ReadonlyMap<number, PictureSize>;

const sizeKey = ({ width, height }: PictureSize): string => `${width}x${height}`;

/** The size that most frames have, of equals the one that comes first; null without any. */
export function usualSize(frames: FrameSet, sizes: SizesOfFrames): PictureSize | null {
  const counts = new Map<string, { readonly size: PictureSize; count: number }>();
  for (const frame of members(frames)) {
    const size = sizes.get(frame);
    if (size === undefined) continue;
    const known = counts.get(sizeKey(size)) ?? { size, count: 0 };
    known.count++;
    counts.set(sizeKey(size), known);
  }
  let usual: { readonly size: PictureSize; readonly count: number } | null = null;
  for (const one of counts.values()) if (usual === null || one.count > usual.count) usual = one;
  return usual?.size ?? null;
}

/** Each frame in the first row that matches. */
export function troublesOf(frames: FrameSet, tally: Tally, sizes: SizesOfFrames): Troubles {
  const usual = usualSize(frames, sizes);
  const otherSize =
    usual === null
      ? EMPTY
      : setOf(
          [...members(frames)].filter((f) => {
            const size = sizes.get(f);
            return size !== undefined && sizeKey(size) !== sizeKey(usual);
          }),
        );
  const { results } = tally;
  const present = unionAll([results.good, results.flagged, results.stale, results.unchecked, results.extra]);
  const found: Record<Trouble, FrameSet> = {
    missing: difference(frames, present),
    flagged: results.flagged,
    otherSize,
    stale: results.stale,
    unchecked: results.unchecked,
  };
  let open = frames;
  for (const trouble of TROUBLES) {
    found[trouble] = intersection(open, found[trouble]);
    open = difference(open, found[trouble]);
  }
  return found;
}

export const troubled = (troubles: Troubles): FrameSet =>
  TROUBLES.reduce<FrameSet>((all, trouble) => union(all, troubles[trouble]), EMPTY);

/** @param frames as asked for; @param gaps what is shown for a frame with a trouble */
export function lineUp(frames: FrameSet, tally: Tally, sizes: SizesOfFrames, gaps: Gaps): LineUp {
  const troubles = troublesOf(frames, tally, sizes);
  const bad = new Set(members(troubled(troubles)));
  let held: number | null = null;
  const slots = [...members(frames)].map((frame): Slot => {
    if (!bad.has(frame)) {
      held = frame;
      return { kind: "picture", frame, from: frame };
    }
    return gaps === "hold" && held !== null
      ? { kind: "picture", frame, from: held }
      : { kind: "card", frame };
  });
  return { slots, troubles };
}

/**
 * The row as it is played: the first picture and the last stay for so many frames more, and what is between them comes
 * so many times.
 */
export function played<S>(
  slots: readonly S[],
  how: { readonly loops: number; readonly holdFirst: number; readonly holdLast: number },
): readonly S[] {
  const [first, last] = [slots[0], slots.at(-1)];
  if (first === undefined || last === undefined) return [];
  const row: S[] = Array.from({ length: how.holdFirst }, () => first);
  for (let i = 0; i < how.loops; i++) for (const slot of slots) row.push(slot);
  for (let i = 0; i < how.holdLast; i++) row.push(last);
  return row;
}

/** In the words of the page and of the command line, the worst first. */
export const TROUBLE_WORD: Readonly<Record<Trouble, string>> = {
  missing: "no picture",
  flagged: "flagged",
  otherSize: "another picture size",
  stale: "out of date",
  unchecked: "not looked at yet",
};
