/** Runs and what may be changed of them. Their state is written by run-state.ts alone. */
import type { RunHeld } from "@/contract/hold";
import type { Plan } from "@/core/plan/plan";
import type { Priority } from "@/contract/run-manner";
import type { RunOrder } from "@/core/run/run-order";
import type { Policy } from "@/core/run/what-to-render";
import { type Db, fromJson, marks, row, rows, write } from "../db/rows";
import { appendRunEvent, insertRunVersion, type RunVersion } from "./run-versions";
import { goesOn, type RunState } from "@/core/run/run-life";

/** A run fills sequences; a proof stays apart from them. */
export type RunKind = "sequence" | "proof";

export interface RunRow {
  readonly id: number;
  readonly kind: RunKind;
  /** The sequence in whose sight it was started; its tasks may belong to others of the version. */
  readonly sequenceId: number;
  /** What decided which of the wanted frames need rendering. */
  readonly policy: Policy;
  /** The frames that were asked for, as a phrase. */
  readonly wanted: string;
  readonly state: RunState;
  /** Names; null: all. */
  readonly nodes: readonly string[] | null;
  readonly order: RunOrder;
  readonly priority: Priority;
  /** Nothing is leased before; null: at once. */
  readonly startAt: Date | null;
  /** It stops by itself then; null: it does not. */
  readonly stopAt: Date | null;
  /** Tasks that a node takes at once; null: as measured. */
  readonly batch: number | null;
  /** Among runs of one priority the lower goes before. */
  readonly place: number;
  /** Nothing is leased before every frame of that run is good; null: it waits for none. */
  readonly after: number | null;
  /** Frames of its wish that it left alone when it started. */
  readonly kept: number;
  /** Likely length as it was estimated when it started; null: nothing was timed. */
  readonly estimatedSeconds: number | null;
  /** Its scene asks for gathered light: some of its tasks make it, and write no passes. */
  readonly lights: boolean;
  /**
   * Folder of the hand-out, relative to the version's: its frames go to machines that are not connected.
   * Null: nodes lease them.
   */
  readonly handout: string | null;
  /** Why no frame of it is leased though it goes on. */
  readonly held: RunHeld | null;
  readonly createdAt: Date;
  /** Null while it goes. */
  readonly endedAt: Date | null;
  /** When housekeeping removed attempts or tasks of it; null: all of them are there. */
  readonly tidiedAt: Date | null;
}

const COLUMNS = `id, kind, sequence_id AS sequenceId, policy, wanted, state, nodes, run_order AS \`order\`,
      priority, start_at AS startAt, stop_at AS stopAt, batch, place, after_run_id AS after, kept,
      estimated_seconds AS estimatedSeconds, lights, handout, held, created_at AS createdAt,
      ended_at AS endedAt, tidied_at AS tidiedAt`;
type RawRun = Omit<RunRow, "nodes" | "held" | "lights"> & { nodes: unknown; held: unknown; lights: number };
const readRun = (r: RawRun): RunRow => ({
  ...r,
  lights: r.lights === 1,
  nodes: r.nodes === null ? null : fromJson(r.nodes),
  held: r.held === null ? null : fromJson<RunHeld>(r.held),
});

export interface NewRun {
  /** The one in whose sight it was started. */
  readonly sequenceId: number;
  /** At least one. */
  readonly versions: readonly RunVersion[];
  readonly policy: Policy;
  /** As a phrase. */
  readonly wanted: string;
  /** Names; null: all. */
  readonly nodes: readonly string[] | null;
  readonly order: RunOrder;
  readonly priority: Priority;
  readonly startAt: Date | null;
  readonly stopAt: Date | null;
  /** Null: as measured. */
  readonly batch: number | null;
  /** Null: it waits for no other run. */
  readonly after: number | null;
  /** Frames of the wish that are left alone. */
  readonly kept: number;
  /** Null: nothing was timed. */
  readonly estimatedSeconds: number | null;
  /** Folder of the hand-out, relative to the version's; null: none. */
  readonly handout: string | null;
  readonly kind: RunKind;
  /** Settings of a proof where they differ from the revision. */
  readonly plan: Plan | null;
}

const nodesText = (nodes: readonly string[] | null): string | null =>
  nodes === null ? null : JSON.stringify(nodes);

