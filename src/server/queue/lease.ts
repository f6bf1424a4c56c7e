/**
 * Leases: the queue's only rule is that one holder at a time may finish a task.
 *
 * What becomes of a task is drawn in core/run/task-life. Each lease has a fresh token. Whoever holds it says
 * `id and token` in every statement and demands
 * one matched row, else LeaseLost. Only the database's clock decides when a lease is over.
 */
import type { Pass } from "@/core/plan/passes";
import { type Pool, transact, type Tx } from "../db/pool";
import { type Db, row, rows, write } from "../db/rows";
import { LeaseLost } from "../errors";
import { appendFrameEvent } from "../store/events";
import { stopRunsOnTime } from "./settle";
import { goesOn, type RunState } from "@/core/run/run-life";
import { type AttemptMeasures, finishTask, giveBackTask, leaseTask } from "../store/task-state";
import type { TaskKind, TaskState } from "@/core/run/task-life";

/**
 * Long enough that a busy machine does not lose frames, short enough that a lost node's frame is taken over
 * within 30 s.
 */
export const LEASE_SECONDS = 25;

/** Who may take the frame over does so at once; after this long nobody will. */
const FREED_AFTER_SECONDS = 4;

/** A frame is on one lease at a time, whatever the run. */
export const DUPLICATE_KEY = 1062;

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
  // Freed by the clock, perhaps, while the database was out of reach.
  if (matched !== 1) await transact((tx) => holdLease(tx, lease, leaseSeconds), pool);
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
 *
 * A lease that has run out is ours for as long as nobody took the frame; and one that was freed by the clock
 * is taken again, if its run goes on, the frame still waits, and nobody has tried it since. A picture that is finished is never
 * thrown away for a database that was out of reach.
 * @throws LeaseLost
 */
export async function holdLease(tx: Tx, lease: Lease, leaseSeconds = LEASE_SECONDS): Promise<void> {
  const task = await row<{ state: TaskState; token: string | null }>(
    tx,
    "SELECT state, token FROM task WHERE id = ? FOR UPDATE",
    [lease.taskId],
  );
  if (task?.state === "leased" && task.token === lease.token) return;
  if (task?.state !== "waiting" || !(await takeAgain(tx, lease, leaseSeconds))) throw new LeaseLost();
}

/**
 * The task's row is locked, and waits. The run's is not locked: others lock it before tasks, and a run that ends
 * at this moment loses nothing by one more picture.
 */
async function takeAgain(tx: Tx, lease: Lease, leaseSeconds: number): Promise<boolean> {
  const own = await row<{ nodeId: number; outcome: string; state: RunState; isOvertaken: number }>(
    tx,
    `SELECT a.node_id AS nodeId, a.outcome,
        (SELECT state FROM run WHERE id = a.run_id) AS state,
        EXISTS (
          SELECT 1
          FROM attempt n
          WHERE n.sequence_id = a.sequence_id AND n.frame = a.frame AND n.id > a.id
        ) AS isOvertaken
      FROM attempt a
      WHERE a.id = ?
      FOR UPDATE`,
    [lease.attemptId],
  );
  // A node that slept for a day must not put its picture over what was made since, whatever run made it.
  if (own?.outcome !== "lost" || own.isOvertaken === 1 || !goesOn(own.state)) return false;
  try {
    const task = { id: lease.taskId, attemptId: lease.attemptId };
    if (!(await leaseTask(tx, task, own.nodeId, lease.token, leaseSeconds))) return false;
  } catch (error) {
    // Another run has the frame in work.
    if ((error as { errno?: number }).errno === DUPLICATE_KEY) return false;
    throw error;
  }
  await write(tx, "UPDATE attempt SET outcome = 'running', ended_at = NULL WHERE id = ?", [lease.attemptId]);
  return true;
}

/**
 * Frees what was on lease when the lease ran out, and nobody took it over: its run may be held, or be for
 * that node alone. Called by whoever looks, so that no frame is said to be in work by a node that is gone.
 */
export async function freeExpiredLeases(pool: Pool): Promise<void> {
  const expired = await rows<{ id: number }>(
    pool,
    `SELECT id
      FROM task
      WHERE state = 'leased' AND lease_until < NOW(6) - INTERVAL ? SECOND`,
    [FREED_AFTER_SECONDS],
  );
  for (const { id } of expired)
    await transact(async (tx) => {
      const held = await row<HeldTask>(
        tx,
        `SELECT id AS taskId, token, attempt_id AS attemptId, run_id AS runId, sequence_id AS sequenceId, frame
          FROM task
          WHERE id = ? AND state = 'leased' AND lease_until < NOW(6) - INTERVAL ? SECOND
          FOR UPDATE SKIP LOCKED`,
        [id, FREED_AFTER_SECONDS],
      );
      if (held !== null) await returnTask(tx, held, "lost");
    }, pool);
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

type HeldTask = Pick<Lease, "taskId" | "token" | "attemptId" | "runId" | "sequenceId" | "frame">;

/** A task that is on lease waits again; one that a person put back then comes last. */
async function returnTask(tx: Tx, held: HeldTask, outcome: "stopped" | "lost"): Promise<void> {
  const last = await row<{ position: number }>(
    tx,
    "SELECT MAX(position) AS position FROM task WHERE run_id = ?",
    [held.runId],
  );
  if (!(await giveBackTask(tx, held, (last?.position ?? 0) + 1))) return;
  await write(tx, "UPDATE attempt SET outcome = ?, ended_at = NOW(3) WHERE id = ?", [
    outcome,
    held.attemptId,
  ]);
  await appendFrameEvent(tx, "task", held, held.frame);
}

/** Gives a frame back: its node is asked to end, or the frame was put back. */
export const giveBack = (pool: Pool, lease: Lease): Promise<void> =>
  transact((tx) => returnTask(tx, lease, "stopped"), pool);
