/**
 * Who is to blame for a run's failures (core/review/blame), over what its attempts say, and what follows from
 * it.
 * Read and judged under the run's lock, in the transaction that notes the failure: so that of two failures
 * at one moment the second is judged with the first. It decides by attempts alone, never by what a node
 * says of itself.
 */
import { type BlameFacts, type FailedAttempt, type FirstAttempt, judge } from "@/core/review/blame";
import { type Pool, transact, type Tx } from "../db/pool";
import { type Db, fromJson, row, rows, marks } from "../db/rows";
import { setNodeAside } from "../store/asides";
import { appendEvent } from "../store/events";
import { forgetOpenQueue } from "./open-runs";
import { readTakers, takersOfRun } from "./takers";
import { holdRun } from "../store/run-state";
import { retryTasksFailedOn, setTaskAside } from "../store/task-state";

/** More failures than this of one run are not looked at: by then all is decided. */
const FAILURES_READ = 500;

/** Judges a run again: a frame that another node failed on was made. */
export async function judgeRun(pool: Pool, runId: number): Promise<void> {
  await transact((tx) => applyJudgement(tx, runId), pool);
  forgetOpenQueue(pool);
}

interface Judged {
  readonly id: number;
  readonly sequenceId: number;
  /** Names of those that may take part; null: all. */
  readonly nodes: readonly string[] | null;
  /** Failures from before count no more; null: all count. */
  readonly from: Date | null;
}

/**
 * Failures count from the run's last Resume on, and for each node from when it was let in again; those of a
 * node that is set aside prove nothing.
 */
const COUNTED = `a.run_id = ? AND a.of_place = 0 AND a.started_at >= COALESCE(?, '2000-01-01')
  AND a.started_at >= COALESCE((SELECT MAX(COALESCE(x.let_in_at, NOW(3) + INTERVAL 1 DAY)) FROM node_aside x WHERE x.node_id = a.node_id AND x.run_id IS NULL), '2000-01-01')`;

/** What attempts of the run say, as the judgement reads it. */
async function gatherFacts(db: Db, run: Judged): Promise<BlameFacts> {
  const takers = takersOfRun(await readTakers(db), run).map((t) => t.name);
  const failed = await rows<FailedAttempt>(
    db,
    `SELECT a.task_id AS task, a.frame, n.name AS node, a.code
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      WHERE ${COUNTED} AND a.outcome = 'failed'
      ORDER BY a.id DESC
      LIMIT ${FAILURES_READ}`,
    [run.id, run.from],
  );
  const tasks = [...new Set(failed.map((f) => f.task))];
  const made =
    tasks.length === 0
      ? []
      : await rows<{ task: number; node: string }>(
          db,
          `SELECT t.id AS task, n.name AS node
            FROM task t
            JOIN node n ON n.id = t.node_id
            WHERE t.state = 'done' AND t.id IN ${marks(tasks)}`,
          tasks,
        );
  const makers = new Set(
    (
      await rows<{ node: string }>(
        db,
        `SELECT n.name AS node
          FROM node n
          WHERE EXISTS (
            SELECT 1
            FROM attempt a
            WHERE a.run_id = ? AND a.node_id = n.id AND a.outcome = 'done'
          )`,
        [run.id],
      )
    ).map((m) => m.node),
  );
  // Asked only while it may be the scene: it reads every attempt of the run.
  const firsts = takers.some((node) => makers.has(node))
    ? []
    : await rows<FirstAttempt>(
        db,
        `SELECT n.name AS node, a.task_id AS task, IF(a.outcome = 'failed', a.code, NULL) AS code
          FROM attempt a
          JOIN node n ON n.id = a.node_id
          WHERE a.id IN (
            SELECT MIN(a.id)
            FROM attempt a
            WHERE ${COUNTED} AND a.outcome IN ('done', 'failed')
            GROUP BY a.node_id
          )`,
        [run.id, run.from],
      );
  return {
    failed: failed.reverse(),
    made: new Map(made.map((m) => [m.task, m.node])),
    firsts,
    makers,
    takers,
  };
}

/** Under the run's lock: sets nodes aside, holds the run, or lets both be. */
export async function applyJudgement(tx: Tx, runId: number): Promise<void> {
  // Two nodes that fail at one moment are judged one after the other: the second sees the first.
  const found = await row<Omit<Judged, "nodes"> & { nodes: unknown }>(
    tx,
    `SELECT id, sequence_id AS sequenceId, nodes, judged_from AS \`from\`
      FROM run
      WHERE id = ?
      FOR UPDATE`,
    [runId],
  );
  const run: Judged = { ...found!, nodes: found!.nodes === null ? null : fromJson(found!.nodes) };
  const verdict = judge(await gatherFacts(tx, run));
  if (verdict.scene !== null) {
    const { code, nodes, frames } = verdict.scene;
    await holdRun(tx, run.id, {
      code: "scene-fails",
      error: code,
      message: await messageOf(tx, runId, code),
      nodes,
      frames,
    });
  }
  for (const { node, frames, code } of verdict.nodes) {
    const { id } = (await row<{ id: number }>(tx, "SELECT id FROM node WHERE name = ?", [node]))!;
    await setNodeAside(tx, id, null, {
      code: "fails-alone",
      frames,
      error: code,
      message: await messageOf(tx, runId, code),
    });
    // Frames that were set aside on its word wait again, for the others.
    await retryTasksFailedOn(tx, runId, id);
    await appendEvent(tx, "node", run.sequenceId, runId);
  }
  for (const task of verdict.tasks) await setTaskAside(tx, task);
  // Frames of other attempts wait no more.
  if (verdict.tasks.length > 0) await appendEvent(tx, "task", run.sequenceId, runId);
}

/** The newest sentence of a fault in this run. */
async function messageOf(db: Db, runId: number, code: string): Promise<string> {
  return (
    (
      await row<{ message: string | null }>(
        db,
        "SELECT message FROM attempt WHERE run_id = ? AND code = ? ORDER BY id DESC LIMIT 1",
        [runId, code],
      )
    )?.message ?? code
  );
}
