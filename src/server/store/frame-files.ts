/** Files of frames as they were last seen on disk. */
import type { FileVerdict } from "@/core/image/verdict";
import { type Db, marks, row, rows, write } from "../db/rows";
import { pool } from "../db/pool";
import { sequencesOfVersion } from "./shots";

export interface FileIdentity {
  readonly name: string;
  readonly bytes: number;
  readonly modifiedMs: number;
}

export interface FileRow extends FileIdentity {
  readonly frame: number;
  readonly content: string | null;
  readonly verdict: FileVerdict["verdict"] | null;
  readonly code: string | null;
  readonly detail: string | null;
  readonly look: string | null;
  readonly effort: string | null;
  readonly samples: number | null;
  readonly attemptId: number | null;
  readonly node: string | null;
  readonly seconds: number | null;
  readonly luminance: number | null;
  readonly noise: number | null;
}

/** What a check or an attempt learned of a file. */
export interface FileFacts extends FileIdentity {
  readonly content: string;
  readonly verdict: FileVerdict;
  readonly look: string | null;
  readonly effort: string | null;
  readonly samples: number | null;
  readonly attemptId: number | null;
  readonly node: string | null;
  readonly seconds: number | null;
  readonly luminance: number | null;
  readonly noise: number | null;
}

const COLUMNS = `frame, name, bytes, modified_ms AS modifiedMs, content, verdict, code, detail, look, effort,
      samples, attempt_id AS attemptId, node, seconds, luminance, noise`;

/**
 * All files of a sequence as they were last seen, by frame. A row is no proof that the file is still there.
 */
export const listFiles = (db: Db, sequenceId: number): Promise<FileRow[]> =>
  rows<FileRow>(db, `SELECT ${COLUMNS} FROM frame_file WHERE sequence_id = ? ORDER BY frame`, [sequenceId]);

/** Those of some frames: what a page asks after news of them. */
export const filesOfFrames = (db: Db, sequenceId: number, frames: readonly number[]): Promise<FileRow[]> =>
  rows<FileRow>(
    db,
    `SELECT ${COLUMNS}
      FROM frame_file
      WHERE sequence_id = ? AND frame IN ${marks(frames)}
      ORDER BY frame`,
    [sequenceId, ...frames],
  );

/** The one of a frame, or null where none was ever seen. */
export const fileOfFrame = (db: Db, sequenceId: number, frame: number): Promise<FileRow | null> =>
  row<FileRow>(db, `SELECT ${COLUMNS} FROM frame_file WHERE sequence_id = ? AND frame = ?`, [
    sequenceId,
    frame,
  ]);

/** Reads and locks, so that a check and a finishing attempt do not write over one another. */
export const lockFile = (db: Db, sequenceId: number, frame: number): Promise<FileRow | null> =>
  row<FileRow>(db, `SELECT ${COLUMNS} FROM frame_file WHERE sequence_id = ? AND frame = ? FOR UPDATE`, [
    sequenceId,
    frame,
  ]);

async function countFiles(db: Db, sequenceId: number): Promise<number> {
  return (await row<{ n: number }>(db, "SELECT COUNT(*) AS n FROM frame_file WHERE sequence_id = ?", [
    sequenceId,
  ]))!.n;
}

/**
 * Writes what a look or an attempt found in a file, in place of all that was known of that frame's file
 * before.
 */
export async function saveFile(db: Db, sequenceId: number, frame: number, facts: FileFacts): Promise<void> {
  const { verdict: v } = facts;
  await write(
    db,
    `REPLACE INTO frame_file (
        sequence_id, frame, name, bytes, modified_ms, content, verdict, code, detail, width, height,
          look, effort, samples, attempt_id, node, seconds, luminance, noise
      )
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      sequenceId,
      frame,
      facts.name,
      facts.bytes,
      facts.modifiedMs,
      facts.content,
      v.verdict,
      v.code,
      v.detail,
      v.width,
      v.height,
      facts.look,
      facts.effort,
      facts.samples,
      facts.attemptId,
      facts.node,
      facts.seconds,
      facts.luminance,
      facts.noise,
    ],
  );
}

/** A file that is there and that nothing has looked at yet. */
export async function saveUnlookedFile(
  db: Db,
  sequenceId: number,
  frame: number,
  file: FileIdentity,
): Promise<void> {
  await write(
    db,
    `REPLACE INTO frame_file (sequence_id, frame, name, bytes, modified_ms)
      VALUES (?, ?, ?, ?, ?)`,
    [sequenceId, frame, file.name, file.bytes, file.modifiedMs],
  );
}

/**
 * Forgets the file of a frame. Only after a look at the folder under the frame's lock (lockFile): what cannot
 * be read just now is not gone.
 */
export async function deleteFile(db: Db, sequenceId: number, frame: number): Promise<void> {
  await write(db, "DELETE FROM frame_file WHERE sequence_id = ? AND frame = ?", [sequenceId, frame]);
}

/**
 * Whether a version holds any file of any camera and pass: from then on its file kind and names are fixed.
 */
export async function hasFiles(versionId: number): Promise<boolean> {
  for (const sequence of await sequencesOfVersion(pool(), versionId))
    if ((await countFiles(pool(), sequence.id)) > 0) return true;
  return false;
}
