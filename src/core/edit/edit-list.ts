/** What an edit list says, whatever its format: which clips show which source frames. */

export interface EditClip {
  /** Names that the list gives the clip, best first: clip name, reel, file. */
  readonly names: readonly string[];
  /** First source frame shown, and the one after the last. Counts as the source's time code has them. */
  readonly first: number;
  readonly end: number;
  /** Where in the list it stands: a line of an EDL, a path in a timeline. */
  readonly at: string;
}

export interface EditList {
  readonly title: string;
  readonly clips: readonly EditClip[];
}

export interface EditFault {
  readonly code:
    "edl-empty" | "edl-event" | "edl-time-code" | "edl-backwards" | "otio-json" | "otio-kind" | "otio-time";
  readonly line: number | null;
  readonly message: string;
}

export type EditRead =
  { readonly ok: true; readonly edit: EditList } | { readonly ok: false; readonly fault: EditFault };

/** A refusal with the line that it is about; null where it is about the whole file. */
export const refuseEdit = (code: EditFault["code"], line: number | null, reason: string): EditRead => ({
  ok: false,
  fault: { code, line, message: line === null ? reason : `Line ${line}: ${reason}` },
});
