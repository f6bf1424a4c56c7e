/** joined.json: what a machine keeps of the house that it has joined. It holds a key, and is readable for its owner alone. */
import { MACHINE_NAME } from "@/core/naming/name";
import { BOUNDS } from "./bounds";
import { rootName } from "./configuration";
import { line } from "./declared-texts";
import { checker, objectOf } from "./validate";

export interface JoinedHouse {
  /** Of the node that was invited. */
  readonly name: string;
  /** With the key, and with the certificate that the other side has to show. */
  readonly databaseUrl: string;
  /** Storage roots, where they lie on this machine. */
  readonly roots: Readonly<Record<string, string>>;
}

export const checkJoined = checker<JoinedHouse>(
  objectOf<JoinedHouse>({
    name: { type: "string", pattern: MACHINE_NAME },
    databaseUrl: { type: "string", pattern: "^mysql://", maxLength: BOUNDS.invitation },
    roots: {
      type: "object",
      required: [],
      maxProperties: BOUNDS.roots,
      propertyNames: rootName,
      additionalProperties: line,
    },
  }),
);
