/**
 * What one line brings to another machine: where the database is, the key of its node, by what the database's certificate is
 * known, and where the storage lies there. One word, so that no shell and no mail breaks it. Types, schema and text alone.
 */
import { MACHINE_NAME } from "@/core/naming/name";
import { rootName } from "./configuration";
import { BOUNDS } from "./bounds";
import { checker, objectOf, type Checked } from "./validate";

export interface Invitation {
  /** Of the node. */
  readonly name: string;
  /** Of the database, as the other machine reaches it. */
  readonly host: string;
  readonly port: number;
  readonly database: string;
  /** Of the account, and its key. */
  readonly account: string;
  readonly token: string;
  /** SHA-256 of the database's certificate, hexadecimal. */
  readonly fingerprint: string;
  /** Of the program: another one is refused by its name. */
  readonly version: string;
  /** Storage roots by name; the folder there, or null where the other machine has to say it. */
  readonly roots: Readonly<Record<string, string | null>>;
}

const PREFIX = "tally1.";
/** Bytes of a token: nobody guesses them, so that a plain hash keeps them. */
export const TOKEN_BYTES = 32;

const line = (maxLength: number): object => ({ type: "string", minLength: 1, maxLength });

const checkInvitation = checker<Invitation>(
  objectOf<Invitation>({
    name: { type: "string", pattern: MACHINE_NAME },
    host: { type: "string", pattern: "^[0-9A-Za-z.:-]{1,255}$" },
    port: { type: "integer", minimum: 1, maximum: 65_535 },
    database: { type: "string", pattern: "^[0-9A-Za-z_]{1,64}$" },
    account: { type: "string", pattern: "^[0-9A-Za-z_-]{1,80}$" },
    token: { type: "string", pattern: "^[0-9A-Za-z_-]{20,100}$" },
    fingerprint: { type: "string", pattern: "^[0-9a-f]{64}$" },
    version: line(40),
    roots: {
      type: "object",
      maxProperties: BOUNDS.roots,
      propertyNames: rootName,
      additionalProperties: { type: ["string", "null"], pattern: "^/", maxLength: BOUNDS.configurationLine },
    },
  }),
);

/** The word that is pasted on the other machine. */
export const writeInvitation = (invitation: Invitation): string =>
  PREFIX + Buffer.from(JSON.stringify(invitation), "utf8").toString("base64url");

/** Reads it back, blanks around it left out. A word that was cut or is of something else is told as broken. */
export function readInvitation(text: string): Checked<Invitation> {
  const word = text.trim();
  const broken = (message: string): Checked<Invitation> => ({ ok: false, faults: [{ path: "", message }] });
  if (!word.startsWith(PREFIX)) return broken(`does not begin with ${PREFIX}`);
  if (word.length > BOUNDS.invitation) return broken("is too long");
  try {
    return checkInvitation(JSON.parse(Buffer.from(word.slice(PREFIX.length), "base64url").toString("utf8")));
  } catch {
    return broken("is not whole");
  }
}
