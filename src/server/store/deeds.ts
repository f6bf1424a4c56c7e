/** What people did to runs, versions, shots, projects and nodes, with the names that they gave. Written with the deed itself. */
import { type DeedKind, DEEDS, type DeedView, type Who } from "@/contract/who";
import { type Db, marks, rows, write } from "../db/rows";

/** What it was done to; nothing: the whole house. */
export interface DoneTo {
  readonly runId?: number;
  readonly versionId?: number;
  readonly nodeId?: number;
  readonly shotId?: number;
  readonly projectId?: number;
}

/** Adds a deed. Inside the transaction that does it. @param why in somebody's words; null: nobody said */
export async function noteDeed(
  db: Db,
  who: Who,
  did: DeedKind,
  to: DoneTo,
  why: string | null = null,
): Promise<void> {
  await write(
    db,
    `INSERT INTO deed (who, did, run_id, version_id, node_id, shot_id, project_id, why)
      VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      who,
      did,
      to.runId ?? null,
      to.versionId ?? null,
      to.nodeId ?? null,
      to.shotId ?? null,
      to.projectId ?? null,
      why,
    ],
  );
}

/** The last of these decide what is shown; older ones stay in the table. */
const SHOWN = 8;

interface RawDeed {
  readonly of: number;
  readonly who: Who;
  readonly did: DeedKind;
  readonly at: Date;
  readonly why: string | null;
}
const readDeed = ({ who, did, at, why }: RawDeed): DeedView => ({ who, did, at: at.getTime(), why });

/** What was done to a run, the newest first. */
export const deedsOfRun = async (db: Db, runId: number): Promise<DeedView[]> =>
  (
    await rows<RawDeed>(
      db,
      `SELECT run_id AS \`of\`, who, did, at, why FROM deed WHERE run_id = ? ORDER BY id DESC LIMIT ${SHOWN}`,
      [runId],
    )
  ).map(readDeed);

/**
 * The last thing that was done to each version, shot or project; those to which nothing was are not there.
 * @param of the column that names them
 * @param kinds only these count
 */
export async function lastDeeds(
  db: Db,
  of: "version_id" | "shot_id" | "project_id",
  ids: readonly number[],
  kinds: readonly DeedKind[] = DEEDS,
): Promise<ReadonlyMap<number, DeedView>> {
  if (ids.length === 0) return new Map();
  const found = await rows<RawDeed>(
    db,
    `SELECT ${of} AS \`of\`, who, did, at, why
      FROM deed
      WHERE id IN (SELECT MAX(id) FROM deed WHERE ${of} IN ${marks(ids)} AND did IN ${marks(kinds)} GROUP BY ${of})`,
    [...ids, ...kinds],
  );
  return new Map(found.map((deed) => [deed.of, readDeed(deed)]));
}

/** Who paused each node last, by its id; under 0 who paused the whole house. */
export async function lastPauses(db: Db): Promise<ReadonlyMap<number, DeedView>> {
  const found = await rows<RawDeed>(
    db,
    `SELECT COALESCE(node_id, 0) AS \`of\`, who, did, at, why
      FROM deed
      WHERE id IN (SELECT MAX(id) FROM deed WHERE did = 'pause' GROUP BY node_id)`,
  );
  return new Map(found.map((deed) => [Number(deed.of), readDeed(deed)]));
}
