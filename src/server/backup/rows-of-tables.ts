/** Every row of every table as the database writes it, at one moment, without holding them all. */
import type { Readable } from "node:stream";
import type { Tx } from "../db/pool";
import { rows, write } from "../db/rows";
import { type BackupTable, type Cell, RowSum, type Sums } from "./backup-lines";

/** Kept by the migrations themselves. */
export const OF_MIGRATIONS = "schema_migration";
/** Somebody's slow disk is waited for. */
const WAIT_SECONDS = 3_600;

/** @returns what the database makes itself left out, tables by their names */
export async function tablesOf(connection: Tx): Promise<readonly BackupTable[]> {
  const found = await rows<{ name: string; column: string }>(
    connection,
    `SELECT c.TABLE_NAME AS name, c.COLUMN_NAME AS \`column\`
      FROM information_schema.COLUMNS c
      JOIN information_schema.TABLES t ON t.TABLE_SCHEMA = c.TABLE_SCHEMA AND t.TABLE_NAME = c.TABLE_NAME
      WHERE c.TABLE_SCHEMA = DATABASE() AND c.IS_GENERATED = 'NEVER' AND t.TABLE_TYPE = 'BASE TABLE'
        AND c.TABLE_NAME <> ?
      ORDER BY c.TABLE_NAME, c.ORDINAL_POSITION`,
    [OF_MIGRATIONS],
  );
  const tables = new Map<string, string[]>();
  for (const { name, column } of found) tables.set(name, [...(tables.get(name) ?? []), column]);
  return [...tables].map(([name, columns]) => ({ name, columns }));
}

async function keyOf(connection: Tx, table: string): Promise<readonly string[]> {
  const found = await rows<{ column: string }>(
    connection,
    `SELECT COLUMN_NAME AS \`column\`
      FROM information_schema.KEY_COLUMN_USAGE
      WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND CONSTRAINT_NAME = 'PRIMARY'
      ORDER BY ORDINAL_POSITION`,
    [table],
  );
  return found.map(({ column }) => column);
}

/** What is read after it is as it was then, whatever others write. */
export async function beginSnapshot(connection: Tx): Promise<void> {
  await write(
    connection,
    `SET SESSION idle_transaction_timeout = 0, idle_readonly_transaction_timeout = 0,
      net_write_timeout = ${WAIT_SECONDS}, tx_isolation = 'REPEATABLE-READ'`,
  );
  await write(connection, "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
}

/** The raw connection is there, and not in the types of the promise interface. */
interface Raw {
  readonly connection: {
    query(how: {
      readonly sql: string;
      readonly rowsAsArray: true;
      readonly typeCast: (field: { buffer(): Cell }) => Cell;
    }): { stream(): Readable };
  };
}

/** In the order of its key, so that the same rows have the same sum wherever they are. */
export async function* rowsOf(
  connection: Tx,
  { name, columns }: BackupTable,
): AsyncGenerator<readonly Cell[]> {
  const listed = (of: readonly string[]): string => of.map((column) => `\`${column}\``).join(", ");
  const key = await keyOf(connection, name);
  const stream = (connection as unknown as Raw).connection
    .query({
      sql: `SELECT ${listed(columns)} FROM \`${name}\`${key.length === 0 ? "" : ` ORDER BY ${listed(key)}`}`,
      rowsAsArray: true,
      typeCast: (field) => field.buffer(),
    })
    .stream();
  for await (const row of stream) yield row as readonly Cell[];
}

export async function sumsOf(connection: Tx, tables: readonly BackupTable[]): Promise<Sums> {
  const sums: Record<string, ReturnType<RowSum["end"]>> = {};
  for (const table of tables) {
    const sum = new RowSum();
    for await (const row of rowsOf(connection, table)) sum.add(row);
    sums[table.name] = sum.end();
  }
  return sums;
}
