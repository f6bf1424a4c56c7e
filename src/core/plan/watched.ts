/**
 * The other source of a plan: folders that something else fills. Each sequence has a place of its own there, and a name
 * that was found and not made. Nothing of ours is ever written into these folders.
 */
import { EMPTY, firstOf, type FrameSet, lastOf, rangeSet, union } from "../frames/frame-set";
import type { Pass } from "./passes";
import { padFrame } from "../naming/pattern";

/** One sequence among the files of a folder: all that differ in their number alone. */
export interface WatchedPlace {
  /** Name of a storage root. */
  readonly root: string;
  /** Relative to it; blank for the root itself. */
  readonly folder: string;
  /** What stands before the number, in every file. */
  readonly prefix: string;
  /** What stands behind it, with the ending. */
  readonly suffix: string;
  /** Of most of the numbers. */
  readonly digits: number;
}

export interface WatchedSequence {
  readonly camera: string;
  readonly pass: Pass;
  readonly place: WatchedPlace;
  /** Of its pictures, in pixels; null while none could be read. */
  readonly size: { readonly width: number; readonly height: number } | null;
}

export interface Watched {
  /** In the order in which they are shown; the first stands for the version. */
  readonly sequences: readonly WatchedSequence[];
  /** Asks for all from the first frame that is there to the last, besides what the plan says. */
  readonly followsFiles: boolean;
}

/** A place in one text: two that are one have the same. */
export const placeKey = ({ root, folder, prefix, suffix }: WatchedPlace): string =>
  JSON.stringify([root, folder, prefix, suffix]);

/** What the file of a frame is usually called there. */
export const nameInPlace = ({ prefix, suffix, digits }: WatchedPlace, frame: number): string =>
  prefix + padFrame(frame, digits) + suffix;

/** The name with # for each digit. */
export const placeName = ({ prefix, suffix, digits }: WatchedPlace): string =>
  prefix + "#".repeat(digits) + suffix;

/** First and last frame that a sequence has a file of. */
export interface Extent {
  readonly first: number;
  readonly last: number;
}

const meets = (a: Extent, b: Extent): boolean => a.first <= b.last && b.first <= a.last;

/** From the first to the last of a sequence and of all that share frames with it, directly or through others. */
export function sharedExtent(own: Extent, all: Iterable<Extent>): Extent {
  let shared = own;
  for (let rest = [...all], isGrowing = true; isGrowing;) {
    const met = rest.filter((extent) => meets(extent, shared));
    rest = rest.filter((extent) => !met.includes(extent));
    isGrowing = met.length > 0;
    for (const { first, last } of met)
      shared = { first: Math.min(shared.first, first), last: Math.max(shared.last, last) };
  }
  return shared;
}

/**
 * Frames that a sequence is asked for while its plan follows its files: a pass that is shorter than the others lacks
 * some, and one of other numbers altogether lacks none of theirs.
 * @param planned what the plan says besides
 * @param own null while there is no file
 * @param most frames of a plan: where a stray number makes it more, the plan alone counts
 */
export function followedFrames(
  planned: FrameSet,
  own: Extent | null,
  all: Iterable<Extent>,
  most: number,
): FrameSet {
  if (own === null) return planned;
  const shared = sharedExtent(own, all);
  const [first, last] = [firstOf(planned), lastOf(planned)];
  const isOfPlan = first !== null && last !== null && meets({ first, last }, shared);
  const found = shared.last - shared.first < most ? rangeSet(shared.first, shared.last) : EMPTY;
  return isOfPlan || found.count === 0 ? union(planned, found) : found;
}
