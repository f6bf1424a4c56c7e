/**
 * Triggers that put the key of every row that is written into the outbox of the records, in the transaction that writes
 * it: no action can forget to. A row whose quiet columns alone have changed is no news.
 */
import { TallyError } from "../errors";
import { RECORD_TABLES, type RecordTable } from "./record-tables";
import { type Db, rows, write } from "./rows";

/** Between the values of a key; no part of one has it. */
export const KEY_MARK = "\u001f";

/** Triggers are not this user's to make: by the rights, or by the log of a server that others follow. */
const REFUSED = new Set([1142, 1227, 1419]);

const keyOf = (side: "NEW" | "OLD", { key }: RecordTable): string =>
  key.length === 1
    ? `${side}.${key[0]}`
    : `CONCAT_WS('${KEY_MARK}', ${key.map((column) => `${side}.${column}`).join(", ")})`;

/**
 * @param columns of the table, as the database has them: a quiet one is not compared
 * @returns statements, each to be asked by itself
 */
function triggersOf(table: RecordTable, columns: readonly string[]): readonly string[] {
  const { name, quiet } = table;
  const on = (when: "insert" | "update" | "delete", side: "NEW" | "OLD", condition = ""): string =>
    `CREATE OR REPLACE TRIGGER record_${name}_${when} AFTER ${when.toUpperCase()} ON \`${name}\` FOR EACH ROW
      BEGIN
        IF @plain_tally_no_record IS NULL${condition} THEN
          INSERT INTO record_outbox (table_name, row_key) VALUES ('${name}', ${keyOf(side, table)});
        END IF;
      END`;
  const isSame = columns
    .filter((column) => !quiet.includes(column))
    .map((column) => `NEW.${column} <=> OLD.${column}`)
    .join(" AND ");
  return [on("insert", "NEW"), on("update", "NEW", ` AND NOT (${isSame})`), on("delete", "OLD")];
}

/** Columns of every table that are written, and not made by the database. */
async function columnsOfTables(db: Db): Promise<ReadonlyMap<string, readonly string[]>> {
  const found = await rows<{ table: string; name: string }>(
    db,
    `SELECT TABLE_NAME AS \`table\`, COLUMN_NAME AS name
      FROM information_schema.COLUMNS
      WHERE TABLE_SCHEMA = DATABASE() AND IS_GENERATED = 'NEVER'
      ORDER BY TABLE_NAME, ORDINAL_POSITION`,
  );
  const columns = new Map<string, string[]>();
  for (const { table, name } of found) columns.set(table, [...(columns.get(table) ?? []), name]);
  return columns;
}

/**
 * Puts them in place; a table that has columns more than it had gets new ones.
 * @throws TallyError `triggers-refused`
 */
export async function installTriggers(db: Db): Promise<void> {
  const columns = await columnsOfTables(db);
  for (const table of RECORD_TABLES)
    for (const statement of triggersOf(table, columns.get(table.name) ?? []))
      await write(db, statement).catch((error: unknown) => {
        const { errno, message } = error as { errno?: number; message: string };
        throw REFUSED.has(errno ?? 0) ? new TallyError("triggers-refused", { why: message }) : error;
      });
}
