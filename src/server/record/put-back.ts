/**
 * Rows of records back into their tables, parents first, with the numbers that they had: addresses, hand-outs and names
 * of files aside bear them. Where a number is another row's here, all of its table get new ones.
 *
 * Whatever a record says comes from a file that anybody may have changed: a row that the tables refuse is left out and
 * counted, and so is what hangs on it.
 */
import { isDatabaseAway } from "../db/away";
import { RECORD_TABLES, type RecordTable } from "../db/record-tables";
import { transact, type Tx } from "../db/pool";
import { marks, row, rows, write } from "../db/rows";
import { largest } from "@/core/many";
import { askToMeasureUnmeasured } from "../store/measures";
import { leadsOut } from "./leads-out";
import type { RecordRow } from "./record-line";

/** Rows of one statement. */
const AT_ONCE = 500;

export interface PutBackHow {
  readonly signal?: AbortSignal | undefined;
  /** Told how many rows were read or refused so far. */
  readonly onRows?: ((done: number) => void) | undefined;
}

type Value = string | number | Date | null;

interface Columns {
  /** What each holds: times come as texts. */
  readonly types: ReadonlyMap<string, string>;
  /** Columns whose row in another table must be there, with what becomes of a row when that one goes. */
  readonly bound: ReadonlyMap<string, "goes" | "forgets">;
}

async function columnsOf(tx: Tx, table: string): Promise<Columns> {
  const found = await rows<{ name: string; type: string }>(
    tx,
    `SELECT COLUMN_NAME AS name, DATA_TYPE AS type
      FROM information_schema.COLUMNS
      WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND IS_GENERATED = 'NEVER'`,
    [table],
  );
  const bound = await rows<{ name: string; rule: string }>(
    tx,
    `SELECT k.COLUMN_NAME AS name, c.DELETE_RULE AS rule
      FROM information_schema.KEY_COLUMN_USAGE k
      JOIN information_schema.REFERENTIAL_CONSTRAINTS c
        ON c.CONSTRAINT_SCHEMA = k.CONSTRAINT_SCHEMA AND c.CONSTRAINT_NAME = k.CONSTRAINT_NAME
          AND c.TABLE_NAME = k.TABLE_NAME
      WHERE k.TABLE_SCHEMA = DATABASE() AND k.TABLE_NAME = ?`,
    [table],
  );
  return {
    types: new Map(found.map((c) => [c.name, c.type])),
    bound: new Map(bound.map((c) => [c.name, c.rule === "SET NULL" ? "forgets" : "goes"])),
  };
}

/** As the database takes it; what is no time becomes none, and the table says whether it may. */
function valueOf(type: string | undefined, value: unknown): Value {
  if (value === null || value === undefined) return null;
  if (type === "datetime" || type === "timestamp") {
    const time = new Date(String(value));
    return Number.isNaN(time.getTime()) ? null : time;
  }
  if (typeof value === "number" || typeof value === "string") return value;
  return typeof value === "boolean" ? Number(value) : JSON.stringify(value);
}

/** Numbers that rows have here, by table and by the number that they had. */
type Numbers = Map<string, ReadonlyMap<number, number>>;

/** Values that are compared as they stand in a line. */
const same = (table: RecordTable, found: RecordRow): string =>
  JSON.stringify(table.sameBy.map((column) => found[column] ?? null));

/** Nothing of a project hangs on it. */
const isOfHouse = (table: RecordTable, found: RecordRow): boolean =>
  table.sameBy.length > 0 &&
  Object.entries(table.parents).every(
    ([column, parent]) => parent === "node" || (found[column] ?? null) === null,
  );

/**
 * The number of a row of another table here. A row that its parent took along when it went stands in the record still:
 * the database lets it go without a word. Null: so it is.
 */
function withParents(
  table: RecordTable,
  found: RecordRow,
  numbers: Numbers,
  bound: Columns["bound"],
): RecordRow | null {
  const record: Record<string, unknown> = { ...found };
  for (const [column, parent] of Object.entries(table.parents)) {
    const before = record[column];
    if (before === null || before === undefined) continue;
    const number = numbers.get(parent)?.get(Number(before));
    if (number !== undefined) record[column] = number;
    else if (bound.get(column) === "goes") return null;
    else if (bound.get(column) === "forgets") record[column] = null;
  }
  return record;
}

interface Numbered {
  readonly numbers: ReadonlyMap<number, number>;
  /** Rows of the house that are there already. */
  readonly there: ReadonlySet<RecordRow>;
}

