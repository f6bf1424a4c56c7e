/**
 * Runs whose frames were handed out to machines that are not connected.
 * No node leases a frame that is handed out. It waits for its machine until it comes back, or until
 * somebody takes the machine's share back and it is an ordinary frame again.
 */
import type { Share } from "@/contract/hand-out";
import { type Db, rows, write } from "../db/rows";

export interface ShareRow extends Share {
  /** Null: still out. */
  readonly takenBackAt: Date | null;
}

/** Notes which machine takes which frames of a hand-out. */
export async function insertShares(db: Db, runId: number, shares: readonly Share[]): Promise<void> {
  for (const { machine, frames } of shares)
    await write(db, "INSERT INTO run_share (run_id, machine, frames) VALUES (?, ?, ?)", [
      runId,
      machine,
      frames,
    ]);
}

/** What each machine was given, by its name, and when it was taken back (null: still out). */
export const sharesOfRun = (db: Db, runId: number): Promise<ShareRow[]> =>
  rows<ShareRow>(
    db,
    `SELECT machine, frames, taken_back_at AS takenBackAt
      FROM run_share
      WHERE run_id = ?
      ORDER BY machine`,
    [runId],
  );

/** False when the machine has no share of the run, or not any more. */
export const closeShare = async (db: Db, runId: number, machine: string): Promise<boolean> =>
  (
    await write(
      db,
      `UPDATE run_share
        SET taken_back_at = NOW(3)
        WHERE run_id = ? AND machine = ? AND taken_back_at IS NULL`,
      [runId, machine],
    )
  ).matched === 1;

/**
 * Notes which file a frame had before: one that comes back is another. The file of the beauty stands for all
 * passes, as one render writes them together.
 */
export async function noteContentBefore(db: Db, runId: number): Promise<void> {
  await write(
    db,
    `UPDATE task t
      JOIN frame_file f ON f.sequence_id = t.sequence_id AND f.frame = t.frame
      SET t.content_before = f.content
      WHERE t.run_id = ?`,
    [runId],
  );
}

export interface OutTask {
  readonly id: number;
  readonly runId: number;
  /** Beauty sequence of the camera. */
  readonly leadId: number;
  readonly frame: number;
  /** A bit for each pass, in the order of core/plan/passes. */
  readonly passes: number;
  /** Hash of the file that was there when it was handed out; null: none. */
  readonly contentBefore: string | null;
}

/** Frames of a version that are handed out and not back. */
export const tasksOut = (db: Db, versionId: number): Promise<OutTask[]> =>
  rows<OutTask>(
    db,
    `SELECT t.id, t.run_id AS runId, t.sequence_id AS leadId, t.frame, t.passes,
        t.content_before AS contentBefore
      FROM run_version c
      JOIN run r ON r.id = c.run_id
      JOIN task t ON t.run_id = r.id
      WHERE c.version_id = ? AND r.handout IS NOT NULL AND r.state = 'active' AND t.state = 'waiting'`,
    [versionId],
  );
