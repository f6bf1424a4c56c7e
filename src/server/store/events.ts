/** Events: a row for each change, in the same transaction as the change. */
import { type Db, row, rows, write } from "../db/rows";

export type EventKind = "files" | "findings" | "run" | "task" | "plan" | "node";

export interface EventRow {
  readonly id: number;
  readonly kind: EventKind;
  readonly sequenceId: number | null;
  readonly runId: number | null;
}

const PRUNE_AFTER_HOURS = 24;

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

export const eventsAfter = (db: Db, id: number, limit: number): Promise<EventRow[]> =>
  rows<EventRow>(
    db,
    `SELECT id, kind, sequence_id AS sequenceId, run_id AS runId
      FROM event
      WHERE id > ?
      ORDER BY id
      LIMIT ?`,
    [id, limit],
  );

export async function lastEventId(db: Db): Promise<number> {
  return (await row<{ id: number | null }>(db, "SELECT MAX(id) AS id FROM event"))?.id ?? 0;
}

export async function pruneEvents(db: Db): Promise<void> {
  await write(db, `DELETE FROM event WHERE at < NOW(3) - INTERVAL ${PRUNE_AFTER_HOURS} HOUR LIMIT 10000`);
}
