/**
 * Files of frames as they were last seen on disk.
 * The folder is the truth and these rows are what was last seen of it: what name, length and time say of a
 * file is enough to know it again, and one that differs is looked at anew. Facts of an attempt stand here
 * only while the content is that of the attempt.
 */
import type { FileVerdict } from "@/core/image/verdict";
import type { Extent } from "@/core/plan/watched";
import { type Db, marks, row, rows, write } from "../db/rows";
import { pool } from "../db/pool";
import { askToMeasure } from "./measures";
import { sequencesOfVersion } from "./shots";

export interface FileIdentity {
  /** Of the file in its sequence's folder. */
  readonly name: string;
  /** Length of the file. */
  readonly bytes: number;
  /** Milliseconds since 1970, as the file system tells it. */
  readonly modifiedMs: number;
}

export interface FileRow extends FileIdentity {
  readonly frame: number;
  /** SHA-256 of the bytes; null until it was looked at. */
  readonly content: string | null;
  /** Null until it was looked at. */
  readonly verdict: FileVerdict["verdict"] | null;
  /** What is wrong with it, where it is not good. */
  readonly code: string | null;
  /** The same with what was read, for people. */
  readonly detail: string | null;
  /** Fingerprint of what decides the picture; null for files of others. */
  readonly look: string | null;
  /** Fingerprint of how much was asked for. */
  readonly effort: string | null;
  /** A pixel; null where it is not known. */
  readonly samples: number | null;
  /** The attempt that made it; null for files of others. */
  readonly attemptId: number | null;
  /** Name of the node that made it. */
  readonly node: string | null;
  /** That its attempt took. */
  readonly seconds: number | null;
  /** Mean, Rec. 709, 0 to 1. */
  readonly luminance: number | null;
  /** Grain, as a share of white. */
  readonly noise: number | null;
}

/** What a check or an attempt learned of a file. */
export interface FileFacts extends FileIdentity {
  /** SHA-256 of the bytes. */
  readonly content: string;
  readonly verdict: FileVerdict;
  /** Null where no attempt of ours is known to have made it. */
  readonly look: string | null;
  readonly effort: string | null;
  readonly samples: number | null;
  readonly attemptId: number | null;
  readonly node: string | null;
  readonly seconds: number | null;
  readonly luminance: number | null;
  readonly noise: number | null;
}

/** A person may have deleted some of them, but hardly as many. */
const FILES_TO_PROVE = 50;

const COLUMNS = `frame, name, bytes, modified_ms AS modifiedMs, content, verdict, code, detail, look, effort,
      samples, attempt_id AS attemptId, node, seconds, luminance, noise`;

/**
 * All files of a sequence as they were last seen, by frame. A row is no proof that the file is still there.
 */
export const listFiles = (db: Db, sequenceId: number): Promise<FileRow[]> =>
  rows<FileRow>(db, `SELECT ${COLUMNS} FROM frame_file WHERE sequence_id = ? ORDER BY frame`, [sequenceId]);

/** Sizes of the pictures that were looked at, by frame. */
export const sizesOfFiles = async (
  db: Db,
  sequenceId: number,
): Promise<ReadonlyMap<number, { readonly width: number; readonly height: number }>> =>
  new Map(
    (
      await rows<{ frame: number; width: number; height: number }>(
        db,
        `SELECT frame, width, height
          FROM frame_file
          WHERE sequence_id = ? AND width IS NOT NULL AND height IS NOT NULL`,
        [sequenceId],
      )
    ).map(({ frame, width, height }) => [frame, { width, height }]),
  );

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

/** Some files of a project, by which its folder can be known again. */
export const filesToProve = (
  db: Db,
  slug: string,
): Promise<{ readonly sequenceId: number; readonly name: string; readonly bytes: number }[]> =>
  rows(
    db,
    `SELECT f.sequence_id AS sequenceId, f.name, f.bytes
      FROM frame_file f
      JOIN sequence q ON q.id = f.sequence_id
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      WHERE p.slug = ?
      LIMIT ?`,
    [slug, FILES_TO_PROVE],
  );

