/** Runs, their tasks as a set, and the attempts made for them. Leasing single tasks is the queue's. */
import type { LookSources } from "@/core/plan/fingerprint";
import type { Policy } from "@/core/plan/what-to-render";
import type { LogLevel } from "../engines/engine";
import { type Db, fromJson, row, rows, valuesList, write } from "../db/rows";

export type RunState = "active" | "stopping" | "stopped" | "done";

export interface RunRow {
  readonly id: number;
  readonly sequenceId: number;
  readonly revisionId: number;
  readonly policy: Policy;
  readonly wanted: string;
  readonly state: RunState;
  readonly nodes: readonly string[] | null;
  readonly createdAt: Date;
  readonly endedAt: Date | null;
}

export interface RunCounts {
  readonly waiting: number;
  readonly leased: number;
  readonly done: number;
  readonly failed: number;
}

const COLUMNS = "id, sequence_id AS sequenceId, revision_id AS revisionId, policy, wanted, state, nodes, created_at AS createdAt, ended_at AS endedAt";
type RawRun = Omit<RunRow, "nodes"> & { nodes: unknown };
const readRun = (r: RawRun): RunRow => ({ ...r, nodes: r.nodes === null ? null : fromJson(r.nodes) });

export interface NewRun {
  readonly sequenceId: number;
  readonly revisionId: number;
  readonly policy: Policy;
  readonly wanted: string;
  readonly nodes: readonly string[] | null;
  readonly sceneFolder: string;
  readonly sources: LookSources;
}

export const insertRun = async (db: Db, run: NewRun): Promise<number> =>
  (await write(db, "INSERT INTO run (sequence_id, revision_id, policy, wanted, nodes, scene_folder, sources) VALUES (?, ?, ?, ?, ?, ?, ?)", [run.sequenceId, run.revisionId, run.policy, run.wanted, run.nodes === null ? null : JSON.stringify(run.nodes), run.sceneFolder, JSON.stringify(run.sources)])).id;

/** Tasks a statement; keeps a statement well under the packet limit. */
const TASK_BATCH = 2_000;

export async function insertTasks(db: Db, runId: number, sequenceId: number, frames: Iterable<number>): Promise<void> {
  let batch: (readonly [number, number, number, number])[] = [];
  let position = 0;
  const flush = async (): Promise<void> => {
    if (batch.length === 0) return;
    const values = valuesList(batch);
    batch = [];
    await write(db, `INSERT INTO task (run_id, sequence_id, frame, position) VALUES ${values.sql}`, values.params);
  };
  for (const frame of frames) {
    batch.push([runId, sequenceId, frame, position++]);
    if (batch.length >= TASK_BATCH) await flush();
  }
  await flush();
}

export async function runById(db: Db, id: number): Promise<RunRow | null> {
  const found = await row<RawRun>(db, `SELECT ${COLUMNS} FROM run WHERE id = ?`, [id]);
  return found === null ? null : readRun(found);
}

export const runsOfSequence = async (db: Db, sequenceId: number, limit: number): Promise<RunRow[]> =>
  (await rows<RawRun>(db, `SELECT ${COLUMNS} FROM run WHERE sequence_id = ? ORDER BY id DESC LIMIT ?`, [sequenceId, limit])).map(readRun);

export async function runCounts(db: Db, runId: number): Promise<RunCounts> {
  const found = await rows<{ state: keyof RunCounts; n: number }>(db, "SELECT state, COUNT(*) AS n FROM task WHERE run_id = ? GROUP BY state", [runId]);
  return { waiting: 0, leased: 0, done: 0, failed: 0, ...Object.fromEntries(found.map((r) => [r.state, r.n])) };
}

/** Moves a run from one of `from` to `to`; false when it was in none of them. */
export async function moveRun(db: Db, runId: number, from: readonly RunState[], to: RunState): Promise<boolean> {
  const ended = to === "active" || to === "stopping" ? "NULL" : "NOW(3)";
  const { matched } = await write(db, `UPDATE run SET state = ?, ended_at = ${ended} WHERE id = ? AND state IN (${from.map(() => "?").join(", ")})`, [to, runId, ...from]);
  return matched === 1;
}

/** Takes the leases of a run back; what was rendering waits again. */
export async function revokeLeases(db: Db, runId: number): Promise<void> {
  await write(db, "UPDATE attempt a JOIN task t ON t.attempt_id = a.id SET a.outcome = 'stopped', a.ended_at = NOW(3) WHERE t.run_id = ? AND t.state = 'leased' AND a.outcome = 'running'", [runId]);
  await write(db, "UPDATE task SET state = 'waiting', token = NULL, node_id = NULL, attempt_id = NULL, lease_until = NULL, progress = NULL WHERE run_id = ? AND state = 'leased'", [runId]);
}

