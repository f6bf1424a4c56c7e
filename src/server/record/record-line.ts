/**
 * What stands in a record, a JSON object a line.
 *
 *     {"whole":1764452000000}                       first: from here on it holds all rows that there were then
 *     {"go":…,"table":"shot","key":"3","row":{…}}   a row as it was then
 *     {"go":…,"table":"shot","key":"3","row":null}  it is gone
 *     {"removed":…}                                 somebody took the project out of the tally
 *
 * Numbers of goes rise over all machines and databases. What a record says from before the newest `whole` or `removed`
 * of all records of a project counts no more.
 */
import { KEY_MARK } from "../db/record-triggers";
import { RECORD_TABLES, type RecordTable } from "../db/record-tables";

/** Columns of a row as the database gives them; JSON as it reads, times as ISO 8601. */
export type RecordRow = Readonly<Record<string, unknown>>;

export type RecordLine =
  | { readonly whole: number }
  | { readonly removed: number }
  | {
      readonly go: number;
      readonly table: string;
      /** Values of the key's columns. */
      readonly key: string;
      readonly row: RecordRow | null;
    };

export const keyText = (table: RecordTable, found: RecordRow): string =>
  table.key.map((column) => String(found[column])).join(KEY_MARK);

export const keyValues = (key: string): string[] => key.split(KEY_MARK);

const KNOWN: ReadonlySet<string> = new Set(RECORD_TABLES.map(({ name }) => name));

const isNumber = (value: unknown): value is number => Number.isSafeInteger(value);

/** A line, or null where it is none: the last one of a machine that lost its power, or somebody's edit. */
export function readRecordLine(text: string): RecordLine | null {
  let line: unknown;
  try {
    line = JSON.parse(text);
  } catch {
    return null;
  }
  if (line === null || typeof line !== "object") return null;
  const { whole, removed, go, table, key, row } = line as Record<string, unknown>;
  if (isNumber(whole)) return { whole };
  if (isNumber(removed)) return { removed };
  if (!isNumber(go) || typeof table !== "string" || !KNOWN.has(table) || typeof key !== "string") return null;
  if (row === undefined || typeof row !== "object" || Array.isArray(row)) return null;
  return { go, table, key, row: row as RecordRow | null };
}
