/**
 * Where this process finds its database, its storage roots and its renderers. In order: environment,
 * the file plain-tally.config.json (or the one that PLAIN_TALLY_CONFIG names), what an invitation brought
 * (joined.json), what the start command of this place left in run/state.json.
 */
import type { AskTemplate } from "@/core/run/ask-elsewhere";
import fs from "node:fs";
import path from "node:path";
import {
  checkConfiguration,
  type Configuration,
  type KeepDays,
  CALL_MOMENTS,
  CALL_NAMES,
  type CallMoment,
  type ProgramCall,
  USUAL_KEEP,
} from "@/contract/configuration";
import { declarationFault, type RendererDeclaration } from "@/contract/renderer-declaration";
import type { Source } from "@/contract/settings-view";
import { checkJoined, type JoinedHouse } from "@/contract/joined";
import type { SchemaFault } from "@/contract/validate";
import { unknownNames } from "@/core/plan/call-template";
import { lineOf, syntaxFault } from "./json-lines";
import { TallyError } from "./errors";

export interface Settings {
  readonly home: string;
  readonly databaseUrl: string;
  readonly roots: Readonly<Record<string, string>>;
  readonly renderers: Readonly<Record<string, RendererDeclaration>>;
  /** Null: nothing is called. */
  readonly programCalls: Readonly<Record<CallMoment, ProgramCall | null>>;
  readonly keep: KeepDays;
  readonly sources: Readonly<
    Record<"data" | "databaseUrl" | "roots" | "renderers" | CallMoment | "keep", Source>
  >;
}

/** Folder of the installation: schema, built programs and shipped scenes lie below it. */
export const home = (): string => process.env.PLAIN_TALLY_HOME ?? process.cwd();

/**
 * Where what is kept lies, where that is not beside the installation: of one from an archive, which the next version takes
 * the place of (bin/plain-tally.mjs says it). Null in a checkout.
 */
const ownPlace = (): string | null => process.env.PLAIN_TALLY_PLACE ?? null;

/** Null where there is no such file. */
function readText(file: string): string | null {
  try {
    return fs.readFileSync(file, "utf8");
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return null;
    throw error;
  }
}

/** The file of this place, whether it is there or not. */
export const configurationFile = (): string =>
  process.env.PLAIN_TALLY_CONFIG ?? path.join(ownPlace() ?? home(), "plain-tally.config.json");

/** @throws TallyError `configuration-broken`, with the line of the file that is the matter */
function broken(file: string, text: string, faults: readonly SchemaFault[]): never {
  const [first] = faults;
  const line = first === undefined ? 1 : lineOf(text, first);
  const place = first === undefined || first.path === "" ? "" : `${first.path.slice(1)} `;
  const more = faults.length > 1 ? `; and ${faults.length - 1} more` : "";
  throw new TallyError("configuration-broken", { file, line, message: `${place}${first?.message}${more}` });
}

/** What the schema cannot tell. */
function* furtherFaults({ renderers = {}, ...rest }: Configuration): Generator<SchemaFault> {
  for (const [name, declared] of Object.entries(renderers)) {
    const fault = declarationFault(declared);
    if (fault !== null) yield { ...fault, path: `/renderers/${name}/${fault.path}` };
  }
  for (const moment of CALL_MOMENTS) {
    const [unknown] = unknownNames(rest[moment]?.arguments ?? [], CALL_NAMES[moment]);
    if (unknown !== undefined)
      yield {
        path: `/${moment}/arguments`,
        message: `has {${unknown}}; there are ${CALL_NAMES[moment].map((name) => `{${name}}`).join(", ")}`,
      };
  }
}

/** What the file says; nothing where there is none. @throws TallyError `configuration-broken` */
export function readConfiguration(): Configuration {
  const file = configurationFile();
  const text = readText(file);
  if (text === null) return {};
  const syntax = syntaxFault(text);
  if (syntax !== null) throw new TallyError("configuration-broken", { file, ...syntax });
  const checked = checkConfiguration(JSON.parse(text));
  if (!checked.ok) return broken(file, text, checked.faults);
  const further = [...furtherFaults(checked.value)];
  return further.length > 0 ? broken(file, text, further) : checked.value;
}

