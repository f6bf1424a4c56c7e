/** Runs, their tasks as a set, and the attempts made for them. Leasing single tasks is the queue's. */
import type { RunHeld } from "@/contract/hold";
import { goesOn, type RunState } from "@/contract/run-state";
import type { MadeFrame } from "@/core/estimate/expected";
import type { EndedFrame } from "@/core/estimate/finish";
import { type Pass, passBits } from "@/core/plan/passes";
import type { Plan, Purpose } from "@/core/plan/plan";
import type { Priority } from "@/contract/run-state";
import type { RunOrder } from "@/core/run/run-order";
import type { Policy } from "@/core/run/what-to-render";
import { type Db, fromJson, row, rows, valuesList, write } from "../db/rows";
import { appendRunEvent, insertRunVersion, type RunVersion } from "./run-versions";
import type { LogLevel } from "@/contract/log";

/** A run fills sequences; a proof stays apart from them. */
export type RunKind = "sequence" | "proof";

export interface RunRow {
  readonly id: number;
  readonly kind: RunKind;
  /** The sequence in whose sight it was started; its tasks may belong to others of the version. */
  readonly sequenceId: number;
  readonly policy: Policy;
  readonly wanted: string;
  readonly state: RunState;
  readonly nodes: readonly string[] | null;
  readonly order: RunOrder;
  readonly priority: Priority;
  readonly startAt: Date | null;
  readonly stopAt: Date | null;
  readonly batch: number | null;
  /** Frames of its wish that it left alone when it started. */
  readonly kept: number;
  /** Likely length as it was estimated when it started; null: nothing was timed. */
  readonly estimatedSeconds: number | null;
  /** Its scene asks for a lighting cache: some of its tasks make it, and write no passes. */
  readonly lights: boolean;
  /** Folder of the hand-out, relative to the version's: its frames go to machines that are not connected. Null: nodes lease them. */
  readonly handout: string | null;
  /** Why no frame of it is leased though it goes on. */
  readonly held: RunHeld | null;
  readonly createdAt: Date;
  readonly endedAt: Date | null;
}

export interface RunCounts {
  readonly waiting: number;
  readonly leased: number;
  readonly done: number;
  readonly failed: number;
}

const COLUMNS = `id, kind, sequence_id AS sequenceId, policy, wanted, state, nodes, run_order AS \`order\`,
      priority, start_at AS startAt, stop_at AS stopAt, batch, kept,
      estimated_seconds AS estimatedSeconds, lights, handout, held, created_at AS createdAt,
      ended_at AS endedAt`;
type RawRun = Omit<RunRow, "nodes" | "held" | "lights"> & { nodes: unknown; held: unknown; lights: number };
const readRun = (r: RawRun): RunRow => ({
  ...r,
  lights: r.lights === 1,
  nodes: r.nodes === null ? null : fromJson(r.nodes),
  held: r.held === null ? null : fromJson<RunHeld>(r.held),
});

export interface NewRun {
  readonly sequenceId: number;
  /** At least one. */
  readonly versions: readonly RunVersion[];
  readonly policy: Policy;
  readonly wanted: string;
  readonly nodes: readonly string[] | null;
  readonly order: RunOrder;
  readonly priority: Priority;
  readonly startAt: Date | null;
  readonly stopAt: Date | null;
  readonly batch: number | null;
  readonly kept: number;
  readonly estimatedSeconds: number | null;
  readonly handout: string | null;
  readonly kind: RunKind;
  /** Settings of a proof where they differ from the revision. */
  readonly plan: Plan | null;
}

const nodesText = (nodes: readonly string[] | null): string | null =>
  nodes === null ? null : JSON.stringify(nodes);

