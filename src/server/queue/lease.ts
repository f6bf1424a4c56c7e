/**
 * Leases: the queue's only rule is that one holder at a time may finish a task.
 *
 * What becomes of a task is drawn in core/run/task-life. Each lease has a fresh token. Whoever holds it says
 * `id and token` in every statement and demands
 * one matched row, else LeaseLost. Only the database's clock decides when a lease is over.
 */
import type { Pass } from "@/core/plan/passes";
import { type Pool, transact, type Tx } from "../db/pool";
import { type Db, row, write } from "../db/rows";
import { LeaseLost } from "../errors";
import { appendFrameEvent } from "../store/events";
import { stopRunsOnTime } from "./settle";
import type { RunState } from "@/core/run/run-life";
import { type AttemptMeasures, finishTask, giveBackTask } from "../store/task-state";
import type { TaskKind } from "@/core/run/task-life";

/**
 * Long enough that a busy machine does not lose frames, short enough that a lost node's frame is taken over
 * within 30 s.
 */
export const LEASE_SECONDS = 25;
export interface Lease {
  readonly taskId: number;
  readonly taskKind: TaskKind;
  /** Fresh for each lease: the proof of holding it. */
  readonly token: string;
  /** Opened with the lease, closed with its end. */
  readonly attemptId: number;
  readonly runId: number;
  /** The beauty sequence of the frame's camera: what the lease is held on. */
  readonly sequenceId: number;
  /** Number of the frame's file. */
  readonly frame: number;
  /** What the task may write. */
  readonly passes: readonly Pass[];
  /** How often it failed before. */
  readonly failures: number;
}

/**
 * Renews a lease and tells the progress (0 to 1). Throws LeaseLost when it is no longer ours. @returns what
 * the holder is asked to do: the run's state, or to put the frame back
 */
export async function renew(
  pool: Pool,
  lease: Lease,
  progress: number,
  leaseSeconds = LEASE_SECONDS,
): Promise<RunState | "put-back"> {
  const { matched } = await write(
    pool,
    `UPDATE task
      SET lease_until = NOW(6) + INTERVAL ? SECOND, progress = ?
      WHERE id = ? AND token = ? AND state = 'leased'`,
    [leaseSeconds, progress, lease.taskId, lease.token],
  );
  if (matched !== 1) throw new LeaseLost();
  const run = await row<{ state: RunState; isOver: number | null; putBack: number }>(
    pool,
    `SELECT r.state, r.stop_at <= NOW(3) AS isOver, t.put_back AS putBack
      FROM task t
      JOIN run r ON r.id = t.run_id
      WHERE t.id = ?`,
    [lease.taskId],
  );
  // Every node may be busy and no server awake: then this one ends the run on time.
  if (run!.state === "active" && run!.isOver === 1) await stopRunsOnTime(pool);
  return run!.putBack === 1 ? "put-back" : run!.state;
}

/**
 * Locks the lease's row and proves that it is still ours. The lock holds to the end of the transaction: only
 * then may a file be renamed.
 */
export async function holdLease(tx: Tx, lease: Lease): Promise<void> {
  const held = await row(
    tx,
    `SELECT id
      FROM task
      WHERE id = ? AND token = ? AND state = 'leased' AND lease_until > NOW(6)
      FOR UPDATE`,
    [lease.taskId, lease.token],
  );
  if (held === null) throw new LeaseLost();
}

/** Closes a held lease and its attempt as done. Inside the transaction of holdLease. */
export async function finish(tx: Tx, lease: Lease, measures: AttemptMeasures): Promise<void> {
  if (!(await finishTask(tx, lease, measures))) throw new LeaseLost();
}

/** Asks the holder of a frame to save what it has and to give it back. False when nobody has it in work. */
export async function askToPutBack(db: Db, runId: number, leadId: number, frame: number): Promise<boolean> {
  return (
    (
      await write(
        db,
        `UPDATE task
          SET put_back = 1
          WHERE run_id = ? AND sequence_id = ? AND frame = ? AND state = 'leased'`,
        [runId, leadId, frame],
      )
    ).matched === 1
  );
}

/** Gives a frame back: its node is asked to end, or the frame was put back and then comes last. */
export async function giveBack(pool: Pool, lease: Lease): Promise<void> {
  await transact(async (tx) => {
    const last = await row<{ position: number }>(
      tx,
      "SELECT MAX(position) AS position FROM task WHERE run_id = ?",
      [lease.runId],
    );
    if (!(await giveBackTask(tx, lease, (last?.position ?? 0) + 1))) return;
    await write(tx, "UPDATE attempt SET outcome = 'stopped', ended_at = NOW(3) WHERE id = ?", [
      lease.attemptId,
    ]);
    await appendFrameEvent(tx, "task", lease, lease.frame);
  }, pool);
}
