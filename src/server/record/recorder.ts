/**
 * Takes keys out of the outbox, reads their rows, and appends them to the records of their projects: one process at a
 * time, by a lock of the database.
 *
 * A record is begun with all rows that there are, and goes on with those that change; a line is on disk before its key
 * leaves the outbox. What cannot be trusted to be whole is begun anew: one that is not there, that has another length
 * than it was left with (a crash, a database that was restored), that lacks what was decided while its folder could not
 * be seen, or that has grown long.
 */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { type RecordTable, RECORD_TABLES } from "../db/record-tables";
import { isDatabaseAway } from "../db/away";
import { connect } from "../db/connection";
import { withHouseLock } from "../db/house-lock";
import type { Pool, Tx } from "../db/pool";
import { marks, type Params, row, rows, write } from "../db/rows";
import { TallyError } from "../errors";
import { recordFile, temporaryOf } from "../files/layout";
import { projectFolder, type ProjectPlace } from "../files/paths";
import { requireMark } from "../files/project-mark";
import { listAllProjects, type ProjectRow } from "../store/projects";
import { keyText, keyValues, type RecordLine, type RecordRow } from "./record-line";

/** Keys of one go: a run of 10,000 frames writes 60,000. */
const KEYS_AT_ONCE = 2_000;
/** Rows of one statement where a record is begun. */
const ROWS_AT_ONCE = 2_000;
/** A record is begun anew when it has grown to so many times its length, and is no short one. */
const GROWN = 4;
const SHORT_BYTES = 8_000_000;
/** A folder that could not be written is tried again after so long. */
const AGAIN_MS = 60_000;

/** Of this process: which records it has found as they were left, and when others are tried again. */
interface Watch {
  readonly proved: Set<number>;
  readonly tryAt: Map<number, number>;
}
const shared = globalThis as { plainTallyRecords?: Watch };
const watch = (): Watch => (shared.plainTallyRecords ??= { proved: new Set(), tryAt: new Map() });

/** A host's name may hold anything; a file's may not. */
const HOST = os
  .hostname()
  .replace(/[^\w.-]/g, "_")
  .slice(0, 100);

/** Rows of some keys with the project of each; a key without a row is one that is gone. */
async function rowsOf(
  tx: Tx,
  table: RecordTable,
  keys: readonly string[],
): Promise<ReadonlyMap<string, { readonly row: RecordRow; readonly project: number | null }>> {
  const columns = table.key.map((c) => `r.${c}`).join(", ");
  const wanted =
    table.key.length === 1
      ? `${columns} IN ${marks(keys)}`
      : `(${columns}) IN (${keys.map(() => marks(table.key)).join(", ")})`;
  const found = await rows<RecordRow & { record_project: number | null }>(
    tx,
    `SELECT r.*, ${table.project ?? "NULL"} AS record_project FROM \`${table.name}\` r WHERE ${wanted}`,
    keys.flatMap(keyValues),
  );
  return new Map(
    found.map(({ record_project: project, ...rest }) => [keyText(table, rest), { row: rest, project }]),
  );
}

/** All rows of a table that belong to a project or to the house, some at a time, in the order of their keys. */
async function* everyRow(tx: Tx, table: RecordTable, project: number): AsyncGenerator<readonly RecordRow[]> {
  const { key } = table;
  const columns = key.map((c) => `r.${c}`).join(", ");
  // Written out, as the database finds no range for a comparison of rows.
  const after = key
    .map((c, i) => [...key.slice(0, i).map((k) => `r.${k} = ?`), `r.${c} > ?`].join(" AND "))
    .map((part) => `(${part})`)
    .join(" OR ");
  const own = table.project === null ? "TRUE" : `COALESCE(${table.project}, ?) = ?`;
  const params: Params = table.project === null ? [] : [project, project];
  for (let last: RecordRow | undefined; ;) {
    const from = last;
    const place =
      from === undefined ? [] : key.flatMap((_, i) => key.slice(0, i + 1).map((k) => from[k] as number));
    const some: readonly RecordRow[] = await rows<RecordRow>(
      tx,
      `SELECT r.* FROM \`${table.name}\` r
        WHERE ${own}${from === undefined ? "" : ` AND (${after})`}
        ORDER BY ${columns}
        LIMIT ${ROWS_AT_ONCE}`,
      [...params, ...place],
    );
    if (some.length > 0) yield some;
    if (some.length < ROWS_AT_ONCE) return;
    last = some.at(-1);
  }
}

