/** Where a run works, and from what. */
import type { LookSources } from "@/core/plan/fingerprint";
import type { Purpose } from "@/core/plan/plan";
import { type Db, fromJson, row } from "../db/rows";

export interface RunPlace {
  readonly root: string;
  /** The project's folder below the root. */
  readonly folder: string;
  readonly shot: string;
  readonly version: number;
  readonly purpose: Purpose;
  /** Frozen scene, relative to the version's folder. */
  readonly sceneFolder: string;
  readonly sources: LookSources;
  /** The scene that was frozen, relative to the project's folder. */
  readonly scene: string;
  readonly renderer: string;
}

export async function placeOfRun(db: Db, runId: number): Promise<RunPlace | null> {
  const found = await row<Omit<RunPlace, "sources"> & { readonly sources: unknown }>(db, `SELECT p.root, p.folder, s.code AS shot, v.number AS version, v.purpose, r.scene_folder AS sceneFolder, r.sources, JSON_VALUE(COALESCE(r.plan, e.plan), '$.scene') AS scene, COALESCE(JSON_VALUE(COALESCE(r.plan, e.plan), '$.renderer'), 'stand-in') AS renderer
    FROM run r JOIN sequence q ON q.id = r.sequence_id JOIN version v ON v.id = q.version_id JOIN shot s ON s.id = v.shot_id JOIN project p ON p.id = s.project_id JOIN plan_revision e ON e.id = r.revision_id WHERE r.id = ?`, [runId]);
  return found === null ? null : { ...found, sources: fromJson<LookSources>(found.sources) };
}
