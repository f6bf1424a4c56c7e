/**
 * Tasks of runs as a set. Their states are written by task-state.ts alone; leasing single ones is the
 * queue's.
 */
import { type Pass, passBits } from "@/core/plan/passes";
import type { Purpose } from "@/core/plan/plan";
import { type Db, marks, row, rows, valuesList, write } from "../db/rows";
import type { RunKind } from "./runs";
import type { TaskKind, TaskState } from "@/core/run/task-life";

export interface RunCounts {
  /** For a node, or for its pause after a failure to be over. */
  readonly waiting: number;
  /** In work now. */
  readonly leased: number;
  readonly done: number;
  /** Set aside after their tries, until a person says to go on. */
  readonly failed: number;
}

/** Tasks a statement; keeps a statement well under the packet limit. */
const TASK_BATCH = 2_000;

export interface NewTask {
  readonly kind: TaskKind;
  /** The beauty sequence of the task's camera: what its lease is held on. */
  readonly leadId: number;
  readonly frame: number;
  /** Those that it writes; a pass that is fine already is left alone. */
  readonly passes: readonly Pass[];
}

/** @param from place of the first in the run's order */
export async function insertTasks(
  db: Db,
  runId: number,
  tasks: Iterable<NewTask>,
  runKind: RunKind,
  from = 0,
): Promise<void> {
  let batch: (readonly [number, TaskKind, number, number, number, number, number])[] = [];
  let position = from;
  const flush = async (): Promise<void> => {
    if (batch.length === 0) return;
    const values = valuesList(batch);
    batch = [];
    await write(
      db,
      `INSERT INTO task (run_id, kind, sequence_id, frame, position, passes, is_proof)
        VALUES ${values.sql}`,
      values.params,
    );
  };
  for (const { kind, leadId, frame, passes } of tasks) {
    batch.push([runId, kind, leadId, frame, position++, passBits(passes), runKind === "proof" ? 1 : 0]);
    if (batch.length >= TASK_BATCH) await flush();
  }
  await flush();
}

/**
 * How many frames of a run are in which state, with those whose tasks housekeeping has removed. Dropped ones are
 * left out: they were taken away and count nowhere.
 */
export async function runCounts(db: Db, runId: number): Promise<RunCounts> {
  const found = await rows<{ state: keyof RunCounts; n: number }>(
    db,
    `SELECT state, COUNT(*) + 0e0 AS n
      FROM task
      WHERE run_id = ? AND kind = 'frame' AND state <> 'dropped'
      GROUP BY state
      UNION ALL
      SELECT 'done', done_removed + 0e0
      FROM run
      WHERE id = ? AND done_removed > 0`,
    [runId, runId],
  );
  const counts = { waiting: 0, leased: 0, done: 0, failed: 0 };
  for (const { state, n } of found) counts[state] += n;
  return counts;
}

/** Gathered light that a run makes: all of them, and those that are made. */
export async function lightCounts(
  db: Db,
  runId: number,
): Promise<{ readonly total: number; readonly made: number }> {
  return (await row<{ total: number; made: number }>(
    db,
    `SELECT COUNT(t.id) + r.lights_removed + 0e0 AS total,
        COALESCE(SUM(t.state = 'done'), 0) + r.lights_removed + 0e0 AS made
      FROM run r
      LEFT JOIN task t ON t.run_id = r.id AND t.kind = 'light' AND t.state <> 'dropped'
      WHERE r.id = ?
      GROUP BY r.id`,
    [runId],
  ))!;
}

export interface TaskRow {
  readonly id: number;
  readonly kind: TaskKind;
  readonly leadId: number;
  readonly frame: number;
  /** A bit for each, in the order of core/plan/passes. */
  readonly passes: number;
  /** Its place in the run's order. */
  readonly position: number;
  readonly state: TaskState;
}

