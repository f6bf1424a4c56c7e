/**
 * Small pictures of frames while they render.
 * One picture a task, written over and over while it renders, and thrown out when nobody renders it any
 * more. It is never a result: files on disk alone are.
 */
import { type Db, row, write } from "../db/rows";

/** Written only by who holds the lease. */
export async function savePreview(
  db: Db,
  task: { readonly taskId: number; readonly token: string },
  jpeg: Uint8Array,
): Promise<void> {
  await write(
    db,
    `REPLACE INTO frame_preview (task_id, sequence_id, frame, made_at, jpeg)
      SELECT id, sequence_id, frame, NOW(3), ?
      FROM task
      WHERE id = ? AND token = ? AND state = 'leased'`,
    [Buffer.from(jpeg), task.taskId, task.token],
  );
}

/** Pictures of frames that nobody renders any more. */
export async function deleteOldPreviews(db: Db): Promise<void> {
  await write(
    db,
    `DELETE p
    FROM frame_preview p
    JOIN task t ON t.id = p.task_id
    WHERE t.state <> 'leased'`,
  );
}

/** Of a frame that renders now. */
export const previewOfFrame = async (db: Db, leadId: number, frame: number): Promise<Buffer | null> =>
  (
    await row<{ jpeg: Buffer }>(
      db,
      `SELECT p.jpeg
        FROM frame_preview p
        JOIN task t ON t.id = p.task_id AND t.state = 'leased'
        WHERE p.sequence_id = ? AND p.frame = ?
        ORDER BY p.made_at DESC
        LIMIT 1`,
      [leadId, frame],
    )
  )?.jpeg ?? null;
