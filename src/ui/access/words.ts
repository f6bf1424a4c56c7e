/** Texts of signing in, of people and of the audit. */
import { OPERATIONS } from "@/contract/operations";
import type { AuditLine } from "@/contract/people";
import type { Role } from "@/core/access/roles";

export const ROLE_HINT: Readonly<Record<Role, string>> = {
  look: "sees everything, changes nothing",
  mark: "looks, flags, judges odd frames, has files checked",
  run: "all that, and plans, renders, takes in, hands over",
  "keep-house": "all that, and decides of nodes, people and what goes",
};

export const didText = ({ did }: Pick<AuditLine, "did">): string => OPERATIONS[did]?.did ?? did;

/** Where it was done, as an address without what all have; an address that cannot be read stands as it is. */
export function placeText({ what }: Pick<AuditLine, "what">): string {
  const place = what.replace(/^\/api\//, "");
  try {
    return decodeURI(place);
  } catch {
    return place;
  }
}

/** What came of it. */
export const statusText = ({ status }: Pick<AuditLine, "status">): string =>
  status === null
    ? "no answer"
    : status < 400
      ? "done"
      : status === 401 || status === 403
        ? "not allowed"
        : status === 429
          ? "too often"
          : status >= 500
            ? "failed"
            : "refused";

export const ACCESS_TEXT = {
  signIn: "Sign in",
  keyHint: "As it was given to you by whoever keeps the house.",
  alone:
    "Nobody signs in here: the pages answer on this machine alone. Started with --host ADDRESS they are reached over the network, by whoever has a key.",
  toldOnce: (name: string): string =>
    `This is the key of ${name}. It is told this once: give it to nobody else.`,
  lead: "Each has a key of their own. Another key, or none, turns out what is signed in.",
  given: "Names without a role were given by whoever asked, on this machine: they prove nothing.",
} as const;
