/** Leasing: the next task of the open runs for a node, with what a vanished node held first. */
import crypto from "node:crypto";
import { passesOfBits } from "@/core/plan/passes";
import { type Pool, transact, type Tx } from "../db/pool";
import { row, write } from "../db/rows";
import { appendFrameEvent } from "../store/events";
import { advanceHead, openQueue, type OpenRun, reserveHead } from "./open-runs";
import { mayTakeOf, type Takers, takersOfRun } from "./takers";
import type { RunState } from "@/core/run/run-life";
import { DUPLICATE_KEY, type Lease, LEASE_SECONDS } from "./lease";
import { framesInWork, lockRendererLimit } from "../store/renderer-limits";
import { leaseTask } from "../store/task-state";
import type { TaskKind, TaskState } from "@/core/run/task-life";

/** Another run renders this frame now: look again later. */
const BUSY_SECONDS = 2;

/** A task that is locked, to be leased. */
export interface Candidate {
  readonly id: number;
  readonly kind: TaskKind;
  readonly runId: number;
  /** Beauty sequence of the camera: what the lease is held on. */
  readonly sequenceId: number;
  readonly frame: number;
  /** Its place in the run's order. */
  readonly position: number;
  /** A bit for each, in the order of core/plan/passes. */
  readonly passes: number;
  /** Of the holder whose lease ran out; null where nobody holds it. */
  readonly attemptId: number | null;
  /** Tries that failed. */
  readonly failures: number;
}

/** Columns and tables of a task that may be leased; what follows is the condition. */
const CANDIDATE = `SELECT t.id, t.run_id AS runId, t.kind, t.sequence_id AS sequenceId, t.frame, t.position, t.passes,
      t.attempt_id AS attemptId, t.tries AS failures
    FROM task t`;

/** An expired lease of a run, or its next waiting task from a position on; locked. */
const nextExpired = (tx: Tx, runId: number): Promise<Candidate | null> =>
  row<Candidate>(
    tx,
    `${CANDIDATE}
      WHERE t.run_id = ? AND t.state = 'leased' AND t.lease_until < NOW(6)
      ORDER BY t.lease_until
      LIMIT 1
      FOR UPDATE SKIP LOCKED`,
    [runId],
  );

/** Above every position. */
export const ALL = 4_294_967_295;

/** @param until positions from here on are not looked at
 * @param avoid node whose failed frames are left to others; 0 for none */
const nextWaiting = (
  tx: Tx,
  runId: number,
  from: number,
  until: number,
  avoid: number,
): Promise<Candidate | null> =>
  row<Candidate>(
    tx,
    `${CANDIDATE}
      WHERE t.run_id = ?
        AND t.state = 'waiting'
        AND t.position >= ?
        AND t.position < ?
        AND t.not_before <= NOW(6)
        AND (t.avoid_node_id IS NULL OR t.avoid_node_id <> ?)
      ORDER BY t.position
      LIMIT 1
      FOR UPDATE SKIP LOCKED`,
    [runId, from, until, avoid],
  );

/** Stopped while it was asked for a frame: the transaction is undone. */
class RunNotActive extends Error {}
/** As many frames of its renderer are in work as may be: the transaction is undone. */
class AtLimit extends Error {}

/**
 * Before anything is locked for the lease: nodes that want frames of one renderer come one after the other.
 * @param limited the renderer, where it is
 */
async function requireRoom(tx: Tx, limited: string | null): Promise<void> {
  if (limited === null) return;
  const most = await lockRendererLimit(tx, limited);
  if (most !== null && (await framesInWork(tx, limited)) >= most) throw new AtLimit();
}

/** Closes what a vanished holder had open, and begins an attempt with a fresh token. */
async function take(tx: Tx, task: Candidate, nodeId: number, leaseSeconds: number): Promise<Lease> {
  if (task.attemptId !== null)
    await write(
      tx,
      `UPDATE attempt
        SET outcome = 'lost', ended_at = NOW(3)
        WHERE id = ? AND outcome = 'running'`,
      [task.attemptId],
    );
  const token = crypto.randomUUID();
  const { id: attemptId } = await write(
    tx,
    `INSERT INTO attempt (task_id, run_id, kind, sequence_id, frame, node_id, passes)
      VALUES (?, ?, ?, ?, ?, ?, ?)`,
    [task.id, task.runId, task.kind, task.sequenceId, task.frame, nodeId, task.passes],
  );
  // The new attempt's foreign key holds the run's row: from here on a Stop waits until this lease is there
  // for it to take back.
  if (
    (await row<{ state: RunState }>(tx, "SELECT state FROM run WHERE id = ?", [task.runId]))?.state !==
    "active"
  )
    throw new RunNotActive();
  if (!(await leaseTask(tx, { id: task.id, attemptId }, nodeId, token, leaseSeconds)))
    throw new RunNotActive();
  await appendFrameEvent(tx, "task", task, task.frame);
  return {
    taskId: task.id,
    taskKind: task.kind,
    token,
    attemptId,
    runId: task.runId,
    sequenceId: task.sequenceId,
    frame: task.frame,
    passes: passesOfBits(task.passes),
    failures: task.failures,
  };
}

