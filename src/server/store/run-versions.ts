/**
 * What a run covers: one version or several, each with the revision it follows and the scene that was frozen
 * for it.
 */
import type { LookSources } from "@/core/plan/fingerprint";
import type { Purpose } from "@/core/plan/plan";
import { type Db, fromJson, rows, write } from "../db/rows";

export interface RunVersion {
  /** One that it covers. */
  readonly versionId: number;
  /** The plan that it follows: an earlier or later one changes nothing for it. */
  readonly revisionId: number;
  /** Frozen scene, relative to the version's folder. */
  readonly sceneFolder: string;
  /** What the look's fingerprint is made from. */
  readonly sources: LookSources;
}

/** Notes that a run covers a version, with the revision it follows and the frozen scene that it renders. */
export async function insertRunVersion(db: Db, runId: number, v: RunVersion): Promise<void> {
  await write(
    db,
    `INSERT INTO run_version (run_id, version_id, revision_id, scene_folder, sources)
      VALUES (?, ?, ?, ?, ?)`,
    [runId, v.versionId, v.revisionId, v.sceneFolder, JSON.stringify(v.sources)],
  );
}

/** The run follows another revision of a version from now on. */
export async function saveRunRevision(
  db: Db,
  runId: number,
  versionId: number,
  revisionId: number,
): Promise<void> {
  await write(db, "UPDATE run_version SET revision_id = ? WHERE run_id = ? AND version_id = ?", [
    revisionId,
    runId,
    versionId,
  ]);
}

export interface CoveredVersion {
  readonly versionId: number;
  readonly revisionId: number;
  /** Number of the revision that the run follows. */
  readonly revision: number;
  /** Number of the newest one. */
  readonly newestRevision: number;
  /** Its number. */
  readonly version: number;
  readonly purpose: Purpose;
  /** A sequence of it: who looks at the version hears of the run under its id. */
  readonly sequenceId: number;
}

/**
 * What a run covers, a row a version. `sequenceId` is the lowest of the version, which stands for it in
 * links.
 */
export const versionsOfRun = (db: Db, runId: number): Promise<CoveredVersion[]> =>
  rows<CoveredVersion>(
    db,
    `SELECT c.version_id AS versionId, c.revision_id AS revisionId, e.number AS revision,
        (SELECT MAX(n.number) FROM plan_revision n WHERE n.version_id = c.version_id) AS newestRevision,
        v.number AS version, v.purpose, MIN(q.id) AS sequenceId
      FROM run_version c
      JOIN plan_revision e ON e.id = c.revision_id
      JOIN version v ON v.id = c.version_id
      JOIN sequence q ON q.version_id = c.version_id
      WHERE c.run_id = ?
      GROUP BY c.version_id
      ORDER BY v.purpose, v.number`,
    [runId],
  );

/** Tells every version of a run that something about the run has changed. */
export async function appendRunEvent(db: Db, runId: number): Promise<void> {
  await write(
    db,
    `INSERT INTO event (kind, sequence_id, run_id)
      SELECT 'run', MIN(q.id), c.run_id
      FROM run_version c
      JOIN sequence q ON q.version_id = c.version_id
      WHERE c.run_id = ?
      GROUP BY c.run_id, c.version_id`,
    [runId],
  );
}

/** Where a run works for one of its versions, and from what. */
export interface RunPlace {
  readonly versionId: number;
  /** Name of a storage root. */
  readonly root: string;
  /** The project's folder below the root. */
  readonly folder: string;
  /** The shot's name on disk. */
  readonly namedShot: string;
  /** Number of the version. */
  readonly version: number;
  readonly purpose: Purpose;
  /** The frozen scene, relative to the version's folder. */
  readonly sceneFolder: string;
  readonly sources: LookSources;
  /** The scene that was frozen, relative to the project's folder. */
  readonly scene: string;
  /** Name of a declared renderer, or the stand-in. */
  readonly renderer: string;
}

/**
 * Where frozen scene and frames of each covered version lie, with the renderer of the plan that the run
 * follows (its own where it has one, as proofs do).
 */
export const placesOfRun = async (db: Db, runId: number): Promise<RunPlace[]> =>
  (
    await rows<Omit<RunPlace, "sources"> & { readonly sources: unknown }>(
      db,
      `SELECT c.version_id AS versionId, p.root, p.folder, v.named_shot AS namedShot, v.number AS version,
          v.purpose, c.scene_folder AS sceneFolder, c.sources,
          JSON_VALUE(COALESCE(r.plan, e.plan), '$.scene') AS scene,
          COALESCE(JSON_VALUE(COALESCE(r.plan, e.plan), '$.renderer'), 'stand-in') AS renderer
        FROM run_version c
        JOIN run r ON r.id = c.run_id
        JOIN version v ON v.id = c.version_id
        JOIN shot s ON s.id = v.shot_id
        JOIN project p ON p.id = s.project_id
        JOIN plan_revision e ON e.id = c.revision_id
        WHERE c.run_id = ?
        ORDER BY v.purpose, v.number`,
      [runId],
    )
  ).map((found) => ({ ...found, sources: fromJson<LookSources>(found.sources) }));
