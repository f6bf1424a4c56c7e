/** Small typed doors to mysql2: rows of a query, the one row, how many rows a write matched. */
import type { ResultSetHeader, RowDataPacket } from "mysql2/promise";
import type { Pool, Tx } from "./pool";

export type Db = Pool | Tx;
type Value = string | number | boolean | Date | Buffer | null;
export type Params = readonly Value[];

/** Rows of a query, as the caller says they are: columns are listed and named in the statement for that. */
export async function rows<R>(db: Db, sql: string, params: Params = []): Promise<R[]> {
  const [found] = await db.query<RowDataPacket[]>(sql, [...params]);
  return found as R[];
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
  const [result] = await db.query<ResultSetHeader>(sql, [...params]);
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
