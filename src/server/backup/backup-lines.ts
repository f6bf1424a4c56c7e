/**
 * The file of a backup: gzip over JSON, one value a line. First what it is of, then every row of every table, at the end how
 * many there were of each and a hash over them: what was cut short has no end, and what was changed has another hash.
 *
 *     {"plainTally":"backup","format":1,"version":"0.1.0","at":"…","schema":["schema/1-plan.sql",…],"tables":[{"name","columns"}]}
 *     [table,value,…]                 table: its place in `tables`; a value: text as the database writes it, null, or {"b":base64}
 *     {"end":{"project":{"rows":2,"sha256":"…"},…}}
 */
import crypto from "node:crypto";
import fs from "node:fs";
import readline from "node:readline";
import { pipeline } from "node:stream/promises";
import zlib from "node:zlib";
import { checker, objectOf } from "@/contract/validate";
import { TallyError } from "../errors";

const FORMAT = 1;

export interface BackupTable {
  readonly name: string;
  /** Those that are written, in the order of the values. */
  readonly columns: readonly string[];
}

export interface BackupHead {
  readonly plainTally: "backup";
  readonly format: number;
  /** Of the program that made it. */
  readonly version: string;
  /** ISO 8601, by the clock of the machine that made it. */
  readonly at: string;
  /** Files of the schema that were applied, in their order. */
  readonly schema: readonly string[];
  readonly tables: readonly BackupTable[];
}

export interface TableSum {
  readonly rows: number;
  readonly sha256: string;
}
/** By table. */
export type Sums = Readonly<Record<string, TableSum>>;

/** Tables and columns become part of statements: they are named as ours are. */
const NAME = { type: "string", pattern: "^[a-z][a-z0-9_]{0,63}$" } as const;
const checkHead = checker<BackupHead>(
  objectOf<BackupHead>({
    plainTally: { const: "backup" },
    format: { const: FORMAT },
    version: { type: "string", maxLength: 100 },
    at: { type: "string", maxLength: 40 },
    schema: {
      type: "array",
      maxItems: 1_000,
      items: { type: "string", pattern: "^(schema|migrations)/[0-9A-Za-z_-]+\\.sql$" },
    },
    tables: {
      type: "array",
      maxItems: 200,
      items: objectOf<BackupTable>({
        name: NAME,
        columns: { type: "array", minItems: 1, maxItems: 200, items: NAME },
      }),
    },
  }),
);

export const headOf = (head: Omit<BackupHead, "plainTally" | "format">): BackupHead => ({
  plainTally: "backup",
  format: FORMAT,
  ...head,
});

/** As the database writes it; null as itself. */
export type Cell = Buffer | null;
type Written = string | null | { readonly b: string };

const utf8 = new TextDecoder("utf-8", { fatal: true, ignoreBOM: true });
/** Text where it is some: most of a tally is, and a person can read it. */
function written(cell: Cell): Written {
  if (cell === null) return null;
  try {
    return utf8.decode(cell);
  } catch {
    return { b: cell.toString("base64") };
  }
}

function cellOf(value: unknown): Cell {
  if (value === null) return null;
  if (typeof value === "string") return Buffer.from(value, "utf8");
  const bytes = (value as { b?: unknown }).b;
  if (typeof bytes === "string") return Buffer.from(bytes, "base64");
  throw new Error("a value is none");
}

/** Counts the rows of a table, and makes a hash over them. */
export class RowSum {
  #rows = 0;
  readonly #hash = crypto.createHash("sha256");

  /** @returns the row's values as they are written */
  add(row: readonly Cell[]): readonly Written[] {
    const values = row.map(written);
    this.#hash.update(`${JSON.stringify(values)}\n`);
    this.#rows++;
    return values;
  }

  end(): TableSum {
    return { rows: this.#rows, sha256: this.#hash.digest("hex") };
  }
}

export interface BackupRow {
  readonly table: BackupTable;
  readonly row: readonly Cell[];
}

export const isSame = (a: TableSum | undefined, b: TableSum | undefined): boolean =>
  a !== undefined && b !== undefined && a.rows === b.rows && a.sha256 === b.sha256;

/** Lines of the unpacked file. @throws what `broken` makes of a file that is not there, cannot be read or does not unpack */
async function* linesOf(
  file: string,
  broken: (why: string, cause: unknown) => Error,
): AsyncGenerator<string> {
  const packed = fs.createReadStream(file);
  const unpacked = zlib.createGunzip();
  const lines = readline.createInterface({ input: unpacked, crlfDelay: Infinity });
  // Each ends with the error of the one before it, or of our leaving: it is told once, below.
  for (const stream of [unpacked, lines]) stream.on("error", () => undefined);
  const over = pipeline(packed, unpacked).catch((error: unknown) => error);
  try {
    yield* lines;
  } catch (error) {
    throw broken((error as Error).message, error);
  } finally {
    // Whoever has seen enough does not read on.
    packed.destroy();
  }
  const failure = await over;
  if (failure !== undefined) throw broken((failure as Error).message, failure);
}

/**
 * Reads all of it, and holds it against its end.
 * @param onRow in the order of the file; awaited
 * @throws TallyError `backup-broken`, with what is the matter
 */
export async function readBackup(
  file: string,
  onRow: (row: BackupRow) => Promise<void> | void = () => undefined,
): Promise<{ readonly head: BackupHead; readonly sums: Sums }> {
  const broken = (why: string, cause?: unknown): TallyError =>
    new TallyError("backup-broken", { file, why }).because(cause);
  let head: BackupHead | null = null;
  let told: Sums | null = null;
  const sums = new Map<string, RowSum>();
  let number = 0;
  for await (const line of linesOf(file, broken)) {
    number++;
    let value: unknown;
    try {
      value = JSON.parse(line);
    } catch (error) {
      throw broken(`line ${number} is no JSON`, error);
    }
    if (head === null) {
      const checked = checkHead(value);
      if (!checked.ok) throw broken(`it does not begin as one: ${checked.faults[0]?.message ?? ""}`);
      head = checked.value;
      for (const { name } of head.tables) sums.set(name, new RowSum());
    } else if (told !== null) throw broken(`line ${number} stands behind its end`);
    else if (Array.isArray(value)) {
      const [place, ...values] = value as readonly unknown[];
      const table = typeof place === "number" ? head.tables[place] : undefined;
      if (table?.columns.length !== values.length) throw broken(`line ${number} is no row of a table`);
      let row: readonly Cell[];
      try {
        row = values.map(cellOf);
      } catch (error) {
        throw broken(`line ${number} holds what is no value`, error);
      }
      sums.get(table.name)!.add(row);
      await onRow({ table, row });
    } else {
      const { end } = value as { end?: Sums };
      if (typeof end !== "object" || end === null)
        throw broken(`line ${number} is neither a row nor the end`);
      told = end;
    }
  }
  if (head === null) throw broken("it is empty");
  if (told === null) throw broken(`it is cut short after ${number} lines`);
  const found = Object.fromEntries([...sums].map(([name, sum]) => [name, sum.end()]));
  const other = Object.keys(found).filter((name) => !isSame(found[name], told[name]));
  if (other.length > 0) throw broken(`rows of ${other.join(", ")} are not those that were written`);
  return { head, sums: found };
}