/** A number for each row: its own where that is free, that of the same row of the house where there is one. */
async function numberRows(
  tx: Tx,
  table: RecordTable,
  found: readonly RecordRow[],
  numbers: Numbers,
  { bound }: Columns,
): Promise<Numbered> {
  const known = new Map<string, RecordRow>();
  const ofHouse = found.filter((r) => isOfHouse(table, r));
  if (ofHouse.length > 0)
    for (const r of await rows<RecordRow>(tx, `SELECT * FROM \`${table.name}\``))
      known.set(same(table, r), r);
  const there = new Set<RecordRow>();
  const own = new Map<number, number>();
  for (const line of ofHouse) {
    const mapped = withParents(table, line, numbers, bound);
    const already = mapped === null ? undefined : known.get(same(table, mapped));
    if (already === undefined) continue;
    there.add(line);
    own.set(Number(line.id), Number(already.id));
  }
  if (table.key[0] !== "id") return { numbers: own, there };
  const ids = found.filter((r) => !there.has(r)).map((r) => Number(r.id));
  let isTaken = false;
  for (let i = 0; i < ids.length && !isTaken; i += AT_ONCE) {
    const some = ids.slice(i, i + AT_ONCE);
    isTaken =
      (await row(tx, `SELECT id FROM \`${table.name}\` WHERE id IN ${marks(some)} LIMIT 1`, some)) !== null;
  }
  const last = await row<{ id: number | null }>(tx, `SELECT MAX(id) AS id FROM \`${table.name}\``);
  // Above both, so that no row gets a number that another one of the record has.
  const by = isTaken ? Math.max(last?.id ?? 0, largest(ids)) : 0;
  for (const id of ids) own.set(id, id + by);
  return { numbers: own, there };
}

/** Writes rows; those that the table refuses one by one. @returns how many it took */
async function insert(
  tx: Tx,
  table: string,
  types: Columns["types"],
  records: readonly RecordRow[],
): Promise<number> {
  if (records.length === 0) return 0;
  const names = [...types.keys()].filter((name) => records.some((r) => name in r));
  try {
    // Columns that came later than the line have what the table gives them.
    const values = records.map((r) => `(${names.map((name) => (name in r ? "?" : "DEFAULT")).join(", ")})`);
    await write(
      tx,
      `INSERT INTO \`${table}\` (${names.map((n) => `\`${n}\``).join(", ")}) VALUES ${values.join(", ")}`,
      records.flatMap((r) => names.filter((n) => n in r).map((n) => valueOf(types.get(n), r[n]))),
    );
    return records.length;
  } catch (error) {
    if (isDatabaseAway(error)) throw error;
    if (records.length === 1) return 0;
    let taken = 0;
    for (const record of records) taken += await insert(tx, table, types, [record]);
    return taken;
  }
}

/**
 * All of a project in one transaction: it is there whole, or not at all.
 * @param found by table, as the records say
 * @returns how many rows lead out of their folder, or were refused by the tables
 * @throws AbortError
 */
export function putBack(
  found: ReadonlyMap<string, readonly RecordRow[]>,
  { signal, onRows }: PutBackHow,
): Promise<{ readonly refused: number }> {
  const safe = new Map<string, readonly RecordRow[]>();
  let led = 0;
  for (const table of RECORD_TABLES) {
    const own = found.get(table.name) ?? [];
    const inside = own.filter((line) => !leadsOut(table, line));
    led += own.length - inside.length;
    safe.set(table.name, inside);
  }
  return transact(async (tx) => {
    // No trigger hears of it: the record is begun anew afterwards.
    await row(tx, "SET @plain_tally_no_record = 1");
    try {
      const columns = new Map<string, Columns>();
      const numbered = new Map<string, Numbered>();
      const numbers: Numbers = new Map();
      for (const table of RECORD_TABLES) {
        const own = await columnsOf(tx, table.name);
        const given = await numberRows(tx, table, safe.get(table.name)!, numbers, own);
        columns.set(table.name, own);
        numbered.set(table.name, given);
        numbers.set(table.name, given.numbers);
      }
      let refused = led;
      let done = 0;
      for (const table of RECORD_TABLES) {
        const { types, bound } = columns.get(table.name)!;
        const { there, numbers: own } = numbered.get(table.name)!;
        const self = Object.entries(table.parents).find(([, parent]) => parent === table.name)?.[0];
        const later: { readonly id: number; readonly other: number }[] = [];
        const records: RecordRow[] = [];
        for (const line of safe.get(table.name)!) {
          const mapped = there.has(line) ? null : withParents(table, line, numbers, bound);
          if (mapped === null) continue;
          const record: Record<string, unknown> = { ...mapped };
          if (table.key[0] === "id") record.id = own.get(Number(line.id));
          // One of its own kind may come after it.
          if (self !== undefined && record[self] != null) {
            later.push({ id: Number(record.id), other: Number(record[self]) });
            record[self] = null;
          }
          records.push(record);
        }
        let taken = 0;
        for (let i = 0; i < records.length; i += AT_ONCE) {
          signal?.throwIfAborted();
          const some = records.slice(i, i + AT_ONCE);
          taken += await insert(tx, table.name, types, some);
          onRows?.((done += some.length));
        }
        for (const { id, other } of later)
          await write(
            tx,
            `UPDATE \`${table.name}\` SET ${self} = ? WHERE id = ? AND EXISTS (SELECT 1 FROM (SELECT id FROM \`${table.name}\` WHERE id = ?) o)`,
            [other, id, other],
          );
        refused += records.length - taken;
      }
      // Measures are in no record: the pictures say them again.
      await askToMeasureUnmeasured(tx);
      return { refused };
    } finally {
      await row(tx, "SET @plain_tally_no_record = NULL");
    }
  });
}