export interface Claimer {
  readonly id: number;
  /** Runs name the nodes that may take part. */
  readonly name: string;
}

/** A frame that waits as part of a node's batch. */
export interface Reservation {
  readonly id: number;
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
  /** A bit for each, in the order of core/plan/passes. */
  readonly passes: number;
}

/** Asked in the transaction that leases a frame: keeps frames behind it. @returns position of the last */
export type Reserve = (tx: Tx, found: Candidate, run: OpenRun) => Promise<number>;

/** Leases the next frame for a node, one by one; null when there is none for it now. */
export async function claim(pool: Pool, node: Claimer, leaseSeconds = LEASE_SECONDS): Promise<Lease | null> {
  const { runs, takers } = await openQueue(pool);
  return claimOf(
    pool,
    node,
    leaseSeconds,
    takers,
    runs.filter((run) => mayTakeOf(takers, node, run)),
  );
}

/** Leases the next frame of these runs, in their order. What a vanished node held comes first. */
export async function claimOf(
  pool: Pool,
  node: Claimer,
  leaseSeconds: number,
  takers: Takers,
  runs: readonly OpenRun[],
  reserve?: Reserve,
): Promise<Lease | null> {
  for (const run of runs) {
    if (run.expired === 0) continue;
    const lease = await unlessStopped(
      transact(async (tx) => {
        await requireRoom(tx, run.limited);
        const task = await nextExpired(tx, run.id);
        return task === null ? null : take(tx, task, node.id, leaseSeconds);
      }, pool),
    );
    if (lease !== null) return lease;
  }
  for (const run of runs) {
    const hasOthers = takersOfRun(takers, run).some((t) => t.id !== node.id);
    const lease = await claimOfRun(
      pool,
      run.id,
      node.id,
      leaseSeconds,
      hasOthers,
      reserve === undefined ? undefined : (tx, found) => reserve(tx, found, run),
      run.litUntil ?? ALL,
      run.limited,
    );
    if (lease !== null) return lease;
  }
  return null;
}

/**
 * Leases a frame of the node's own batch, which there is of renderers without a limit alone; null when it went elsewhere meanwhile. Its row may be locked for a
 * moment, by the node's own renewal: that is waited for, since a frame that was skipped and forgotten would
 * stay kept for nobody until its reservation runs out.
 */
export async function claimReserved(
  pool: Pool,
  nodeId: number,
  { id, runId }: Reservation,
  leaseSeconds: number,
): Promise<Lease | null> {
  return unlessTaken(
    pool,
    () => id,
    () =>
      transact(async (tx) => {
        const found = await row<Candidate>(
          tx,
          `${CANDIDATE}
            WHERE t.id = ? AND t.run_id = ? AND t.state = 'waiting' AND t.reserved_node_id = ?
            FOR UPDATE`,
          [id, runId, nodeId],
        );
        return found === null ? null : take(tx, found, nodeId, leaseSeconds);
      }, pool),
  );
}

/** A run that was stopped meanwhile has no frame, nor one whose renderer is at its limit: that is an answer, not a fault. */
const unlessStopped = (claiming: Promise<Lease | null>): Promise<Lease | null> =>
  claiming.catch((error: unknown) => {
    if (error instanceof RunNotActive || error instanceof AtLimit) return null;
    throw error;
  });

/**
 * Two nodes never render one frame at the same time: where another run has it in work, this one is looked at
 * again later.
 */
async function unlessTaken(
  pool: Pool,
  taskOf: () => number | null,
  claiming: () => Promise<Lease | null>,
): Promise<Lease | null> {
  try {
    return await unlessStopped(claiming());
  } catch (error) {
    const taskId = taskOf();
    if ((error as { errno?: number }).errno !== DUPLICATE_KEY || taskId === null) throw error;
    await write(
      pool,
      `UPDATE task
        SET not_before = NOW(6) + INTERVAL ? SECOND
        WHERE id = ? AND state = 'waiting'`,
      [BUSY_SECONDS, taskId],
    );
    return null;
  }
}