/** Adds a run in its first state and tells its id. Its tasks and versions follow in the same transaction. */
export async function insertRun(db: Db, run: NewRun): Promise<number> {
  const { id } = await write(
    db,
    `INSERT INTO run (
        sequence_id, policy, wanted, nodes, run_order, priority, start_at, stop_at, batch, after_run_id,
          kept, estimated_seconds, handout, kind, plan
      )
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      run.sequenceId,
      run.policy,
      run.wanted,
      nodesText(run.nodes),
      run.order,
      run.priority,
      run.startAt,
      run.stopAt,
      run.batch,
      run.after,
      run.kept,
      run.estimatedSeconds,
      run.handout,
      run.kind,
      run.plan === null ? null : JSON.stringify(run.plan),
    ],
  );
  for (const version of run.versions) await insertRunVersion(db, id, version);
  await appendRunEvent(db, id);
  return id;
}

/** A run as it is now, without a lock: to decide by it, lock it (lockRun). */
export async function runById(db: Db, id: number): Promise<RunRow | null> {
  const found = await row<RawRun>(db, `SELECT ${COLUMNS} FROM run WHERE id = ?`, [id]);
  return found === null ? null : readRun(found);
}

/** Settings of a proof. Null for a run that follows its revision. */
export async function planOfRun(db: Db, id: number): Promise<Plan | null> {
  const found = await row<{ plan: unknown }>(db, "SELECT plan FROM run WHERE id = ?", [id]);
  return found?.plan == null ? null : fromJson<Plan>(found.plan);
}

/** Runs that cover a version, newest first. */
export const runsOfVersion = async (
  db: Db,
  versionId: number,
  kind: RunKind,
  limit: number,
): Promise<RunRow[]> =>
  (
    await rows<RawRun>(
      db,
      `SELECT ${COLUMNS}
        FROM run
        WHERE id IN (SELECT run_id FROM run_version WHERE version_id = ?) AND kind = ?
        ORDER BY id DESC
        LIMIT ?`,
      [versionId, kind, limit],
    )
  ).map(readRun);

/** The first part of a two-part run goes on until what lies before a position is made. */
export async function setLitUntil(db: Db, runId: number, position: number): Promise<void> {
  await write(db, "UPDATE run SET lit_until = ?, lights = 1 WHERE id = ?", [position, runId]);
}

/** What may be changed of a run while it goes. */
export type RunSettings = Pick<
  RunRow,
  "policy" | "wanted" | "nodes" | "order" | "priority" | "startAt" | "stopAt" | "batch" | "after"
>;

/** Writes what may be changed of a run while it goes. Whether it may is asked under the run's lock. */
export async function saveRunSettings(db: Db, runId: number, s: RunSettings): Promise<void> {
  await write(
    db,
    `UPDATE run
      SET policy = ?, wanted = ?, nodes = ?, run_order = ?, priority = ?, start_at = ?, stop_at = ?,
        batch = ?, after_run_id = ?
      WHERE id = ?`,
    [
      s.policy,
      s.wanted,
      nodesText(s.nodes),
      s.order,
      s.priority,
      s.startAt,
      s.stopAt,
      s.batch,
      s.after,
      runId,
    ],
  );
}

/**
 * Reads and locks a run. Its lock comes before those of its tasks, everywhere, so that two never wait for one
 * another.
 */
export async function lockRun(db: Db, id: number): Promise<RunRow | null> {
  const found = await row<RawRun>(db, `SELECT ${COLUMNS} FROM run WHERE id = ? FOR UPDATE`, [id]);
  return found === null ? null : readRun(found);
}

/** Nothing holds the run any more, and what failed before counts no more. */
export async function releaseRun(db: Db, runId: number): Promise<void> {
  await write(db, "UPDATE run SET held = NULL, judged_from = NOW(3) WHERE id = ?", [runId]);
}

/** Numbers of the runs of a shot that go on. */
export const openRunsOfShot = async (db: Db, shotId: number): Promise<number[]> =>
  (
    await rows<{ id: number; state: RunState }>(
      db,
      `SELECT r.id, r.state
        FROM run r
        JOIN sequence q ON q.id = r.sequence_id
        JOIN version v ON v.id = q.version_id
        WHERE v.shot_id = ?
        ORDER BY r.id`,
      [shotId],
    )
  )
    .filter(({ state }) => goesOn(state))
    .map(({ id }) => id);

/** A run with the names of its shot. */
export interface RunOfHouse extends RunRow {
  readonly project: string;
  readonly shot: string;
  /** Of the shot. */
  readonly title: string;
}

/** Runs of sequences over all shots that are not archived, newest first: all that go on, and some that ended. */
export async function runsOfHouse(db: Db, mostEnded: number): Promise<RunOfHouse[]> {
  const places = await rows<{ id: number; project: string; shot: string; title: string }>(
    db,
    `SELECT r.id, p.slug AS project, s.code AS shot, s.title
      FROM run r
      JOIN sequence q ON q.id = r.sequence_id
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      WHERE r.kind = 'sequence' AND s.archived_at IS NULL AND p.archived_at IS NULL
        AND (r.ended_at IS NULL OR r.id > (SELECT COALESCE(MAX(id), 0) FROM run) - ?)
      ORDER BY r.id DESC`,
    [mostEnded],
  );
  const ids = places.map(({ id }) => id);
  const found = new Map(
    (await rows<RawRun>(db, `SELECT ${COLUMNS} FROM run WHERE id IN ${marks(ids)}`, ids)).map((r) => [
      r.id,
      r,
    ]),
  );
  return places.flatMap(({ id, ...place }) => {
    const run = found.get(id);
    return run === undefined ? [] : [{ ...readRun(run), ...place }];
  });
}
