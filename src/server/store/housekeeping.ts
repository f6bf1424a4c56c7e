/**
 * Rows that nobody asks for any more, removed some at a time so that no statement holds locks for long.
 * What a tally is made of stays for good: files, open findings, what people said, and the last attempt at each
 * frame, with its task. Of a run that loses rows the counts are kept on the run itself.
 */
import { type Db, marks, rows, write } from "../db/rows";

/** Rows a statement. */
const AT_ONCE = 2_000;

/** Removes until nothing is left or the time is over. @param remove tells how many rows it took */
async function inPortions(isOver: () => boolean, remove: () => Promise<number>): Promise<number> {
  let all = 0;
  while (!isOver()) {
    const removed = await remove();
    all += removed;
    if (removed < AT_ONCE) break;
  }
  return all;
}

/** News that no page can still be waiting for. */
export const removeOldEvents = (db: Db, hours: number, isOver: () => boolean): Promise<number> =>
  inPortions(isOver, async () => {
    const sql = `DELETE FROM event WHERE at < NOW(3) - INTERVAL ? HOUR LIMIT ${AT_ONCE}`;
    return (await write(db, sql, [hours])).matched;
  });

/** Lines of attempts that ended long ago; the file beside the frames has them for longer. */
export const removeOldLines = (db: Db, days: number, isOver: () => boolean): Promise<number> =>
  inPortions(isOver, async () => {
    const old = await rows<{ id: number }>(
      db,
      `SELECT l.id
        FROM attempt_line l
        JOIN attempt a ON a.id = l.attempt_id
        WHERE a.ended_at < NOW(3) - INTERVAL ? DAY
        ORDER BY l.id
        LIMIT ${AT_ONCE}`,
      [days],
    );
    return removeByIds(db, "attempt_line", old);
  });

async function removeByIds(
  db: Db,
  table: "attempt_line" | "attempt" | "task",
  found: readonly { readonly id: number }[],
): Promise<number> {
  const ids = found.map((f) => f.id);
  if (ids.length > 0) await write(db, `DELETE FROM ${table} WHERE id IN ${marks(ids)}`, ids);
  return ids.length;
}

/**
 * Attempts that ended long ago and were followed by others at the same frame and passes. What a file or a proof
 * was made by stays, as does the last attempt.
 */
export const removeOldAttempts = (db: Db, days: number, isOver: () => boolean): Promise<number> =>
  inPortions(isOver, async () => {
    const old = await rows<{ id: number; runId: number }>(
      db,
      `SELECT a.id, a.run_id AS runId
        FROM attempt a
        JOIN run r ON r.id = a.run_id
        WHERE a.ended_at < NOW(3) - INTERVAL ? DAY
          AND EXISTS (
            SELECT 1
            FROM attempt n
            JOIN run m ON m.id = n.run_id AND m.kind = r.kind
            WHERE n.sequence_id = a.sequence_id
              AND n.frame = a.frame
              AND n.id > a.id
              AND n.kind = a.kind
              AND n.outcome IN ('done', 'failed')
              AND (n.passes & a.passes) = a.passes
          )
          AND NOT EXISTS (
            SELECT 1
            FROM frame_file f
            JOIN sequence q ON q.id = f.sequence_id
            JOIN sequence l ON l.id = a.sequence_id AND l.version_id = q.version_id
            WHERE f.frame = a.frame AND f.attempt_id = a.id
          )
          AND NOT EXISTS (
            SELECT 1
            FROM proof_file p
            WHERE p.run_id = a.run_id AND p.frame = a.frame AND p.attempt_id = a.id
          )
          AND NOT EXISTS (SELECT 1 FROM task t WHERE t.id = a.task_id AND t.attempt_id = a.id AND t.state = 'leased')
        LIMIT ${AT_ONCE}`,
      [days],
    );
    if (old.length === 0) return 0;
    const ids = old.map((a) => a.id);
    const runs = [...new Set(old.map((a) => a.runId))];
    await write(db, `DELETE FROM attempt_line WHERE attempt_id IN ${marks(ids)}`, ids);
    await write(db, `UPDATE run SET tidied_at = NOW(3) WHERE id IN ${marks(runs)}`, runs);
    return removeByIds(db, "attempt", old);
  });

