/**
 * What attempts have cost: history for the estimate.
 * Read newest first and only so many: what a machine did a year ago says little of tonight. Times are
 * seconds as the node measured them, without waiting in the queue.
 */
import type { CostSample, TimedLight } from "@/core/estimate/cost-model";
import { type Db, row, rows } from "../db/rows";

/** A timed frame; the revision's plan says of how many pixels. */
export type TimedAttempt = Omit<CostSample, "pixels"> & { readonly revisionId: number };

/**
 * Newest attempts that rendered frames of a version, newest first. Such as only denoised kept files rendered
 * nothing.
 */
export const timedAttempts = (db: Db, versionId: number, limit: number): Promise<TimedAttempt[]> =>
  rows<TimedAttempt>(
    db,
    `SELECT c.revision_id AS revisionId, a.frame, n.name AS node,
        COALESCE(a.samples_added, a.samples) + 0e0 AS samples,
        COALESCE(a.startup_seconds, 0) + 0e0 AS startupSeconds, a.render_seconds AS renderSeconds,
        COALESCE(a.denoise_seconds, 0) + 0e0 AS denoiseSeconds,
        COALESCE(a.write_seconds, 0) + 0e0 AS writeSeconds, a.other_load AS otherLoad,
        a.cpu_share AS cpuShare
      FROM run_version c
      JOIN run r ON r.id = c.run_id AND r.kind = 'sequence'
      JOIN attempt a ON a.run_id = r.id
        AND a.outcome = 'done'
        AND a.kind = 'frame'
        AND a.render_seconds > 0
        AND COALESCE(a.samples_added, 1) > 0
      JOIN sequence q ON q.id = a.sequence_id AND q.version_id = c.version_id
      JOIN node n ON n.id = a.node_id
      WHERE c.version_id = ?
      ORDER BY a.id DESC
      LIMIT ?`,
    [versionId, limit],
  );

/** Gathered light that was made for frames of a version; newest first, in runs and in proofs. */
export const timedLight = (db: Db, versionId: number, limit: number): Promise<TimedLight[]> =>
  rows<TimedLight>(
    db,
    `SELECT JSON_VALUE(COALESCE(r.plan, e.plan), '$.scene') AS scene,
        a.light_seconds / a.light_made + 0e0 AS seconds, a.other_load AS otherLoad,
        a.cpu_share AS cpuShare
      FROM run_version c
      JOIN run r ON r.id = c.run_id
      JOIN plan_revision e ON e.id = c.revision_id
      JOIN attempt a ON a.run_id = r.id AND a.outcome = 'done' AND a.light_made > 0
      JOIN sequence q ON q.id = a.sequence_id AND q.version_id = c.version_id
      WHERE c.version_id = ?
      ORDER BY a.id DESC
      LIMIT ?`,
    [versionId, limit],
  );

/** Share of the render time of the newest attempts everywhere that made no frame. */
export async function lostShare(db: Db, attempts: number): Promise<number> {
  const found = await row<{ lost: number | null; total: number | null }>(
    db,
    `SELECT SUM(IF(outcome = 'done', 0, seconds)) + 0e0 AS lost, SUM(seconds) + 0e0 AS total
      FROM (
        SELECT outcome, TIMESTAMPDIFF(MICROSECOND, started_at, ended_at) / 1e6 AS seconds
        FROM attempt
        WHERE ended_at IS NOT NULL
        ORDER BY id DESC
        LIMIT ?
      ) newest`,
    [attempts],
  );
  return found?.total ? (found.lost ?? 0) / found.total : 0;
}