const textOf = (lines: readonly RecordLine[]): string =>
  lines.map((line) => `${JSON.stringify(line)}\n`).join("");

/** What the database knows of a record of this host. */
interface KnownFile {
  readonly bytes: number;
  readonly whole: number;
}

const knownFile = (tx: Tx, project: number): Promise<KnownFile | null> =>
  row<KnownFile>(
    tx,
    "SELECT bytes, whole_bytes AS whole FROM record_file WHERE project_id = ? AND host = ?",
    [project, HOST],
  );

const sizeOf = async (file: string): Promise<number | null> =>
  fs.stat(file).then(
    (stat) => stat.size,
    (error: NodeJS.ErrnoException) => {
      if (error.code === "ENOENT") return null;
      throw error;
    },
  );

/**
 * Writes a record with all that there is, and puts it in the place of the one before. One that this database has not
 * written may be all that is left of another: it stays, under another name.
 */
async function begin(tx: Tx, project: ProjectRow, go: number): Promise<void> {
  const file = recordFile(projectFolder(project), HOST);
  const known = await knownFile(tx, project.id);
  await fs.mkdir(path.dirname(file), { recursive: true });
  if (known === null && (await sizeOf(file)) !== null) await fs.rename(file, `${file}.before-${go}`);
  // Only one process is at it: whatever another one has left half written is nothing any more.
  for (const name of await fs.readdir(path.dirname(file)))
    if (name.startsWith(`${path.basename(file)}.part`)) await fs.rm(path.join(path.dirname(file), name));
  const draft = temporaryOf(file, process.pid);
  const handle = await fs.open(draft, "w");
  try {
    await handle.appendFile(textOf([{ whole: go }]));
    for (const table of RECORD_TABLES)
      for await (const some of everyRow(tx, table, project.id))
        await handle.appendFile(
          textOf(some.map((found) => ({ go, table: table.name, key: keyText(table, found), row: found }))),
        );
    await handle.datasync();
  } finally {
    await handle.close();
  }
  const { size } = await fs.stat(draft);
  await fs.rename(draft, file);
  await write(
    tx,
    `INSERT INTO record_file (project_id, host, root, folder, bytes, whole_bytes) VALUES (?, ?, ?, ?, ?, ?)
      ON DUPLICATE KEY UPDATE root = VALUE(root), folder = VALUE(folder), bytes = VALUE(bytes),
        whole_bytes = VALUE(whole_bytes)`,
    [project.id, HOST, project.root, project.folder, size, size],
  );
  await write(tx, "DELETE FROM record_behind WHERE project_id = ?", [project.id]);
}

/** Appends whole lines, has them on disk, and remembers the length. */
async function append(tx: Tx, project: ProjectRow, lines: readonly RecordLine[]): Promise<void> {
  const file = recordFile(projectFolder(project), HOST);
  const handle = await fs.open(file, "a");
  try {
    await handle.appendFile(textOf(lines));
    await handle.datasync();
    const { size } = await handle.stat();
    await write(tx, "UPDATE record_file SET bytes = ? WHERE project_id = ? AND host = ?", [
      size,
      project.id,
      HOST,
    ]);
  } finally {
    await handle.close();
  }
}

/** Whether the record of this host may be gone on with. */
async function isAsLeft(tx: Tx, project: ProjectRow): Promise<boolean> {
  const known = await knownFile(tx, project.id);
  if (known === null || known.bytes > Math.max(SHORT_BYTES, GROWN * known.whole)) return false;
  return (await sizeOf(recordFile(projectFolder(project), HOST))) === known.bytes;
}

