/**
 * The other source of a plan: folders that something else fills. Each sequence has a place of its own there, and a name
 * that was found and not made. Nothing of ours is ever written into these folders.
 */
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
