/**
 * Brings a database to this program's schema, under a lock: first `db/schema`, one readable file a
 * family of tables, then `db/migrations`, numbered files of one re-runnable DDL each, forward only.
 * What was applied is kept by name. DDL commits by itself, so a file is noted only once all of it ran.
 * Triggers follow the columns that there are then.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { TallyError } from "../errors";
import { installTriggers } from "./record-triggers";
import { withHouseLock } from "./house-lock";
import type { Pool, Tx } from "./pool";
import { type Db, rows, write } from "./rows";

/** Less than any answer is waited for. */
export const LOCK_SECONDS = 10;
/** Migrations of before the families: such a database has other columns, and nothing was released with it. */
const BEFORE_FAMILIES = "001_project.sql";
/** Noted as a file is, while the triggers are those of the tables as they are. */
const TRIGGERS = "triggers";

async function sqlFilesOf(folder: string, room: string, pattern: RegExp): Promise<string[]> {
  const names = await fs.readdir(path.join(folder, room));
  return names
    .filter((name) => pattern.test(name))
    .sort()
    .map((name) => `${room}/${name}`);
}

/** In the order in which they are applied. */
export const sqlFiles = async (folder: string): Promise<readonly string[]> => [
  ...(await sqlFilesOf(folder, "schema", /^\d-.*\.sql$/)),
  ...(await sqlFilesOf(folder, "migrations", /^\d{3}_.*\.sql$/)),
];

/** Statements of a file, comments left out. */
const statementsOf = (text: string): string[] =>
  text
    .replace(/^--.*$/gm, "")
    .split(/;\s*$/m)
    .map((statement) => statement.trim())
    .filter((statement) => statement !== "");

async function applied(db: Db): Promise<readonly string[]> {
  await write(
    db,
    `CREATE TABLE IF NOT EXISTS schema_migration (
      name VARCHAR(100) NOT NULL PRIMARY KEY,
      applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
    ) ENGINE=InnoDB`,
  );
  return (await rows<{ name: string }>(db, "SELECT name FROM schema_migration")).map((r) => r.name);
}

/** @param folder of `schema` and `migrations`
 * @returns files that were applied now
 */
export async function migrate(pool: Pool, folder: string): Promise<readonly string[]> {
  const files = await sqlFiles(folder);
  const connection = await pool.getConnection();
  try {
    const done = await withHouseLock(connection, "migrate", LOCK_SECONDS, () =>
      applyMissing(connection, folder, files),
    );
    if (done === null) throw new TallyError("migration-locked");
    return done;
  } finally {
    connection.release();
  }
}

/** Files of the schema that a database has, in the order in which they are applied. */
export const appliedFiles = async (db: Db): Promise<readonly string[]> =>
  (await applied(db)).filter((name) => name !== TRIGGERS).sort(bySchemaFirst);

/** `schema/…` goes before `migrations/…`, each by its number. */
const bySchemaFirst = (a: string, b: string): number =>
  Number(a.startsWith("migrations/")) - Number(b.startsWith("migrations/")) || (a < b ? -1 : 1);

/** To a database that has none of them. */
export async function applyFiles(connection: Tx, folder: string, files: readonly string[]): Promise<void> {
  await applied(connection);
  for (const file of files) {
    for (const statement of statementsOf(await fs.readFile(path.join(folder, file), "utf8")))
      // As long as it takes: a large table is copied.
      await connection.query(statement);
    await write(connection, "INSERT INTO schema_migration (name) VALUES (?)", [file]);
  }
}

/** @returns files that were applied now */
async function applyMissing(
  connection: Tx,
  folder: string,
  files: readonly string[],
): Promise<readonly string[]> {
  const there = await applied(connection);
  if (there.includes(BEFORE_FAMILIES)) throw new TallyError("database-earlier");
  const unknown = there.filter((name) => name !== TRIGGERS && !files.includes(name));
  if (unknown.length > 0) throw new TallyError("database-newer", { names: unknown });
  const missing = files.filter((name) => !there.includes(name));
  if (missing.length > 0) await write(connection, "DELETE FROM schema_migration WHERE name = ?", [TRIGGERS]);
  await applyFiles(connection, folder, missing);
  if (missing.length > 0 || !there.includes(TRIGGERS)) {
    await installTriggers(connection);
    await write(connection, "INSERT INTO schema_migration (name) VALUES (?)", [TRIGGERS]);
  }
  return missing;
}