/** First and last frame that each sequence of a version has a file of, by its id; none for one without. */
export const extentsOfFiles = async (db: Db, versionId: number): Promise<ReadonlyMap<number, Extent>> =>
  new Map(
    (
      await rows<Extent & { readonly id: number }>(
        db,
        `SELECT f.sequence_id AS id, MIN(f.frame) AS first, MAX(f.frame) AS last
          FROM frame_file f
          JOIN sequence q ON q.id = f.sequence_id
          WHERE q.version_id = ?
          GROUP BY f.sequence_id`,
        [versionId],
      )
    ).map(({ id, first, last }) => [id, { first, last }]),
  );

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
    `INSERT INTO frame_file (
        sequence_id, frame, name, bytes, modified_ms, content, verdict, code, detail, width, height,
          look, effort, samples, attempt_id, node, seconds, luminance, noise
      )
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
      ON DUPLICATE KEY UPDATE
        name = VALUE(name), bytes = VALUE(bytes), modified_ms = VALUE(modified_ms),
        content = VALUE(content), verdict = VALUE(verdict), code = VALUE(code), detail = VALUE(detail),
        width = VALUE(width), height = VALUE(height), look = VALUE(look), effort = VALUE(effort),
        samples = VALUE(samples), attempt_id = VALUE(attempt_id), node = VALUE(node),
        seconds = VALUE(seconds), luminance = VALUE(luminance), noise = VALUE(noise)`,
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
  if (v.verdict === "good") await askToMeasure(db, { sequenceId, frame, content: facts.content });
}

/** Whole files of which nothing was measured yet, by frame. */
export const unmeasuredFiles = (db: Db, sequenceId: number): Promise<(FileRow & { content: string })[]> =>
  rows(
    db,
    `SELECT ${COLUMNS}
      FROM frame_file
      WHERE sequence_id = ? AND verdict = 'good' AND luminance IS NULL AND content IS NOT NULL
      ORDER BY frame`,
    [sequenceId],
  );

/** What was measured of the file that is there, under its lock. */
export async function saveMeasures(
  db: Db,
  sequenceId: number,
  frame: number,
  { luminance, noise }: { readonly luminance: number; readonly noise: number },
): Promise<void> {
  await write(db, "UPDATE frame_file SET luminance = ?, noise = ? WHERE sequence_id = ? AND frame = ?", [
    luminance,
    noise,
    sequenceId,
    frame,
  ]);
}

/** What a log says of frames whose files are there. */
export interface SaidOfFrame {
  readonly frame: number;
  /** Of the attempt that made it, by the file's own word; left out: of a file that says none. */
  readonly attempt?: number;
  readonly node: string | null;
  readonly seconds: number | null;
  readonly message: string | null;
}

/** Of one statement. */
const SAID_AT_ONCE = 500;

/**
 * Fills in who made files, how long it took, and what was said of it; what is not said stays. Files that an attempt of
 * ours made are known better than any log knows them: only what names that very attempt is of them.
 * @returns how many files there were
 */
export async function saveSaid(db: Db, sequenceId: number, said: readonly SaidOfFrame[]): Promise<number> {
  let matched = 0;
  for (let i = 0; i < said.length; i += SAID_AT_ONCE) {
    const some = said.slice(i, i + SAID_AT_ONCE);
    const columns = "SELECT ? AS frame, ? AS attempt, ? AS node, ? AS seconds, ? AS said";
    const values = some.map(() => columns).join(" UNION ALL ");
    matched += (
      await write(
        db,
        `UPDATE frame_file f
          JOIN (${values}) s ON s.frame = f.frame AND s.attempt <=> f.attempt_id
          SET f.node = COALESCE(s.node, f.node), f.seconds = COALESCE(s.seconds, f.seconds),
            f.said = COALESCE(s.said, f.said)
          WHERE f.sequence_id = ? AND f.bytes > 0`,
        [
          ...some.flatMap(({ frame, attempt, node, seconds, message }) => [
            frame,
            attempt ?? null,
            node,
            seconds,
            message,
          ]),
          sequenceId,
        ],
      )
    ).matched;
  }
  return matched;
}

