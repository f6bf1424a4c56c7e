/** Small typed doors to mysql2: rows of a query, the one row, how many rows a write matched. */
import type { ResultSetHeader, RowDataPacket } from "mysql2/promise";
import { answerOf, connect, whileBusy } from "./connection";
import type { Pool, Tx } from "./pool";

export type Db = Pool | Tx;
type Value = string | number | boolean | Date | Buffer | null;
export type Params = readonly Value[];

/**
 * Asks one statement. Outside a transaction nothing else hangs on it, so it is asked again while others hold
 * what it wants; inside one, all of the transaction is.
 */
async function ask<T extends RowDataPacket[] | ResultSetHeader>(
  db: Db,
  sql: string,
  params: Params,
): Promise<T> {
  const on = async (connection: Tx): Promise<T> =>
    (await answerOf(connection, connection.query<T>(sql, [...params])))[0];
  if (!("getConnection" in db)) return on(db);
  return whileBusy(async () => {
    const connection = await connect(db);
    try {
      return await on(connection);
    } finally {
      connection.release();
    }
  });
}

/** Rows of a query, as the caller says they are: columns are listed and named in the statement for that. */
export async function rows<R>(db: Db, sql: string, params: Params = []): Promise<R[]> {
  return (await ask<RowDataPacket[]>(db, sql, params)) as R[];
}

/** The first row, or null. */
export async function row<R>(db: Db, sql: string, params: Params = []): Promise<R | null> {
  return (await rows<R>(db, sql, params))[0] ?? null;
}

/** Runs a write and tells its id and the number of rows matched. */
export async function write(
  db: Db,
  sql: string,
  params: Params = [],
): Promise<{ id: number; matched: number }> {
  const result = await ask<ResultSetHeader>(db, sql, params);
  return { id: result.insertId, matched: result.affectedRows };
}

/**
 * A list as SQL: `(?, ?, ?)`, for IN. An empty one matches nothing. (An array bound to one mark finds nothing
 * and raises nothing.)
 */
export const marks = (values: readonly unknown[]): string =>
  values.length === 0 ? "(NULL)" : `(${values.map(() => "?").join(", ")})`;

/** Rows of values as SQL: `(?, ?), (?, ?)` and the flat list of parameters. */
export function valuesList(records: readonly Params[]): { readonly sql: string; readonly params: Params } {
  return { sql: records.map(marks).join(", "), params: records.flat() };
}

/** Milliseconds since 1970 as the database takes them. */
export const dateOf = (ms: number | null | undefined): Date | null => (ms == null ? null : new Date(ms));

/** JSON columns arrive as text from MariaDB. */
export const fromJson = <T>(value: unknown): T =>
  typeof value === "string" ? (JSON.parse(value) as T) : (value as T);