/** All tasks of a run in the order in which they are worked off, with those that are done. */
export const tasksOfRun = (db: Db, runId: number): Promise<TaskRow[]> =>
  rows<TaskRow>(
    db,
    `SELECT id, kind, sequence_id AS leadId, frame, passes, position, state
      FROM task
      WHERE run_id = ?
      ORDER BY position`,
    [runId],
  );

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

/** Of a task t and its run r. */
const IS_LIVE = `r.kind = 'sequence'
        AND r.state IN ('active', 'stopping', 'halting')
        AND (t.state = 'leased' OR (t.state = 'waiting' AND r.state = 'active'))`;

/** A frame that waits in a run that goes on, or renders now. */
export interface LiveTask {
  /** Beauty sequence of the camera. */
  readonly leadId: number;
  /** A bit for each pass that it may write. */
  readonly passes: number;
  readonly frame: number;
  readonly state: "waiting" | "leased";
}

/** Those of some frames; one may be told twice.
 * @param leadIds beauty sequences of the version's cameras
 */
export const liveTasksOfFrames = (
  db: Db,
  leadIds: readonly number[],
  frames: readonly number[],
): Promise<LiveTask[]> =>
  rows(
    db,
    `SELECT t.sequence_id AS leadId, t.passes, t.frame, t.state
      FROM task t FORCE INDEX (of_frame)
      JOIN run r ON r.id = t.run_id
      WHERE t.sequence_id IN ${marks(leadIds)} AND t.frame IN ${marks(frames)}
        AND ${IS_LIVE}`,
    [...leadIds, ...frames],
  );

/**
 * All of a version; one may be told twice. The key covers it: 100,000 take 0.17 s, against 0.37 s without,
 * and 0.4 s to put them into stretches in SQL.
 */
export const liveTasks = (db: Db, versionId: number): Promise<LiveTask[]> =>
  rows(
    db,
    `SELECT t.sequence_id AS leadId, t.passes, t.frame, t.state
      FROM run_version c
      STRAIGHT_JOIN run r ON r.id = c.run_id
      STRAIGHT_JOIN task t ON t.run_id = r.id
      WHERE c.version_id = ?
        AND t.sequence_id IN (SELECT id FROM sequence WHERE version_id = c.version_id)
        AND ${IS_LIVE}`,
    [versionId],
  );

export interface RenderingRow {
  readonly runId: number;
  readonly versionId: number;
  readonly project: string;
  readonly shot: string;
  readonly version: number;
  readonly purpose: Purpose;
  readonly isProof: number;
  /** Gathers light: no frame of the sequence is in work. */
  readonly isLight: number;
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
    `SELECT t.run_id AS runId, q.version_id AS versionId, p.slug AS project, s.code AS shot, v.number AS version,
        v.purpose, t.is_proof AS isProof, t.kind = 'light' AS isLight, t.sequence_id AS sequenceId,
        t.frame, n.name AS node, t.progress,
        TIMESTAMPDIFF(MICROSECOND, a.started_at, NOW(3)) / 1e6 + 0e0 AS seconds
      FROM task t
      JOIN sequence q ON q.id = t.sequence_id
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      JOIN node n ON n.id = t.node_id
      JOIN attempt a ON a.id = t.attempt_id
      WHERE t.state = 'leased'
      ORDER BY n.name`,
  );

/** Whether a node has a frame of a camera in work. @param leadId its beauty sequence */
export const isLeased = async (db: Db, leadId: number, frame: number): Promise<boolean> =>
  (await row<{ id: number }>(db, "SELECT id FROM task WHERE sequence_id = ? AND leased_frame = ?", [
    leadId,
    frame,
  ])) !== null;

/** Frames of a run that failed too often, each once, also where several passes of it did. */
export const tasksSetAside = (db: Db, runId: number): Promise<{ frame: number }[]> =>
  rows(
    db,
    `SELECT DISTINCT frame
      FROM task
      WHERE run_id = ? AND kind = 'frame' AND state = 'failed'
      ORDER BY frame`,
    [runId],
  );
