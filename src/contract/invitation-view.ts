/** An invitation as pages show it, and what asks for one. */
import { MACHINE_NAME } from "@/core/naming/name";
import { BOUNDS } from "./bounds";
import { rootName } from "./configuration";
import { line } from "./declared-texts";
import { checker, objectOf } from "./validate";
import type { Who } from "./who";

export interface InvitationView {
  /** Of the node. */
  readonly name: string;
  /** Invited: nobody has used it. Joined: a node of this name has worked since. Revoked: its key is good no more. */
  readonly state: "invited" | "joined" | "revoked";
  readonly by: Who;
  /** Milliseconds since 1970, by the database's clock. */
  readonly at: number;
  readonly revoked: { readonly by: Who; readonly at: number } | null;
}

export interface InvitationsView {
  /** By name. */
  readonly invitations: readonly InvitationView[];
  /** Where other machines reach this one; null: nowhere, it was not started for that. */
  readonly listens: string | null;
  /** Storage roots, as they lie here. */
  readonly roots: Readonly<Record<string, string>>;
}

/** What is told once. */
export interface InvitedView {
  /** To run on the other machine. */
  readonly line: string;
}

export interface InviteBody {
  readonly name: string;
  /** Where roots lie on the other machine, which shares no others; none: all, and it is asked where. */
  readonly roots: Readonly<Record<string, string>>;
  /** By which it reaches this one; null: as this one listens. */
  readonly address: string | null;
  /** Whether one that is invited gets another key. */
  readonly again: boolean;
}

export const checkInvite = checker<InviteBody>(
  objectOf<InviteBody>({
    name: { type: "string", pattern: MACHINE_NAME },
    roots: {
      type: "object",
      required: [],
      maxProperties: BOUNDS.roots,
      propertyNames: rootName,
      additionalProperties: { ...line, pattern: "^/" },
    },
    address: { type: ["string", "null"], pattern: "^[0-9A-Za-z.:-]{1,253}$" },
    again: { type: "boolean" },
  }),
);
