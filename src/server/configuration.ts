/**
 * Where this process finds its database, its storage roots and its renderers. In order: environment,
 * the file plain-tally.config.json (or the one that PLAIN_TALLY_CONFIG names), what the start command
 * of this checkout left in var/run/state.json.
 */
import fs from "node:fs";
import path from "node:path";
import {
  checkConfiguration,
  type Configuration,
  type KeepDays,
  type RendererDeclaration,
  RUN_END_NAMES,
  type RunEndCall,
  USUAL_KEEP,
} from "@/contract/configuration";
import { faultText } from "@/contract/validate";
import { unknownNames } from "@/core/plan/call-template";
import { PLACEHOLDERS } from "@/core/plan/renderer";
import { TallyError } from "./errors";

/** Where a value comes from: an environment variable, the file, or nowhere, so that it is as usual. */
export type Source = "environment" | "file" | "usual";

export interface Settings {
  readonly home: string;
  readonly databaseUrl: string;
  readonly roots: Readonly<Record<string, string>>;
  readonly renderers: Readonly<Record<string, RendererDeclaration>>;
  readonly whenRunEnds: RunEndCall | null;
  readonly keep: KeepDays;
  readonly sources: Readonly<Record<"databaseUrl" | "roots" | "renderers" | "whenRunEnds" | "keep", Source>>;
}

/** Folder of the installation: schema, built programs and shipped scenes lie below it. */
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
    throw new TallyError("configuration-broken", {
      file,
      message: `this is not JSON (${(error as Error).message})`,
    });
  }
}

const inBraces = (names: readonly string[]): string => names.map((name) => `{${name}}`).join(", ");

/** What the schema cannot tell of a renderer's declaration. */
function rendererFault(declared: RendererDeclaration): string | null {
  const [unknown] = unknownNames([...declared.arguments, ...(declared.batch ?? [])], PLACEHOLDERS);
  if (unknown !== undefined) return `has {${unknown}} in its arguments; there are ${inBraces(PLACEHOLDERS)}.`;
  for (const [field, text] of [
    ["progress", declared.progress],
    ["started", declared.started],
  ] as const) {
    try {
      if (text !== undefined) new RegExp(text);
    } catch (error) {
      return `has no regular expression in "${field}": ${(error as Error).message}.`;
    }
  }
  return null;
}

/** The file of this place, whether it is there or not. */
export const configurationFile = (): string =>
  process.env.PLAIN_TALLY_CONFIG ?? path.join(home(), "plain-tally.config.json");

/** What the file says; nothing where there is none. @throws TallyError `configuration-broken` */
export function readConfiguration(): Configuration {
  const file = configurationFile();
  const value = readJson(file);
  if (value === null) return {};
  const checked = checkConfiguration(value);
  if (!checked.ok) throw new TallyError("configuration-broken", { file, message: faultText(checked.faults) });
  for (const [name, declared] of Object.entries(checked.value.renderers ?? {})) {
    const fault = rendererFault(declared);
    if (fault !== null)
      throw new TallyError("configuration-broken", { file, message: `the renderer "${name}" ${fault}` });
  }
  const [unknown] = unknownNames(checked.value.whenRunEnds?.arguments ?? [], RUN_END_NAMES);
  if (unknown !== undefined)
    throw new TallyError("configuration-broken", {
      file,
      message: `"whenRunEnds" has {${unknown}} in its arguments; there are ${inBraces(RUN_END_NAMES)}.`,
    });
  return checked.value;
}

/** PLAIN_TALLY_ROOTS is `name=folder` pairs, parted by the system's path separator. */
const readRoots = (text: string): Record<string, string> =>
  Object.fromEntries(
    text
      .split(path.delimiter)
      .map((pair) => [pair.slice(0, pair.indexOf("=")), pair.slice(pair.indexOf("=") + 1)]),
  );

/** Where the private database, logs and small pictures of this checkout lie. */
export const dataFolder = (configuration: Configuration = readConfiguration()): string =>
  configuration.data ?? path.join(home(), "var");

/** The private database of this checkout while its start command runs. */
const runningDatabase = (configuration: Configuration): string | undefined =>
  (readJson(path.join(dataFolder(configuration), "run/state.json")) as { databaseUrl?: string } | null)
    ?.databaseUrl;

/** The root that is there where none is declared. */
export const usualRoots = (configuration: Configuration): Readonly<Record<string, string>> => ({
  frames: path.join(dataFolder(configuration), "frames"),
});

/** An environment variable goes before the file, and the file before what is usual. */
const sourceOf = (variable: string | null, inFile: unknown): Source =>
  variable !== null && process.env[variable] !== undefined
    ? "environment"
    : inFile !== undefined
      ? "file"
      : "usual";

/** Storage roots of this process, by name; they need no database. */
export const declaredRoots = (configuration = readConfiguration()): Readonly<Record<string, string>> =>
  process.env.PLAIN_TALLY_ROOTS !== undefined
    ? readRoots(process.env.PLAIN_TALLY_ROOTS)
    : (configuration.roots ?? usualRoots(configuration));

/**
 * As of now: the file is read each time, so that a server need not be started anew for a root.
 * @throws TallyError `no-database`, or what is wrong with the file
 */
export function settings(): Settings {
  const configuration = readConfiguration();
  const databaseUrl =
    process.env.PLAIN_TALLY_DATABASE_URL ?? configuration.databaseUrl ?? runningDatabase(configuration);
  if (databaseUrl === undefined) {
    throw new TallyError("no-database");
  }
  return {
    home: home(),
    databaseUrl,
    roots: declaredRoots(configuration),
    renderers: configuration.renderers ?? {},
    whenRunEnds: configuration.whenRunEnds ?? null,
    keep: { ...USUAL_KEEP, ...configuration.keep },
    sources: {
      databaseUrl: sourceOf("PLAIN_TALLY_DATABASE_URL", configuration.databaseUrl),
      roots: sourceOf("PLAIN_TALLY_ROOTS", configuration.roots),
      renderers: sourceOf(null, configuration.renderers),
      whenRunEnds: sourceOf(null, configuration.whenRunEnds),
      keep: sourceOf(null, configuration.keep),
    },
  };
}
