/**
 * What the newest edit uses of each shot.
 * One row for each import and shot; the two newest uses are told, so that a page can draw what a new cut
 * takes more and less than the cut before.
 */
import type { EditSound } from "@/core/edit/edit-list";
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

/** A clip of an edit that was read: which shot, and what of it in source frames. */
export interface KeptClip {
  readonly code: string | null;
  readonly first: number;
  readonly end: number;
  /** Frames of the edit before it begins. */
  readonly starts: number;
}

/** Keeps an edit with the order of its clips, and its sound. */
export async function insertEdit(
  db: Db,
  projectId: number,
  name: string,
  clips: readonly KeptClip[],
  sound: readonly EditSound[],
): Promise<void> {
  await write(db, "INSERT INTO edit (project_id, name, clips, sound) VALUES (?, ?, ?, ?)", [
    projectId,
    name,
    JSON.stringify(clips),
    JSON.stringify(sound),
  ]);
}

/** Codes of the shots that the newest edit shows; null where no edit was read. */
export async function shotsOfNewestEdit(db: Db, projectId: number): Promise<readonly string[] | null> {
  const found = await row<{ clips: unknown }>(
    db,
    "SELECT clips FROM edit WHERE project_id = ? ORDER BY id DESC LIMIT 1",
    [projectId],
  );
  if (found === null) return null;
  const clips = fromJson<readonly KeptClip[]>(found.clips);
  return [...new Set(clips.flatMap(({ code }) => (code === null ? [] : [code])))];
}

/** Forgets the edits of a project. */
export async function deleteEdits(db: Db, projectId: number): Promise<void> {
  await write(db, "DELETE FROM edit WHERE project_id = ?", [projectId]);
}