/** Frames of which a log says something; more than a person reads are left out. */
export const saidOfFiles = (
  db: Db,
  sequenceId: number,
  most: number,
): Promise<{ readonly frame: number; readonly text: string }[]> =>
  rows(
    db,
    `SELECT frame, said AS text
      FROM frame_file
      WHERE sequence_id = ? AND said IS NOT NULL
      ORDER BY frame
      LIMIT ?`,
    [sequenceId, most],
  );

/** Rows of one statement. */
const INSERTED_AT_ONCE = 1_000;

/** Files of frames that none was known of; one that has become known meanwhile stays as it is. */
export async function insertUnlookedFiles(
  db: Db,
  sequenceId: number,
  files: readonly (readonly [frame: number, file: FileIdentity])[],
): Promise<void> {
  for (let i = 0; i < files.length; i += INSERTED_AT_ONCE) {
    const some = files.slice(i, i + INSERTED_AT_ONCE);
    await write(
      db,
      `INSERT IGNORE INTO frame_file (sequence_id, frame, name, bytes, modified_ms)
        VALUES ${some.map(() => "(?, ?, ?, ?, ?)").join(", ")}`,
      some.flatMap(([frame, { name, bytes, modifiedMs }]) => [sequenceId, frame, name, bytes, modifiedMs]),
    );
  }
}

/**
 * A file that is there and that nothing has looked at yet.
 * @param seconds from the claim on its frame to this file, where something else makes it; null where nobody knows
 */
export async function saveUnlookedFile(
  db: Db,
  sequenceId: number,
  frame: number,
  file: FileIdentity,
  seconds: number | null = null,
): Promise<void> {
  await write(
    db,
    `REPLACE INTO frame_file (sequence_id, frame, name, bytes, modified_ms, seconds)
      VALUES (?, ?, ?, ?, ?, ?)`,
    [sequenceId, frame, file.name, file.bytes, file.modifiedMs, seconds],
  );
}

/** Milliseconds for which files that nothing has judged are known as they are, by frame; empty ones are claims. */
export const unlookedFiles = (
  db: Db,
  sequenceId: number,
): Promise<{ readonly frame: number; readonly modifiedMs: number; readonly restMs: number }[]> =>
  rows(
    db,
    `SELECT frame, modified_ms AS modifiedMs,
        TIMESTAMPDIFF(MICROSECOND, noticed_at, NOW(3)) / 1000 + 0e0 AS restMs
      FROM frame_file
      WHERE sequence_id = ? AND verdict IS NULL AND bytes > 0`,
    [sequenceId],
  );

/**
 * Forgets the file of a frame. Only after a look at the folder under the frame's lock (lockFile): what cannot
 * be read just now is not gone.
 */
export async function deleteFile(db: Db, sequenceId: number, frame: number): Promise<void> {
  await write(db, "DELETE FROM frame_file WHERE sequence_id = ? AND frame = ?", [sequenceId, frame]);
}

/** Whether any file of a sequence is known. */
export const hasFilesOfSequence = async (sequenceId: number): Promise<boolean> =>
  (await countFiles(pool(), sequenceId)) > 0;

/**
 * Whether a version holds any file of any camera and pass: from then on its file kind and names are fixed.
 */
export async function hasFiles(versionId: number): Promise<boolean> {
  for (const sequence of await sequencesOfVersion(pool(), versionId))
    if (await hasFilesOfSequence(sequence.id)) return true;
  return false;
}

/** Under which names the versions of a shot lie on disk, and how much of them is known. */
export async function filesOfShot(
  db: Db,
  shotId: number,
): Promise<{ readonly names: readonly string[]; readonly files: number; readonly bytes: number }> {
  const found = await rows<{ name: string; files: number; bytes: number }>(
    db,
    `SELECT v.named_shot AS name, COUNT(f.frame) AS files, COALESCE(SUM(f.bytes), 0) + 0e0 AS bytes
      FROM version v
      LEFT JOIN sequence q ON q.version_id = v.id
      LEFT JOIN frame_file f ON f.sequence_id = q.id
      WHERE v.shot_id = ?
      GROUP BY v.named_shot
      ORDER BY v.named_shot`,
    [shotId],
  );
  return {
    names: found.map((f) => f.name),
    files: found.reduce((sum, f) => sum + f.files, 0),
    bytes: found.reduce((sum, f) => sum + f.bytes, 0),
  };
}
