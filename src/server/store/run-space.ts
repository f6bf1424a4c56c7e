/**
 * What runs need of a disk, and which of them a full one holds.
 * What there is room for is asked of the disk, what there is to write of these rows; the two meet in
 * node/disk-space. A run is held, never stopped, by a full disk: it goes on by itself.
 */
import type { RunHeld } from "@/contract/hold";
import type { Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import { type Db, fromJson, row, rows, write } from "../db/rows";

/** Where a run writes: its project's folder. */
export interface SpacePlace {
  /** Name of a storage root: each machine has a path of its own for it. */
  readonly root: string;
  /** Of the project, relative to the root. */
  readonly folder: string;
}

const PLACE =
  "FROM run r JOIN sequence q ON q.id = r.sequence_id JOIN version v ON v.id = q.version_id JOIN shot s ON s.id = v.shot_id JOIN project p ON p.id = s.project_id";

/** The storage root and folder that a run writes into: what its disk is asked about. */
export const spacePlaceOf = (db: Db, runId: number): Promise<SpacePlace | null> =>
  row(db, `SELECT p.root, p.folder ${PLACE} WHERE r.id = ?`, [runId]);

/** The plan that a run follows in each of its versions. */
export const plansOfRun = async (db: Db, runId: number): Promise<ReadonlyMap<number, Plan>> =>
  new Map(
    (
      await rows<{ versionId: number; plan: unknown }>(
        db,
        `SELECT c.version_id AS versionId, COALESCE(r.plan, e.plan) AS plan
          FROM run_version c
          JOIN run r ON r.id = c.run_id
          JOIN plan_revision e ON e.id = c.revision_id
          WHERE c.run_id = ?`,
        [runId],
      )
    ).map((r) => [r.versionId, fromJson<Plan>(r.plan)]),
  );

/** Mean bytes of the run's own files of each version and pass, where it has any. */
export const measuredBytes = (
  db: Db,
  runId: number,
): Promise<{ versionId: number; pass: Pass; bytes: number }[]> =>
  rows(
    db,
    `SELECT q.version_id AS versionId, q.pass, AVG(f.bytes) + 0e0 AS bytes
      FROM attempt a
      JOIN frame_file f ON f.attempt_id = a.id
      JOIN sequence q ON q.id = f.sequence_id
      WHERE a.run_id = ?
      GROUP BY q.version_id, q.pass`,
    [runId],
  );

/** Frames that a run has left, by version and passes, and how many of them are in work. */
export const framesLeft = (
  db: Db,
  runId: number,
): Promise<{ versionId: number; passes: number; count: number; inWork: number }[]> =>
  rows(
    db,
    `SELECT q.version_id AS versionId, t.passes, COUNT(*) AS count,
        SUM(t.state = 'leased') + 0e0 AS inWork
      FROM task t
      JOIN sequence q ON q.id = t.sequence_id
      WHERE t.run_id = ? AND t.state IN ('waiting', 'leased')
      GROUP BY q.version_id, t.passes`,
    [runId],
  );

export type DiskFull = Extract<RunHeld, { code: "disk-full" }>;

/** Runs that wait for room on their disk, with how much they said they need. */
export const runsHeldForSpace = async (
  db: Db,
): Promise<(SpacePlace & { readonly id: number; readonly held: DiskFull })[]> =>
  (
    await rows<SpacePlace & { readonly id: number; readonly held: unknown }>(
      db,
      `SELECT r.id, p.root, p.folder, r.held ${PLACE}
        WHERE r.state = 'active' AND JSON_VALUE(r.held, '$.code') = 'disk-full'`,
    )
  ).map((r) => ({ ...r, held: fromJson<DiskFull>(r.held) }));

/** Whether a full disk is what holds the run; a hold by a person is another matter and stays. */
export const isHeldForSpace = async (db: Db, runId: number): Promise<boolean> =>
  (await row(
    db,
    `SELECT 1
      FROM run
      WHERE id = ? AND JSON_VALUE(held, '$.code') = 'disk-full'`,
    [runId],
  )) !== null;

/** @param held null: the run goes on
 * @returns false when no disk holds the run any more
 */
export const saveSpaceHeld = async (db: Db, runId: number, held: DiskFull | null): Promise<boolean> =>
  (
    await write(
      db,
      `UPDATE run
        SET held = ?
        WHERE id = ? AND state = 'active' AND JSON_VALUE(held, '$.code') = 'disk-full'`,
      [held === null ? null : JSON.stringify(held), runId],
    )
  ).matched === 1;