/** PLAIN_TALLY_ROOTS is `name=folder` pairs, parted by the system's path separator. */
const readRoots = (text: string): Record<string, string> =>
  Object.fromEntries(
    text
      .split(path.delimiter)
      .map((pair) => [pair.slice(0, pair.indexOf("=")), pair.slice(pair.indexOf("=") + 1)]),
  );

/** Where the private database, logs and small pictures lie. */
export const dataFolder = (configuration: Configuration = readConfiguration()): string =>
  configuration.data ?? ownPlace() ?? path.join(home(), "var");

/** What the start command of this place wrote down while it runs. */
interface RunningHouse {
  readonly databaseUrl?: string;
  /** Null, or not there: nobody beyond this machine can reach it. */
  readonly listen?: Listening | null;
}

/** Where other machines reach the private database. */
export interface Listening {
  readonly address: string;
  readonly port: number;
  /** File of the certificate that it shows. */
  readonly certificate: string;
}

export const runningHouse = (configuration: Configuration = readConfiguration()): RunningHouse =>
  JSON.parse(readText(path.join(dataFolder(configuration), "run/state.json")) ?? "{}") as RunningHouse;

/** What an invitation has brought to this machine. */
export const joinedFile = (configuration: Configuration = readConfiguration()): string =>
  path.join(dataFolder(configuration), "joined.json");

/** The house that this machine has joined; null: none. @throws TallyError `configuration-broken` */
export function joinedHouse(configuration: Configuration = readConfiguration()): JoinedHouse | null {
  const file = joinedFile(configuration);
  const text = readText(file);
  if (text === null) return null;
  const syntax = syntaxFault(text);
  if (syntax !== null) throw new TallyError("configuration-broken", { file, ...syntax });
  const checked = checkJoined(JSON.parse(text));
  return checked.ok ? checked.value : broken(file, text, checked.faults);
}

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
    : (configuration.roots ?? joinedHouse(configuration)?.roots ?? usualRoots(configuration));

/** Renderers that plans of this process may name; they need no database either. */
export const declaredRenderers = (
  configuration = readConfiguration(),
): Readonly<Record<string, RendererDeclaration>> => configuration.renderers ?? {};

/** Calls of places that render elsewhere, by their names. */
export const declaredCalls = (configuration = readConfiguration()): readonly AskTemplate[] =>
  Object.entries(configuration.calls ?? {})
    .map(([name, { text, each = "all" }]) => ({ name, text, each }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));

/**
 * As of now: the file is read each time, so that a server need not be started anew for a root.
 * @throws TallyError `no-database`, or what is wrong with the file
 */
export function settings(): Settings {
  const configuration = readConfiguration();
  const databaseUrl =
    process.env.PLAIN_TALLY_DATABASE_URL ??
    configuration.databaseUrl ??
    joinedHouse(configuration)?.databaseUrl ??
    runningHouse(configuration).databaseUrl;
  if (databaseUrl === undefined) {
    throw new TallyError("no-database");
  }
  return {
    home: home(),
    databaseUrl,
    roots: declaredRoots(configuration),
    renderers: declaredRenderers(configuration),
    programCalls: {
      whenRunEnds: configuration.whenRunEnds ?? null,
      whenHandedOver: configuration.whenHandedOver ?? null,
    },
    keep: { ...USUAL_KEEP, ...configuration.keep },
    sources: {
      data: sourceOf(null, configuration.data),
      databaseUrl: sourceOf("PLAIN_TALLY_DATABASE_URL", configuration.databaseUrl),
      roots: sourceOf("PLAIN_TALLY_ROOTS", configuration.roots),
      renderers: sourceOf(null, configuration.renderers),
      whenRunEnds: sourceOf(null, configuration.whenRunEnds),
      whenHandedOver: sourceOf(null, configuration.whenHandedOver),
      keep: sourceOf(null, configuration.keep),
    },
  };
}
