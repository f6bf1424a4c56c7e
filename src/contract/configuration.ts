/** plain-tally.config.json: what the server and the nodes of a place share. */
import { checker } from "./validate";

export interface Configuration {
  readonly databaseUrl?: string;
  /** Storage roots: a name that the database keeps, and the folder it means on this machine. */
  readonly roots?: Readonly<Record<string, string>>;
}

export const checkConfiguration = checker<Configuration>({
  type: "object",
  additionalProperties: false,
  properties: {
    databaseUrl: { type: "string", pattern: "^(mysql|mariadb)://" },
    roots: { type: "object", required: [], additionalProperties: { type: "string", minLength: 1 }, propertyNames: { pattern: "^[a-z][a-z0-9-]*$" } },
  },
});
