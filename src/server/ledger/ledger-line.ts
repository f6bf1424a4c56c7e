/**
 * What stands in a ledger, a JSON object a line.
 *
 *     {"whole":1764452000000}                       first: from here on it holds all rows that there were then
 *     {"go":…,"table":"shot","key":"3","row":{…}}   a row as it was then
 *     {"go":…,"table":"shot","key":"3","row":null}  it is gone
 *     {"removed":…}                                 somebody took the project out of the tally
 *
 * Numbers of goes rise over all machines and databases. What a ledger says from before the newest `whole` or `removed`
 * of all ledgers of a project counts no more.
 */
import { KEY_MARK } from "../db/ledger-triggers";
import { LEDGER_TABLES, type LedgerTable } from "../db/ledger-tables";

/** Columns of a row as the database gives them; JSON as text, times as ISO 8601. */
export type LedgerRow = Readonly<Record<string, unknown>>;

export type LedgerLine =
  | { readonly whole: number }
  | { readonly removed: number }
  | {
      readonly go: number;
      readonly table: string;
      /** Values of the key's columns. */
      readonly key: string;
      readonly row: LedgerRow | null;
    };

export const keyText = (table: LedgerTable, found: LedgerRow): string =>
  table.key.map((column) => String(found[column])).join(KEY_MARK);

export const keyValues = (key: string): string[] => key.split(KEY_MARK);

const KNOWN: ReadonlySet<string> = new Set(LEDGER_TABLES.map(({ name }) => name));

const isNumber = (value: unknown): value is number => Number.isSafeInteger(value);

/** A line, or null where it is none: the last one of a machine that lost its power, or somebody's edit. */
export function readLedgerLine(text: string): LedgerLine | null {
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
  return { go, table, key, row: row as LedgerRow | null };
}