/** The file system's, or a root that is not declared on this machine: another may write there, or this one later. */
const isOfFolder = (error: unknown): boolean =>
  error instanceof TallyError || typeof (error as NodeJS.ErrnoException).syscall === "string";

/** Runs what writes into a project's folder. Where that cannot be now, its record is begun anew later. */
async function orBehind(tx: Tx, project: ProjectRow, work: () => Promise<void>): Promise<void> {
  try {
    await requireMark(project);
    await work();
    watch().proved.add(project.id);
  } catch (error) {
    if (!isOfFolder(error)) throw error;
    watch().proved.delete(project.id);
    watch().tryAt.set(project.id, performance.now() + AGAIN_MS);
    await write(tx, "INSERT IGNORE INTO record_behind (project_id) VALUES (?)", [project.id]);
  }
}

interface Pending {
  readonly id: number;
  readonly table: string;
  readonly key: string;
}

/** Lines of some keys for each project: what is gone, and what belongs to the house, stands in every record. */
async function linesOf(
  tx: Tx,
  go: number,
  pending: readonly Pending[],
  projects: readonly ProjectRow[],
): Promise<ReadonlyMap<number, readonly RecordLine[]>> {
  const lines = new Map<number, RecordLine[]>(projects.map(({ id }) => [id, []]));
  for (const table of RECORD_TABLES) {
    const keys = [...new Set(pending.filter((p) => p.table === table.name).map((p) => p.key))];
    if (keys.length === 0) continue;
    const found = await rowsOf(tx, table, keys);
    for (const key of keys) {
      const there = found.get(key);
      const line = { go, table: table.name, key, row: there?.row ?? null };
      if (there?.project != null) lines.get(there.project)?.push(line);
      else for (const own of lines.values()) own.push(line);
    }
  }
  return lines;
}

/** The last line of records whose project was taken out of the tally. */
async function closeRemoved(tx: Tx, go: number, projects: readonly ProjectRow[]): Promise<void> {
  const known = await rows<ProjectPlace & { id: number }>(
    tx,
    "SELECT DISTINCT project_id AS id, root, folder FROM record_file",
  );
  for (const { id, ...place } of known) {
    if (projects.some((p) => p.id === id)) continue;
    // What another project has begun in its folder begins anew, too.
    const isTaken = projects.some((p) => p.root === place.root && p.folder === place.folder);
    try {
      if (!isTaken) await fs.appendFile(recordFile(projectFolder(place), HOST), textOf([{ removed: go }]));
    } catch (error) {
      // Its folder is gone, too, or it is told once it is back.
      if (!isOfFolder(error)) throw error;
      if ((error as NodeJS.ErrnoException).code !== "ENOENT") continue;
    }
    await write(tx, "DELETE FROM record_file WHERE project_id = ?", [id]);
  }
}

/** A project whose record this process has not seen yet, or that is behind. */
interface Due {
  readonly project: ProjectRow;
  readonly isBehind: boolean;
}

async function dueProjects(tx: Tx, projects: readonly ProjectRow[]): Promise<readonly Due[]> {
  const behind = new Set(
    (await rows<{ id: number }>(tx, "SELECT project_id AS id FROM record_behind")).map((r) => r.id),
  );
  const { proved, tryAt } = watch();
  return projects
    .filter(({ id }) => (behind.has(id) || !proved.has(id)) && performance.now() >= (tryAt.get(id) ?? 0))
    .map((project) => ({ project, isBehind: behind.has(project.id) }));
}

/** A look at each: what is not as it was left, or is behind, is begun anew. @returns projects that were */
async function beginThose(tx: Tx, go: number, due: readonly Due[]): Promise<ReadonlySet<number>> {
  const begun = new Set<number>();
  for (const { project, isBehind } of due)
    await orBehind(tx, project, async () => {
      if (!isBehind && (await isAsLeft(tx, project))) return;
      await begin(tx, project, go);
      begun.add(project.id);
    });
  return begun;
}

