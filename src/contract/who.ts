/**
 * Who does something: the name that a person gave on the page or has at the command line. It is no proof of
 * identity; it is what others read beside a flag, a stop or a choice. Types and names alone.
 */

/** As it was given; null: nobody said. */
export type Who = string | null;

/** Header of a request that carries the name, percent-encoded: headers hold no other letters. */
export const WHO_HEADER = "x-plain-tally-who";

/** What people do to runs, versions, shots, projects and nodes. */
export const DEEDS = [
  "start",
  "stop",
  "stop-now",
  "go-on",
  "change",
  "put-back",
  "take-back",
  "choose",
  "open",
  "pause",
  "let-in",
  "set-aside",
  "make",
  "archive",
  "bring-back",
  "remove",
  "discard",
  "invite",
  "revoke",
  "send",
  "send-back",
] as const;
export type DeedKind = (typeof DEEDS)[number];

export interface DeedView {
  readonly who: Who;
  readonly did: DeedKind;
  /** Milliseconds since 1970, by the server's clock. */
  readonly at: number;
  /** The reason that was given; null: none. */
  readonly why: string | null;
}