/**
 * Tasks that are over, of runs that ended long ago, and that no attempt is of any more. How many they were is
 * added to their run in the same transaction.
 */
export const removeOldTasks = (
  transact: <T>(work: (tx: Db) => Promise<T>) => Promise<T>,
  days: number,
  isOver: () => boolean,
): Promise<number> =>
  inPortions(isOver, () =>
    transact(async (tx) => {
      const old = await rows<{ id: number; runId: number; kind: string; state: string }>(
        tx,
        `SELECT t.id, t.run_id AS runId, t.kind, t.state
          FROM task t
          JOIN run r ON r.id = t.run_id
          WHERE r.state = 'done'
            AND r.ended_at < NOW(3) - INTERVAL ? DAY
            AND t.state IN ('done', 'dropped')
            AND NOT EXISTS (SELECT 1 FROM attempt a WHERE a.task_id = t.id)
          LIMIT ${AT_ONCE}`,
        [days],
      );
      const ids = old.map((t) => t.id);
      if (ids.length === 0) return 0;
      for (const runId of new Set(old.map((t) => t.runId))) {
        const done = (kind: string): number =>
          old.filter((t) => t.runId === runId && t.kind === kind && t.state === "done").length;
        await write(
          tx,
          `UPDATE run
            SET tidied_at = NOW(3), done_removed = done_removed + ?, lights_removed = lights_removed + ?
            WHERE id = ?`,
          [done("frame"), done("light"), runId],
        );
      }
      await write(tx, `DELETE FROM frame_preview WHERE task_id IN ${marks(ids)}`, ids);
      return removeByIds(tx, "task", old);
    }),
  );

/** What checks and nodes found and what is mended long since; what people said stays. */
export const removeOldFindings = (db: Db, days: number, isOver: () => boolean): Promise<number> =>
  inPortions(isOver, async () => {
    const sql = `DELETE FROM finding
      WHERE state <> 'open' AND source NOT IN ('person', 'odd') AND closed_at < NOW(3) - INTERVAL ? DAY
      LIMIT ${AT_ONCE}`;
    return (await write(db, sql, [days])).matched;
  });

/** Questions to nodes that nobody waits for, and asides of nodes that were let in long ago. */
export async function removeOldQuestions(db: Db, days: number): Promise<number> {
  const asked = await write(
    db,
    `DELETE FROM node_request WHERE asked_at < NOW(3) - INTERVAL 1 DAY LIMIT ${AT_ONCE}`,
  );
  const asides = await write(
    db,
    `DELETE FROM node_aside WHERE let_in_at < NOW(3) - INTERVAL ? DAY LIMIT ${AT_ONCE}`,
    [days],
  );
  return asked.matched + asides.matched;
}

/** Takes the turn of this hour, if nobody has had it. @returns whether it is ours */
export async function takeTurn(db: Db, minutes: number): Promise<boolean> {
  await write(db, "INSERT IGNORE INTO setting (name, value) VALUES ('housekeeping', '2000-01-01')");
  const { matched } = await write(
    db,
    `UPDATE setting
      SET value = NOW()
      WHERE name = 'housekeeping' AND CAST(value AS DATETIME) < NOW() - INTERVAL ? MINUTE`,
    [minutes],
  );
  return matched === 1;
}

/** Frames of a sequence whose file is whole: what they replaced need not be kept any longer. */
export async function goodFrames(db: Db, sequenceId: number): Promise<ReadonlySet<number>> {
  const found = await rows<{ frame: number }>(
    db,
    "SELECT frame FROM frame_file WHERE sequence_id = ? AND verdict = 'good'",
    [sequenceId],
  );
  return new Set(found.map((f) => f.frame));
}