/** Rises with each go, over all machines and databases, and with the clock. */
async function nextGo(tx: Tx): Promise<number> {
  await write(
    tx,
    `INSERT INTO record_go (id, go) VALUES (1, FLOOR(UNIX_TIMESTAMP(NOW(3)) * 1000))
      ON DUPLICATE KEY UPDATE go = GREATEST(go + 1, VALUE(go))`,
  );
  return (await row<{ go: number }>(tx, "SELECT go FROM record_go WHERE id = 1"))!.go;
}

/** @returns how many keys were taken out */
async function recordSome(tx: Tx): Promise<number> {
  const pending = await rows<Pending>(
    tx,
    `SELECT id, table_name AS \`table\`, row_key AS \`key\` FROM record_outbox ORDER BY id LIMIT ${KEYS_AT_ONCE}`,
  );
  const projects = await listAllProjects(tx);
  const due = await dueProjects(tx, projects);
  if (pending.length === 0 && due.length === 0) return 0;
  const go = await nextGo(tx);
  await closeRemoved(tx, go, projects);
  const begun = await beginThose(tx, go, due);
  if (pending.length === 0) return 0;
  for (const [id, lines] of await linesOf(tx, go, pending, projects)) {
    const project = projects.find((p) => p.id === id)!;
    // What was begun just now has them.
    if (lines.length === 0 || begun.has(id)) continue;
    await orBehind(tx, project, async () =>
      (await isAsLeft(tx, project)) ? append(tx, project, lines) : begin(tx, project, go),
    );
  }
  const ids = pending.map((p) => p.id);
  await write(tx, `DELETE FROM record_outbox WHERE id IN ${marks(ids)}`, ids);
  return ids.length;
}

/** Another process that is at it is done within moments, or is begun anew after a crash. */
const PATIENCE_SECONDS = 5;

/**
 * All that there is now.
 * @param patience how long another process that is at it is waited for, in seconds; then nothing is written
 * @returns how many keys were taken out
 */
export async function writeRecords(pool: Pool, patience = PATIENCE_SECONDS): Promise<number> {
  const tx = await connect(pool);
  try {
    const all = await withHouseLock(tx, "record", patience, async () => {
      let taken = 0;
      for (let some = await recordSome(tx); some > 0; some = await recordSome(tx)) taken += some;
      return taken;
    });
    return all ?? 0;
  } finally {
    tx.release();
  }
}

/** Between two looks into the outbox. */
const EVERY_MS = 1_000;
/** Most looks only ask whether there is anything: projects that this process has not seen yet are found by the others. */
const WHOLE_LOOKS = 10;

const hasWork = async (pool: Pool): Promise<boolean> =>
  (await row<{ has: number }>(
    pool,
    "SELECT EXISTS (SELECT 1 FROM record_outbox) OR EXISTS (SELECT 1 FROM record_behind) AS has",
  ))!.has === 1;

/**
 * For a process that lives long.
 * @param everyMs between two looks; rarer where the server looks, too
 * @returns ends it, once all that there is was written
 */
export function writeRecordsByTheClock(
  pool: () => Pool,
  say: (error: unknown) => void,
  everyMs = EVERY_MS,
): () => Promise<void> {
  let going: Promise<unknown> = Promise.resolve();
  let isIdle = true;
  let looks = 0;
  const look = async (): Promise<void> => {
    if (looks++ % WHOLE_LOOKS === 0 || (await hasWork(pool()))) await writeRecords(pool(), 0);
  };
  const go = (): void => {
    if (!isIdle) return;
    isIdle = false;
    going = look()
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) say(error);
      })
      .finally(() => (isIdle = true));
  };
  const timer = setInterval(go, everyMs);
  // Nobody waits for it at the end.
  timer.unref();
  return async () => {
    clearInterval(timer);
    await going;
    go();
    await going;
  };
}