export async function insertRun(db: Db, run: NewRun): Promise<number> {
  const { id } = await write(
    db,
    `INSERT INTO run (
        sequence_id, policy, wanted, nodes, run_order, priority, start_at, stop_at, batch, kept,
          estimated_seconds, handout, kind, plan
      )
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
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

/** Tasks a statement; keeps a statement well under the packet limit. */
const TASK_BATCH = 2_000;

export interface NewTask {
  /** The beauty sequence of the task's camera: what its lease is held on. */
  readonly leadId: number;
  readonly frame: number;
  readonly passes: readonly Pass[];
}

/** @param from place of the first in the run's order */
export async function insertTasks(
  db: Db,
  runId: number,
  tasks: Iterable<NewTask>,
  kind: RunKind,
  from = 0,
): Promise<void> {
  let batch: (readonly [number, number, number, number, number, number])[] = [];
  let position = from;
  const flush = async (): Promise<void> => {
    if (batch.length === 0) return;
    const values = valuesList(batch);
    batch = [];
    await write(
      db,
      `INSERT INTO task (run_id, sequence_id, frame, position, passes, is_proof)
        VALUES ${values.sql}`,
      values.params,
    );
  };
  for (const { leadId, frame, passes } of tasks) {
    batch.push([runId, leadId, frame, position++, passBits(passes), kind === "proof" ? 1 : 0]);
    if (batch.length >= TASK_BATCH) await flush();
  }
  await flush();
}

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

export async function runCounts(db: Db, runId: number): Promise<RunCounts> {
  const found = await rows<{ state: keyof RunCounts; n: number }>(
    db,
    `SELECT state, COUNT(*) AS n
      FROM task
      WHERE run_id = ? AND passes <> 0 AND state <> 'dropped'
      GROUP BY state`,
    [runId],
  );
  return {
    waiting: 0,
    leased: 0,
    done: 0,
    failed: 0,
    ...Object.fromEntries(found.map((r) => [r.state, r.n])),
  };
}

/** Lighting caches that a run makes: all of them, and those that are made. */
export async function lightingCounts(
  db: Db,
  runId: number,
): Promise<{ readonly total: number; readonly made: number }> {
  return (await row<{ total: number; made: number }>(
    db,
    `SELECT COUNT(*) AS total, COALESCE(SUM(state = 'done'), 0) + 0e0 AS made
      FROM task
      WHERE run_id = ? AND passes = 0 AND state <> 'dropped'`,
    [runId],
  ))!;
}

/** The first part of a two-part run goes on until what lies before a position is made. */
export async function setLitUntil(db: Db, runId: number, position: number): Promise<void> {
  await write(db, "UPDATE run SET lit_until = ?, lights = 1 WHERE id = ?", [position, runId]);
}

/** Moves a run from one of `from` to `to`; false when it was in none of them. */
export async function moveRun(
  db: Db,
  runId: number,
  from: readonly RunState[],
  to: RunState,
): Promise<boolean> {
  const ended = goesOn(to) ? "NULL" : "NOW(3)";
  const { matched } = await write(
    db,
    `UPDATE run
      SET state = ?, held = NULL, ended_at = ${ended}
      WHERE id = ? AND state IN (${from.map(() => "?").join(", ")})`,
    [to, runId, ...from],
  );
  return matched === 1;
}

/** What may be changed of a run while it goes. */
export type RunSettings = Pick<
  RunRow,
  "policy" | "wanted" | "nodes" | "order" | "priority" | "startAt" | "stopAt" | "batch"
>;

export async function saveRunSettings(db: Db, runId: number, s: RunSettings): Promise<void> {
  await write(
    db,
    `UPDATE run
      SET policy = ?, wanted = ?, nodes = ?, run_order = ?, priority = ?, start_at = ?, stop_at = ?,
        batch = ?
      WHERE id = ?`,
    [s.policy, s.wanted, nodesText(s.nodes), s.order, s.priority, s.startAt, s.stopAt, s.batch, runId],
  );
}

export async function lockRun(db: Db, id: number): Promise<RunRow | null> {
  const found = await row<RawRun>(db, `SELECT ${COLUMNS} FROM run WHERE id = ? FOR UPDATE`, [id]);
  return found === null ? null : readRun(found);
}

export interface TaskRow {
  readonly id: number;
  readonly leadId: number;
  readonly frame: number;
  readonly passes: number;
  readonly position: number;
  readonly state: "waiting" | "leased" | "done" | "failed" | "dropped";
}

export const tasksOfRun = (db: Db, runId: number): Promise<TaskRow[]> =>
  rows<TaskRow>(
    db,
    `SELECT id, sequence_id AS leadId, frame, passes, position, state
      FROM task
      WHERE run_id = ?
      ORDER BY position`,
    [runId],
  );

/** Takes waiting frames out of a run. Those that a node has leased meanwhile stay. */
export async function dropTasks(db: Db, ids: readonly number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += TASK_BATCH) {
    const some = ids.slice(i, i + TASK_BATCH);
    await write(
      db,
      `UPDATE task
        SET state = 'dropped'
        WHERE state = 'waiting' AND id IN (${some.map(() => "?").join(", ")})`,
      some,
    );
  }
}

/** Takes what waits, or is set aside, of a version out of every run. @returns how many frames that were */
export const dropTasksOfVersion = async (db: Db, versionId: number): Promise<number> =>
  (
    await write(
      db,
      `UPDATE task t
        JOIN sequence q ON q.id = t.sequence_id
        JOIN run r ON r.id = t.run_id
        SET t.state = 'dropped'
        WHERE q.version_id = ? AND r.kind = 'sequence' AND t.state IN ('waiting', 'failed')`,
      [versionId],
    )
  ).matched;

/** Takes dropped frames back in. */
export async function takeBackTasks(
  db: Db,
  tasks: readonly { readonly id: number; readonly passes: number }[],
): Promise<void> {
  for (const { id, passes } of tasks)
    await write(
      db,
      `UPDATE task
        SET state = 'waiting', tries = 0, avoid_node_id = NULL, passes = ?, not_before = NOW(6)
        WHERE id = ? AND state = 'dropped'`,
      [passes, id],
    );
}

/** Gives tasks their places in the run's order. */
export async function placeTasks(
  db: Db,
  places: readonly (readonly [id: number, position: number])[],
): Promise<void> {
  for (let i = 0; i < places.length; i += TASK_BATCH) {
    await write(
      db,
      `UPDATE task t
        JOIN JSON_TABLE(
          ?, '$[*]' COLUMNS (id BIGINT PATH '$[0]', position INT PATH '$[1]')
        ) n ON n.id = t.id
        SET t.position = n.position`,
      [JSON.stringify(places.slice(i, i + TASK_BATCH))],
    );
  }
}

/** Nothing holds the run any more, and what failed before counts no more. */
export async function releaseRun(db: Db, runId: number): Promise<void> {
  await write(db, "UPDATE run SET held = NULL, judged_from = NOW(3) WHERE id = ?", [runId]);
}

/** Failed frames of a run wait again, with their tries forgotten: somebody pressed Resume. */
export async function retryFailed(db: Db, runId: number): Promise<void> {
  await write(
    db,
    `UPDATE task
      SET state = 'waiting', tries = 0, avoid_node_id = NULL, not_before = NOW(6)
      WHERE run_id = ? AND state = 'failed'`,
    [runId],
  );
}

/** Frames that wait in runs that go on, or render now; one may be told twice. The key covers it: 100,000 take 0.17 s, against 0.37 s without, and 0.4 s to put them into stretches in SQL. */
export const liveTasks = (
  db: Db,
  versionId: number,
): Promise<{ leadId: number; passes: number; frame: number; state: "waiting" | "leased" }[]> =>
  rows(
    db,
    `SELECT t.sequence_id AS leadId, t.passes, t.frame, t.state
      FROM run_version c
      STRAIGHT_JOIN run r ON r.id = c.run_id
      STRAIGHT_JOIN task t ON t.run_id = r.id
      WHERE c.version_id = ?
        AND t.sequence_id IN (SELECT id FROM sequence WHERE version_id = c.version_id)
        AND r.kind = 'sequence'
        AND r.state IN ('active', 'stopping', 'halting')
        AND (t.state = 'leased' OR (t.state = 'waiting' AND r.state = 'active'))`,
    [versionId],
  );

/** Frames whose last finished attempt at a pass ended in an error.
 * @param leadId beauty sequence of the camera
 */
export const failedFrames = (db: Db, leadId: number, pass: Pass): Promise<{ frame: number }[]> =>
  rows(
    db,
    `SELECT a.frame
      FROM (
        SELECT x.frame, MAX(x.id) AS id
        FROM attempt x
        JOIN run r ON r.id = x.run_id AND r.kind = 'sequence'
        WHERE x.sequence_id = ? AND (x.passes & ?) > 0 AND x.outcome IN ('done', 'failed')
        GROUP BY x.frame
      ) newest
      JOIN attempt a ON a.id = newest.id
      WHERE a.outcome = 'failed'`,
    [leadId, passBits([pass])],
  );

export interface RenderingRow {
  readonly runId: number;
  readonly versionId: number;
  readonly shot: string;
  readonly version: number;
  readonly purpose: Purpose;
  readonly isProof: number;
  /** Makes a lighting cache: no frame of the sequence is in work. */
  readonly isLighting: number;
  readonly sequenceId: number;
  readonly frame: number;
  readonly node: string;
  readonly progress: number | null;
  readonly seconds: number;
}

/** What renders now, everywhere. */
export const listRendering = (db: Db): Promise<RenderingRow[]> =>
  rows(
    db,
    `SELECT t.run_id AS runId, q.version_id AS versionId, s.code AS shot, v.number AS version,
        v.purpose, t.is_proof AS isProof, t.passes = 0 AS isLighting, t.sequence_id AS sequenceId,
        t.frame, n.name AS node, t.progress,
        TIMESTAMPDIFF(MICROSECOND, a.started_at, NOW(3)) / 1e6 + 0e0 AS seconds
      FROM task t
      JOIN sequence q ON q.id = t.sequence_id
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN node n ON n.id = t.node_id
      JOIN attempt a ON a.id = t.attempt_id
      WHERE t.state = 'leased'
      ORDER BY n.name`,
  );

/** By the database's clock; null before the first frame. The newest attempts are asked from the end of the key: no scan. */
export async function secondsSinceLastFrame(db: Db): Promise<number | null> {
  return (
    (
      await row<{ seconds: number }>(
        db,
        `SELECT TIMESTAMPDIFF(MICROSECOND, ended_at, NOW(3)) / 1e6 + 0e0 AS seconds
          FROM attempt
          WHERE outcome = 'done'
          ORDER BY id DESC
          LIMIT 1`,
      )
    )?.seconds ?? null
  );
}

/** Attempts of each node since midnight, by the database's clock. */
export const attemptsOfNodesToday = (db: Db): Promise<{ nodeId: number; made: number; failed: number }[]> =>
  rows(
    db,
    `SELECT node_id AS nodeId, SUM(outcome = 'done' AND passes <> 0) + 0e0 AS made,
        SUM(outcome IN ('failed', 'lost')) + 0e0 AS failed
      FROM attempt
      WHERE started_at >= CURRENT_DATE
      GROUP BY node_id`,
  );

/** Attempts of a run by node; seconds are those of all of them. */
export const attemptsByNode = (
  db: Db,
  runId: number,
): Promise<{ node: string; made: number; failed: number; lost: number; seconds: number }[]> =>
  rows(
    db,
    `SELECT n.name AS node, SUM(a.outcome = 'done' AND a.passes <> 0) + 0e0 AS made,
        SUM(a.outcome = 'failed') + 0e0 AS failed, SUM(a.outcome = 'lost') + 0e0 AS lost,
        COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, a.started_at, a.ended_at)), 0) / 1e6 + 0e0 AS seconds
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      WHERE a.run_id = ?
      GROUP BY n.name
      ORDER BY n.name`,
    [runId],
  );

/** From the first frame's start to the last one's end; null before the first has ended. */
export async function runSpan(db: Db, runId: number): Promise<{ seconds: number | null }> {
  return (await row<{ seconds: number | null }>(
    db,
    `SELECT TIMESTAMPDIFF(MICROSECOND, MIN(started_at), MAX(ended_at)) / 1e6 + 0e0 AS seconds
      FROM attempt
      WHERE run_id = ?`,
    [runId],
  ))!;
}

export const tasksSetAside = (db: Db, runId: number): Promise<{ frame: number }[]> =>
  rows(
    db,
    `SELECT DISTINCT frame
      FROM task
      WHERE run_id = ? AND passes <> 0 AND state = 'failed'
      ORDER BY frame`,
    [runId],
  );

/** Enough to stand beside any frame that comes next. */
const MADE_FRAMES = 32;

/** The newest finished attempts of a run, newest first. */
export const endedFrames = (db: Db, runId: number, limit: number): Promise<EndedFrame[]> =>
  rows(
    db,
    `SELECT TIMESTAMPDIFF(MICROSECOND, started_at, ended_at) / 1e6 + 0e0 AS seconds,
        TIMESTAMPDIFF(MICROSECOND, ended_at, NOW(3)) / 1e6 + 0e0 AS ago
      FROM attempt
      WHERE run_id = ? AND passes <> 0 AND outcome = 'done'
      ORDER BY id DESC
      LIMIT ?`,
    [runId, limit],
  );

/** Newest frames that a run has made of a camera, with what they took. */
export const madeFrames = (db: Db, runId: number, leadId: number): Promise<MadeFrame[]> =>
  rows(
    db,
    `SELECT frame,
        COALESCE(startup_seconds, 0) + COALESCE(denoise_seconds, 0) + COALESCE(write_seconds, 0) AS fixedSeconds,
        COALESCE(render_seconds, 0) AS renderSeconds,
        COALESCE(samples_added, samples, 0) + 0e0 AS samplesAdded,
        COALESCE(samples, 0) + 0e0 AS samples
      FROM attempt
      WHERE run_id = ? AND sequence_id = ? AND passes <> 0 AND outcome = 'done'
      ORDER BY id DESC
      LIMIT ${MADE_FRAMES}`,
    [runId, leadId],
  );

export interface AttemptRow {
  readonly id: number;
  readonly runId: number;
  readonly frame: number;
  readonly node: string;
  readonly startedAt: Date;
  readonly endedAt: Date | null;
  readonly outcome: "running" | "done" | "failed" | "lost" | "stopped";
  readonly code: string | null;
  readonly message: string | null;
}

export const attemptsOfFrame = (db: Db, sequenceId: number, frame: number): Promise<AttemptRow[]> =>
  rows(
    db,
    `SELECT a.id, a.run_id AS runId, a.frame, n.name AS node, a.started_at AS startedAt,
        a.ended_at AS endedAt, a.outcome, a.code, a.message
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      WHERE a.sequence_id = ? AND a.frame = ? AND a.passes <> 0
      ORDER BY a.id DESC
      LIMIT 20`,
    [sequenceId, frame],
  );

export interface LogRow {
  readonly id: number;
  readonly at: Date;
  readonly run: number;
  readonly node: string;
  readonly frame: number;
  readonly level: LogLevel;
  readonly text: string;
}

/** Which lines of a log. */
export interface LogFilter {
  readonly node?: string;
  /** Text that a line holds; case does not matter. */
  readonly search?: string;
}

const LOG_LINE = `SELECT l.id, l.at, a.run_id AS run, n.name AS node, a.frame, l.level, l.text
    FROM attempt a
    JOIN attempt_line l ON l.attempt_id = a.id
    JOIN node n ON n.id = a.node_id`;

/** Newest log lines of all attempts at a frame, newest first. */
export const logOfFrame = (
  db: Db,
  leadId: number,
  frame: number,
  limit: number,
  search = "",
): Promise<LogRow[]> =>
  rows(
    db,
    `${LOG_LINE}
      WHERE a.sequence_id = ? AND a.frame = ? AND LOCATE(LOWER(?), LOWER(l.text)) > 0
      ORDER BY l.id DESC
      LIMIT ?`,
    [leadId, frame, search, limit],
  );

/** Newest log lines of a run, newest first. */
export const logOfRun = (
  db: Db,
  runId: number,
  limit: number,
  { node = "", search = "" }: LogFilter = {},
): Promise<LogRow[]> =>
  rows(
    db,
    `${LOG_LINE}
      WHERE a.run_id = ?
        AND (? = '' OR n.name = ?)
        AND LOCATE(LOWER(?), LOWER(CONCAT(a.frame, ' ', l.text))) > 0
      ORDER BY l.id DESC
      LIMIT ?`,
    [runId, node, node, search, limit],
  );

export async function appendLines(
  db: Db,
  attemptId: number,
  lines: readonly { readonly level: LogLevel; readonly text: string }[],
): Promise<void> {
  if (lines.length === 0) return;
  const values = valuesList(lines.map((line) => [attemptId, line.level, line.text.slice(0, 1000)]));
  await write(db, `INSERT INTO attempt_line (attempt_id, level, text) VALUES ${values.sql}`, values.params);
}
