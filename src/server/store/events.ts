/**
 * Events: a row for each change, in the same transaction as the change.
 * Events say what to look at again and never what it has become: whoever hears one reads the rows. They are
 * pruned after a day, and a page that has slept longer reads everything.
 */
import { type Db, row, rows, write } from "../db/rows";

export type EventKind = "files" | "findings" | "run" | "task" | "plan" | "node";

export interface EventRow {
  /** Ascending, with gaps where a transaction was rolled back. */
  readonly id: number;
  /** What kind of thing changed. */
  readonly kind: EventKind;
  /** Null where it is about no sequence. */
  readonly sequenceId: number | null;
  /** Of the sequence. */
  readonly versionId: number | null;
  /** Null where it is about no run. */
  readonly runId: number | null;
  /** With `lastFrame`: no frame outside has changed. Null: any may have. */
  readonly firstFrame: number | null;
  /** Inclusive; null with `firstFrame`. */
  readonly lastFrame: number | null;
}

/**
 * Says that something changed, to every open page. Belongs in the transaction of the change: then nobody
 * hears of what was rolled back, and nobody misses what was committed.
 * @param kind what kind of thing changed; a page asks anew only what shows that
 */
export async function appendEvent(
  db: Db,
  kind: EventKind,
  sequenceId: number | null = null,
  runId: number | null = null,
): Promise<void> {
  await write(db, "INSERT INTO event (kind, sequence_id, run_id) VALUES (?, ?, ?)", [
    kind,
    sequenceId,
    runId,
  ]);
}

/**
 * Something became of frames first..last of a version, whichever of its sequences is named; a superset does
 * no harm.
 */
export async function appendFrameEvent(
  db: Db,
  kind: "files" | "task",
  at: { readonly sequenceId: number; readonly runId: number | null },
  first: number,
  last: number = first,
): Promise<void> {
  await write(
    db,
    `INSERT INTO event (kind, sequence_id, run_id, first_frame, last_frame)
      VALUES (?, ?, ?, ?, ?)`,
    [kind, at.sequenceId, at.runId, first, last],
  );
}

/**
 * Events after one that was heard, oldest first. Ids of transactions that commit late are lower than ones
 * already seen; who follows the stream must look back (http/sort-events).
 */
export const eventsAfter = (db: Db, id: number, limit: number): Promise<EventRow[]> =>
  rows<EventRow>(
    db,
    `SELECT e.id, e.kind, e.sequence_id AS sequenceId, q.version_id AS versionId, e.run_id AS runId,
        e.first_frame AS firstFrame, e.last_frame AS lastFrame
      FROM event e
      LEFT JOIN sequence q ON q.id = e.sequence_id
      WHERE e.id > ?
      ORDER BY e.id
      LIMIT ?`,
    [id, limit],
  );

/** Where a listener begins who wants only what comes from now on. 0 in an empty house. */
export async function lastEventId(db: Db): Promise<number> {
  return (await row<{ id: number | null }>(db, "SELECT MAX(id) AS id FROM event"))?.id ?? 0;
}
