/**
 * Puts a backup in the place of a database. All of the file is read and held against its end before anything is touched; the
 * tables are made as they were when it was made, filled, compared row by row with the file, and brought up to date.
 */
import { TallyError } from "../errors";
import { applyFiles, LOCK_SECONDS, migrate, sqlFiles } from "../db/migrate";
import { connect } from "../db/connection";
import { withHouseLock } from "../db/house-lock";
import { pool, type Tx } from "../db/pool";
import { row, rows, valuesList, write } from "../db/rows";
import { appendEvent } from "../store/events";
import { nodesAwake } from "../store/nodes";
import { type BackupRow, type Cell, isSame, readBackup, type Sums } from "./backup-lines";
import { OF_MIGRATIONS, sumsOf } from "./rows-of-tables";

/** Of one statement: some way below the 16 MB that a server takes at once. */
const MOST_BYTES = 1024 * 1024;
const MOST_ROWS = 500;

/** Rows of a table go in many at a time. */
class Inserts {
  readonly #connection: Tx;
  #pending: BackupRow[] = [];
  #bytes = 0;

  constructor(connection: Tx) {
    this.#connection = connection;
  }

  async add(next: BackupRow): Promise<void> {
    const [first] = this.#pending;
    if (first !== undefined && first.table !== next.table) await this.flush();
    this.#pending.push(next);
    this.#bytes += next.row.reduce((sum, cell) => sum + (cell?.length ?? 0), 0);
    if (this.#pending.length >= MOST_ROWS || this.#bytes >= MOST_BYTES) await this.flush();
  }

  async flush(): Promise<void> {
    const [first] = this.#pending;
    if (first === undefined) return;
    const { name, columns } = first.table;
    const list = valuesList(this.#pending.map((one) => one.row as readonly (Cell & Buffer)[]));
    this.#pending = [];
    this.#bytes = 0;
    await write(
      this.#connection,
      `INSERT INTO \`${name}\` (${columns.map((column) => `\`${column}\``).join(", ")}) VALUES ${list.sql}`,
      list.params,
    );
  }
}

/** Numbers that were given once are not given again: files on disk bear some of them. */
async function nextNumbers(connection: Tx): Promise<ReadonlyMap<string, number>> {
  const found = await rows<{ name: string; next: number }>(
    connection,
    `SELECT TABLE_NAME AS name, AUTO_INCREMENT AS next
      FROM information_schema.TABLES
      WHERE TABLE_SCHEMA = DATABASE() AND AUTO_INCREMENT IS NOT NULL`,
  );
  return new Map(found.map(({ name, next }) => [name, Number(next)]));
}

const tableNames = async (connection: Tx): Promise<readonly string[]> =>
  (
    await rows<{ name: string }>(
      connection,
      "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()",
    )
  ).map(({ name }) => name);

/** Where keys of other tables are not looked at (`foreign_key_checks`). */
export async function dropAll(connection: Tx): Promise<void> {
  for (const name of await tableNames(connection)) await write(connection, `DROP TABLE \`${name}\``);
}

/**
 * The pages that a private database is started with go on asking and writing meanwhile: they wait until all is back, and what
 * they wrote into the new tables goes.
 */
async function holdAll(connection: Tx): Promise<void> {
  const names = (await tableNames(connection)).filter((name) => name !== OF_MIGRATIONS);
  await write(connection, `LOCK TABLES ${names.map((name) => `\`${name}\` WRITE`).join(", ")}`);
  for (const name of names) await write(connection, `DELETE FROM \`${name}\``);
}

async function hasProjects(connection: Tx): Promise<boolean> {
  const there = await row<{ n: number }>(
    connection,
    "SELECT COUNT(*) AS n FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'project'",
  );
  if (Number(there?.n ?? 0) === 0) return false;
  return Number((await row<{ n: number }>(connection, "SELECT COUNT(*) AS n FROM project"))!.n) > 0;
}

export interface Restored {
  /** When the backup was made. */
  readonly at: string;
  readonly sums: Sums;
  /** Files of the schema that came after it. */
  readonly applied: readonly string[];
}

/**
 * @param folder of schema and migrations @param replaces whatever tally is there
 * @param awaySeconds a node that was not heard of for so long is none
 * @throws TallyError `backup-broken`, `database-newer`, `restore-over`, `restore-nodes`, `restore-differs`
 */
export async function restore(
  file: string,
  folder: string,
  replaces: boolean,
  awaySeconds: number,
): Promise<Restored> {
  const { head, sums } = await readBackup(file);
  const known = new Set(await sqlFiles(folder));
  const unknown = head.schema.filter((name) => !known.has(name));
  if (unknown.length > 0) throw new TallyError("database-newer", { names: unknown });
  const connection = await connect(pool());
  try {
    const done = await withHouseLock(connection, "migrate", LOCK_SECONDS, async () => {
      if (await hasProjects(connection)) {
        if (!replaces) throw new TallyError("restore-over");
        const awake = await nodesAwake(connection, awaySeconds);
        if (awake > 0) throw new TallyError("restore-nodes", { count: awake });
      }
      const before = await nextNumbers(connection);
      await write(
        connection,
        "SET SESSION foreign_key_checks = 0, unique_checks = 0, idle_write_transaction_timeout = 0, idle_transaction_timeout = 0",
      );
      await dropAll(connection);
      await applyFiles(connection, folder, head.schema);
      // A transaction that is begun by its word would let the tables go again.
      await write(connection, "SET SESSION autocommit = 0");
      await holdAll(connection);
      const inserts = new Inserts(connection);
      await readBackup(file, (next) => inserts.add(next));
      await inserts.flush();
      await write(connection, "COMMIT");
      const there = await sumsOf(connection, head.tables);
      const other = head.tables.map(({ name }) => name).filter((name) => !isSame(there[name], sums[name]));
      if (other.length > 0) throw new TallyError("restore-differs", { tables: other });
      await write(connection, "UNLOCK TABLES");
      for (const [name, next] of await nextNumbers(connection))
        if ((before.get(name) ?? 0) > next)
          await write(connection, `ALTER TABLE \`${name}\` AUTO_INCREMENT = ${before.get(name)!}`);
      return true;
    });
    if (done === null) throw new TallyError("migration-locked");
  } finally {
    // Its session is set for this alone.
    connection.destroy();
  }
  const applied = await migrate(pool(), folder);
  // Pages that are open ask for everything anew.
  await appendEvent(pool(), "plan");
  return { at: head.at, sums, applied };
}
