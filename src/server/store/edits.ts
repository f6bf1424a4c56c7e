/**
 * What the newest edit uses of each shot.
 * One row for each import and shot; the two newest uses are told, so that a page can draw what a new cut
 * takes more and less than the cut before.
 */
import type { EditUse } from "@/core/edit/edit-use";
import { type Db, row, write } from "../db/rows";

/**
 * What the newest edit list takes of a shot, with what the one before took; null where no edit was ever read.
 */
export const editUseOfShot = (db: Db, shotId: number): Promise<EditUse | null> =>
  row<EditUse>(
    db,
    `SELECT edit_name AS editName, frames, previous_frames AS previousFrames
      FROM edit_use
      WHERE shot_id = ?`,
    [shotId],
  );

/** What was known before becomes the previous edit, so that what is newly used can be told. */
export async function saveEditUse(db: Db, shotId: number, editName: string, frames: string): Promise<void> {
  await write(
    db,
    `INSERT INTO edit_use (shot_id, edit_name, frames)
      VALUES (?, ?, ?)
      ON DUPLICATE KEY UPDATE edit_name = VALUES(edit_name), previous_frames = frames, frames = VALUES(frames), imported_at = NOW(3)`,
    [shotId, editName, frames],
  );
}
