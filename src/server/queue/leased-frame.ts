/**
 * A lease with all that is needed to do its task.
 * Read after the lease was taken and outside its transaction: what is read here changes no more for the
 * run, since its plan and scene are frozen.
 */
import type { LookSources } from "@/core/plan/fingerprint";
import type { Pass } from "@/core/plan/passes";
import { type NamedAs, fromStoredPlan, type Plan, type Purpose } from "@/core/plan/plan";
import type { Pool } from "../db/pool";
import { fromJson, row, rows } from "../db/rows";
import { LeaseLost } from "../errors";
import { expectedSeconds } from "@/core/estimate/expected";
import type { RunKind } from "../store/runs";
import { madeFrames } from "../store/attempts";
import type { Lease } from "./lease";

/** A lease with all that is needed to render its frame. */
export interface LeasedFrame extends Lease, NamedAs {
  /** A proof's files stay apart from the sequence. */
  readonly kind: RunKind;
  readonly camera: string;
  /** Its number. */
  readonly version: number;
  readonly purpose: Purpose;
  /** The sequence of each pass that the task may write. */
  readonly sequenceIds: ReadonlyMap<Pass, number>;
  /** Code of the shot. */
  readonly shot: string;
  /** Its name in addresses. */
  readonly project: string;
  /** Name of a storage root. */
  readonly root: string;
  /** Of the project, relative to the root. */
  readonly folder: string;
  /** The revision that the run follows, or a proof's own. */
  readonly plan: Plan;
  /** The frozen scene, relative to the version's folder. */
  readonly sceneFolder: string;
  /** What the look's fingerprint is made from. */
  readonly sources: LookSources;
  /** Attempts on this frame whose node vanished: they may have left a temporary file. */
  readonly lostAttempts: readonly number[];
  /**
   * Seconds that earlier attempts of this task took without making the frame: they count towards its time
   * limit.
   */
  readonly spentSeconds: number;
  /** What the frame may take at the most samples that the plan allows; null while nothing is known. */
  readonly expectedSeconds: number | null;
}

/** What to render for a lease. */
export async function describeLease(pool: Pool, lease: Lease): Promise<LeasedFrame> {
  const found = await row<{
    kind: RunKind;
    camera: string;
    versionId: number;
    version: number;
    purpose: Purpose;
    shot: string;
    namedProject: string;
    namedShot: string;
    project: string;
    root: string;
    folder: string;
    plan: unknown;
    sceneFolder: string;
    sources: unknown;
  }>(
    pool,
    `SELECT r.kind, q.camera, v.id AS versionId, v.number AS version, v.purpose, s.code AS shot,
        v.named_project AS namedProject, v.named_shot AS namedShot, p.slug AS project, p.root, p.folder, COALESCE(r.plan, e.plan) AS plan,
        c.scene_folder AS sceneFolder, c.sources
      FROM run r
      JOIN sequence q ON q.id = ?
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      JOIN run_version c ON c.run_id = r.id AND c.version_id = v.id
      JOIN plan_revision e ON e.id = c.revision_id
      WHERE r.id = ?`,
    [lease.sequenceId, lease.runId],
  );
  if (found === null) throw new LeaseLost();
  const { versionId, ...place } = found;
  const [made, lost, spent, sequences] = await Promise.all([
    madeFrames(pool, lease.runId, lease.sequenceId),
    rows<{ id: number }>(
      pool,
      "SELECT id FROM attempt WHERE sequence_id = ? AND frame = ? AND outcome = 'lost'",
      [lease.sequenceId, lease.frame],
    ),
    row<{ seconds: number }>(
      pool,
      `SELECT COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, started_at, ended_at)) / 1e6, 0) + 0e0 AS seconds
        FROM attempt
        WHERE task_id = ? AND id <> ? AND outcome IN ('failed', 'lost')`,
      [lease.taskId, lease.attemptId],
    ),
    rows<{ id: number; pass: Pass }>(
      pool,
      "SELECT id, pass FROM sequence WHERE version_id = ? AND camera = ?",
      [versionId, found.camera],
    ),
  ]);
  const plan = fromStoredPlan(fromJson(found.plan));
  return {
    ...lease,
    ...place,
    expectedSeconds: expectedSeconds(lease.frame, made, plan.samples),
    lostAttempts: lost.map((a) => a.id),
    spentSeconds: spent!.seconds,
    sources: fromJson(found.sources),
    sequenceIds: new Map(sequences.filter((q) => lease.passes.includes(q.pass)).map((q) => [q.pass, q.id])),
    plan,
  };
}
