/**
 * What the newest edit uses of each shot.
 * One row for each import and shot; the two newest uses are told, so that a page can draw what a new cut
 * takes more and less than the cut before.
 */
import type { EditSound } from "@/core/edit/edit-list";
import type { ReelClip } from "@/core/edit/edit-reel";
import type { EditUse } from "@/core/edit/edit-use";
import { type Db, fromJson, row, rows, write } from "../db/rows";

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

/** Uses of all shots of a project by the newest edit that named each. */
export const editUsesOfProject = (
  db: Db,
  projectId: number,
): Promise<{ readonly code: string; readonly frames: string }[]> =>
  rows(
    db,
    `SELECT s.code, u.frames
      FROM edit_use u
      JOIN shot s ON s.id = u.shot_id
      WHERE s.project_id = ?
      ORDER BY s.code`,
    [projectId],
  );

/** Keeps an edit with the order of its clips, and its sound. */
export async function insertEdit(
  db: Db,
  projectId: number,
  name: string,
  clips: readonly ReelClip[],
  sound: readonly EditSound[],
): Promise<void> {
  await write(db, "INSERT INTO edit (project_id, name, clips, sound) VALUES (?, ?, ?, ?)", [
    projectId,
    name,
    JSON.stringify(clips),
    JSON.stringify(sound),
  ]);
}

/** The newest edit, with the order of its clips; null where none was read. */
export async function newestEdit(
  db: Db,
  projectId: number,
): Promise<{ readonly name: string; readonly clips: readonly ReelClip[] } | null> {
  const found = await row<{ name: string; clips: unknown }>(
    db,
    "SELECT name, clips FROM edit WHERE project_id = ? ORDER BY id DESC LIMIT 1",
    [projectId],
  );
  return found === null ? null : { name: found.name, clips: fromJson<readonly ReelClip[]>(found.clips) };
}

/** Codes of the shots that the newest edit shows; null where no edit was read. */
export async function shotsOfNewestEdit(db: Db, projectId: number): Promise<readonly string[] | null> {
  const clips = (await newestEdit(db, projectId))?.clips;
  if (clips === undefined) return null;
  return [...new Set(clips.flatMap(({ code }) => (code === null ? [] : [code])))];
}

/** Forgets the edits of a project. */
export async function deleteEdits(db: Db, projectId: number): Promise<void> {
  await write(db, "DELETE FROM edit WHERE project_id = ?", [projectId]);
}
