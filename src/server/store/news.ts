/** What happened to frames since a moment, over all shots: by the beauty sequence of their camera. */
import { type Db, rows } from "../db/rows";

export interface FrameOfSequence {
  readonly sequenceId: number;
  readonly frame: number;
}

/** Made by a run, since. */
export const framesMadeSince = (db: Db, since: Date): Promise<FrameOfSequence[]> =>
  rows(
    db,
    `SELECT DISTINCT a.sequence_id AS sequenceId, a.frame
      FROM attempt a
      JOIN task t ON t.id = a.task_id
      WHERE a.kind = 'frame' AND a.outcome = 'done' AND t.is_proof = 0 AND a.ended_at > ?
      ORDER BY a.sequence_id, a.frame`,
    [since],
  );

/** Failed or lost since, and made since that. */
export const framesMendedSince = (db: Db, since: Date): Promise<FrameOfSequence[]> =>
  rows(
    db,
    `SELECT DISTINCT a.sequence_id AS sequenceId, a.frame
      FROM attempt a
      JOIN attempt d
        ON d.sequence_id = a.sequence_id AND d.frame = a.frame AND d.id > a.id AND d.outcome = 'done' AND d.kind = 'frame'
      JOIN task t ON t.id = a.task_id
      WHERE a.kind = 'frame' AND a.outcome IN ('failed', 'lost') AND t.is_proof = 0 AND a.ended_at > ?
      ORDER BY a.sequence_id, a.frame`,
    [since],
  );

/** Open findings that came since, of any sequence. */
export const foundSince = (
  db: Db,
  since: Date,
): Promise<(FrameOfSequence & { readonly source: "check" | "node" | "person" })[]> =>
  rows(
    db,
    `SELECT DISTINCT sequence_id AS sequenceId, frame, source
      FROM finding
      WHERE state = 'open' AND created_at > ?
      ORDER BY sequence_id, frame`,
    [since],
  );