/** Leases the next waiting frame of one run.
 * @param hasOthers other nodes may take frames of it: those that failed on this node are left to them
 * @param until positions from here on are not leased yet
 */
export async function claimOfRun(
  pool: Pool,
  runId: number,
  nodeId: number,
  leaseSeconds = LEASE_SECONDS,
  hasOthers = false,
  reserve?: (tx: Tx, found: Candidate) => Promise<number>,
  until = ALL,
  limited: string | null = null,
): Promise<Lease | null> {
  const avoid = hasOthers ? nodeId : 0;
  const from = reserveHead(pool, runId);
  const seen: { task: Candidate | null; last: number } = { task: null, last: 0 };
  const lease = await unlessTaken(
    pool,
    () => seen.task?.id ?? null,
    () =>
      transact(async (tx) => {
        await requireRoom(tx, limited);
        // What was given back stands before the remembered place: nothing from there on means to look from
        // the head.
        const found =
          (await nextWaiting(tx, runId, from, until, avoid)) ??
          (from > 0 ? await nextWaiting(tx, runId, 0, until, avoid) : null);
        seen.task = found;
        if (found === null) return null;
        const lease = await take(tx, found, nodeId, leaseSeconds);
        seen.last = reserve === undefined ? found.position : await reserve(tx, found);
        return lease;
      }, pool),
  );
  advanceHead(pool, runId, lease === null ? null : { position: seen.last });
  return lease;
}

/** A frame that somebody asks for by its number, and no other. */
export interface NamedFrame {
  readonly runId: number;
  readonly kind: TaskKind;
  readonly leadId: number;
  readonly frame: number;
}

/**
 * Why a named frame is not leased: it is made; another node has it, or keeps it; the run is for it no more; or not yet (the run
 * is held or waits, its renderer is at its limit, the frame rests after a failure).
 */
export type NotLeased = "made" | "in-work" | "over" | "not-yet";

interface NamedTask extends Candidate {
  readonly state: TaskState;
  readonly isExpired: number;
  readonly isResting: number;
  readonly isKept: number;
}

function whyNotLeased(task: NamedTask, until: number): NotLeased | null {
  switch (task.state) {
    case "done":
      return "made";
    case "leased":
      return task.isExpired === 1 ? null : "in-work";
    case "waiting":
      if (task.isKept === 1) return "in-work";
      return task.isResting === 1 || task.position >= until ? "not-yet" : null;
    default:
      return "over";
  }
}

/** Leases a named frame, by the rules of every lease. */
export async function claimNamed(
  pool: Pool,
  node: Claimer,
  { runId, kind, leadId, frame }: NamedFrame,
  leaseSeconds = LEASE_SECONDS,
): Promise<Lease | NotLeased> {
  const run = (await openQueue(pool)).runs.find((r) => r.id === runId);
  if (run === undefined) {
    const state = (await row<{ state: RunState }>(pool, "SELECT state FROM run WHERE id = ?", [runId]))
      ?.state;
    return state === "active" ? "not-yet" : "over";
  }
  const seen: { task: NamedTask | null; why: NotLeased | null } = { task: null, why: null };
  const lease = await unlessTaken(
    pool,
    () => seen.task?.id ?? null,
    () =>
      transact(async (tx) => {
        await requireRoom(tx, run.limited);
        const task = await row<NamedTask>(
          tx,
          `SELECT t.id, t.run_id AS runId, t.kind, t.sequence_id AS sequenceId, t.frame, t.position, t.passes,
              t.attempt_id AS attemptId, t.tries AS failures, t.state,
              COALESCE(t.lease_until < NOW(6), 0) AS isExpired, t.not_before > NOW(6) AS isResting,
              t.not_before > NOW(6) AND t.reserved_node_id IS NOT NULL AS isKept
            FROM task t
            WHERE t.run_id = ? AND t.kind = ? AND t.sequence_id = ? AND t.frame = ?
            FOR UPDATE`,
          [runId, kind, leadId, frame],
        );
        seen.task = task;
        seen.why = task === null ? "over" : whyNotLeased(task, run.litUntil ?? ALL);
        return task === null || seen.why !== null ? null : take(tx, task, node.id, leaseSeconds);
      }, pool),
  );
  return lease ?? seen.why ?? "not-yet";
}
