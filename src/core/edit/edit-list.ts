/**
 * What an edit list says, whatever its format: which clips show which source frames.
 * The one shape between formats and use: an EDL and a timeline are read into it, and from then on nobody
 * asks which it was. Readers tell the first thing that is wrong and where; they never guess a number.
 */

import { MAX_FRAME_NUMBER } from "../frames/frame-set";

export interface EditClip {
  /** Names that the list gives the clip, best first: clip name, reel, file. */
  readonly names: readonly string[];
  /** First source frame shown, and the one after the last. Counts as the source's time code has them. */
  readonly first: number;
  readonly end: number;
  /** Frames of the edit before it begins. */
  readonly starts: number;
  /** Where in the list it stands: a line of an EDL, a path in a timeline. */
  readonly at: string;
}

/** A stretch of sound: which file, and what of it is heard from when on. Counts are frames of the edit. */
export interface EditSound {
  /** As the list names its file, best first: a path or address, the clip's name, the reel. */
  readonly names: readonly string[];
  /** Of the source, and the one after the last. */
  readonly first: number;
  readonly end: number;
  /** Frames of the edit before it begins. */
  readonly starts: number;
}

export interface EditList {
  /** As the list calls itself; may be blank. */
  readonly title: string;
  /** Pictures, in the order of the list. */
  readonly clips: readonly EditClip[];
  /** In the order of the list; tracks lie over one another. */
  readonly sound: readonly EditSound[];
}

export interface EditFault {
  readonly code:
    | "edl-empty"
    | "edl-event"
    | "edl-speed"
    | "edl-time-code"
    | "edl-backwards"
    | "otio-json"
    | "otio-kind"
    | "otio-time";
  /** Of the text, from 1; null where the format has no lines. */
  readonly line: number | null;
  /** The whole sentence, for people. */
  readonly message: string;
}

/** The list, or the first fault in it. */
export type EditRead =
  { readonly ok: true; readonly edit: EditList } | { readonly ok: false; readonly fault: EditFault };

/**
 * Whether a clip shows frames that there can be: the numbers of a list are its writer's, and sets are made of
 * them.
 */
export const canBeShown = ({ first, end }: Pick<EditClip, "first" | "end">): boolean =>
  Number.isSafeInteger(first) &&
  Number.isSafeInteger(end) &&
  Math.abs(first) <= MAX_FRAME_NUMBER &&
  Math.abs(end) <= MAX_FRAME_NUMBER;

/** A refusal with the line that it is about; null where it is about the whole file. */
export const refuseEdit = (code: EditFault["code"], line: number | null, reason: string): EditRead => ({
  ok: false,
  fault: { code, line, message: line === null ? reason : `Line ${line}: ${reason}` },
});
