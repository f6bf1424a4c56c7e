/** Brings a database to this program's schema: numbered files, one re-runnable DDL each, forward only, under a lock. */
import fs from "node:fs/promises";
import path from "node:path";
import { TallyError } from "../errors";
import type { Pool } from "./pool";
import { row, rows, write } from "./rows";

const LOCK_SECONDS = 30;

export async function migrate(pool: Pool, folder: string): Promise<readonly string[]> {
  const files = (await fs.readdir(folder)).filter((file) => /^\d{3}_.*\.sql$/.test(file)).sort();
  const connection = await pool.getConnection();
  try {
    const lock = await row<{ held: number }>(
      connection,
      "SELECT GET_LOCK('plain_tally_migrate', ?) AS held",
      [LOCK_SECONDS],
    );
    if (lock?.held !== 1) throw new TallyError("migration-locked");
    await write(
      connection,
      "CREATE TABLE IF NOT EXISTS schema_migration (name VARCHAR(100) NOT NULL PRIMARY KEY, applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB",
    );
    const applied = new Set(
      (await rows<{ name: string }>(connection, "SELECT name FROM schema_migration")).map((r) => r.name),
    );
    const unknown = [...applied].filter((name) => !files.includes(name));
    if (unknown.length > 0) throw new TallyError("database-newer", { names: unknown });
    const done: string[] = [];
    for (const file of files.filter((f) => !applied.has(f))) {
      await write(connection, await fs.readFile(path.join(folder, file), "utf8"));
      await write(connection, "INSERT INTO schema_migration (name) VALUES (?)", [file]);
      done.push(file);
    }
    await row(connection, "SELECT RELEASE_LOCK('plain_tally_migrate')");
    return done;
  } finally {
    connection.release();
  }
}
