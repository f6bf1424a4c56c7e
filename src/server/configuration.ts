/**
 * Where this process finds its database and its storage roots. In order: environment, the file
 * plain-tally.config.json, what the start command of this checkout left in var/run/state.json.
 */
import fs from "node:fs";
import path from "node:path";
import { checkConfiguration, type Configuration } from "@/contract/configuration";
import { faultText } from "@/contract/validate";
import { TallyError } from "./errors";

export interface Settings {
  readonly home: string;
  readonly databaseUrl: string;
  readonly roots: Readonly<Record<string, string>>;
}

export const home = (): string => process.env.PLAIN_TALLY_HOME ?? process.cwd();

function readJson(file: string): unknown {
  let text: string;
  try {
    text = fs.readFileSync(file, "utf8");
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return null;
    throw error;
  }
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new TallyError("configuration-broken", `${file} is not JSON: ${(error as Error).message}`);
  }
}

function readConfiguration(): Configuration {
  const file = path.join(home(), "plain-tally.config.json");
  const value = readJson(file);
  if (value === null) return {};
  const checked = checkConfiguration(value);
  if (!checked.ok) throw new TallyError("configuration-broken", `${file}: ${faultText(checked.faults)}`);
  return checked.value;
}

/** PLAIN_TALLY_ROOTS is `name=folder` pairs, parted by the system's path separator. */
const readRoots = (text: string): Record<string, string> =>
  Object.fromEntries(text.split(path.delimiter).map((pair) => [pair.slice(0, pair.indexOf("=")), pair.slice(pair.indexOf("=") + 1)]));

/** The private database of this checkout while its start command runs. */
const runningDatabase = (): string | undefined => (readJson(path.join(home(), "var/run/state.json")) as { databaseUrl?: string } | null)?.databaseUrl;

export function settings(): Settings {
  const configuration = readConfiguration();
  const databaseUrl = process.env.PLAIN_TALLY_DATABASE_URL ?? configuration.databaseUrl ?? runningDatabase();
  if (databaseUrl === undefined) {
    throw new TallyError("no-database", "No database is known: start the demo with `npm run demo`, or set PLAIN_TALLY_DATABASE_URL.");
  }
  const roots = process.env.PLAIN_TALLY_ROOTS !== undefined ? readRoots(process.env.PLAIN_TALLY_ROOTS) : (configuration.roots ?? { frames: path.join(home(), "var/frames") });
  return { home: home(), databaseUrl, roots };
}