/** Failed frames of a run wait again, with their tries forgotten: somebody pressed Resume. */
export async function retryFailed(db: Db, runId: number): Promise<void> {
  await write(db, "UPDATE task SET state = 'waiting', tries = 0, not_before = NOW(6) WHERE run_id = ? AND state = 'failed'", [runId]);
}

/** Frames that wait in runs that go on, or render now; one may be told twice. The key covers it: 100,000 take 0.17 s, against 0.37 s without, and 0.4 s to put them into stretches in SQL. */
export const liveTasks = (db: Db, sequenceId: number): Promise<{ frame: number; state: "waiting" | "leased" }[]> =>
  rows(db, "SELECT t.frame, t.state FROM run r STRAIGHT_JOIN task t ON t.run_id = r.id WHERE r.sequence_id = ? AND r.state IN ('active', 'stopping') AND (t.state = 'leased' OR (t.state = 'waiting' AND r.state = 'active'))", [sequenceId]);

/** Frames whose last finished attempt ended in an error. */
export const failedFrames = (db: Db, sequenceId: number): Promise<{ frame: number }[]> =>
  rows(db, `SELECT a.frame FROM (SELECT frame, MAX(id) AS id FROM attempt WHERE sequence_id = ? AND outcome IN ('done', 'failed') GROUP BY frame) newest
    JOIN attempt a ON a.id = newest.id WHERE a.outcome = 'failed'`, [sequenceId]);

export interface RenderingRow {
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
  readonly node: string;
  readonly progress: number | null;
  readonly seconds: number;
}

/** What renders now, everywhere. */
export const listRendering = (db: Db): Promise<RenderingRow[]> =>
  rows(db, `SELECT t.run_id AS runId, t.sequence_id AS sequenceId, t.frame, n.name AS node, t.progress,
      TIMESTAMPDIFF(MICROSECOND, a.started_at, NOW(3)) / 1e6 + 0e0 AS seconds
    FROM task t JOIN node n ON n.id = t.node_id JOIN attempt a ON a.id = t.attempt_id WHERE t.state = 'leased' ORDER BY n.name`);

/** By the database's clock; null before the first frame. The newest attempts are asked from the end of the key: no scan. */
export async function secondsSinceLastFrame(db: Db): Promise<number | null> {
  return (await row<{ seconds: number }>(db, "SELECT TIMESTAMPDIFF(MICROSECOND, ended_at, NOW(3)) / 1e6 + 0e0 AS seconds FROM attempt WHERE outcome = 'done' ORDER BY id DESC LIMIT 1"))?.seconds ?? null;
}

/** Seconds of the newest finished attempts of a run, newest first. */
export const recentSeconds = (db: Db, runId: number, limit: number): Promise<{ seconds: number }[]> =>
  rows(db, "SELECT TIMESTAMPDIFF(MICROSECOND, started_at, ended_at) / 1e6 + 0e0 AS seconds FROM attempt WHERE run_id = ? AND outcome = 'done' ORDER BY id DESC LIMIT ?", [runId, limit]);

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
  rows(db, `SELECT a.id, a.run_id AS runId, a.frame, n.name AS node, a.started_at AS startedAt, a.ended_at AS endedAt, a.outcome, a.code, a.message
    FROM attempt a JOIN node n ON n.id = a.node_id WHERE a.sequence_id = ? AND a.frame = ? ORDER BY a.id DESC LIMIT 20`, [sequenceId, frame]);

export interface LogRow {
  readonly id: number;
  readonly at: Date;
  readonly node: string;
  readonly frame: number;
  readonly level: LogLevel;
  readonly text: string;
}

/** Newest log lines of a run, newest first. */
export const logOfRun = (db: Db, runId: number, limit: number): Promise<LogRow[]> =>
  rows(db, `SELECT l.id, l.at, n.name AS node, a.frame, l.level, l.text
    FROM attempt a JOIN attempt_line l ON l.attempt_id = a.id JOIN node n ON n.id = a.node_id WHERE a.run_id = ? ORDER BY l.id DESC LIMIT ?`, [runId, limit]);

export async function appendLines(db: Db, attemptId: number, lines: readonly { readonly level: LogLevel; readonly text: string }[]): Promise<void> {
  if (lines.length === 0) return;
  const values = valuesList(lines.map((line) => [attemptId, line.level, line.text.slice(0, 1000)]));
  await write(db, `INSERT INTO attempt_line (attempt_id, level, text) VALUES ${values.sql}`, values.params);
}
