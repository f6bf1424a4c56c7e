/**
 * Leases: the queue's only rule is that one holder at a time may finish a task.
 *
 *     waiting --claim--> leased --finish--> done
 *        ^                 |---fail-------> waiting (tries left) or failed
 *        |                 |---giveBack---> waiting
 *        +----expired------+
 *
 * Each lease has a fresh token. Whoever holds it says `id and token` in every statement and demands
 * one matched row, else LeaseLost. Only the database's clock decides when a lease is over.
 */
import crypto from "node:crypto";
import type { LookSources } from "@/core/plan/fingerprint";
import type { LightingWork } from "@/core/run/lighting";
import { type Pass, passesOfBits } from "@/core/plan/passes";
import { fromStoredPlan, type Plan, type Purpose } from "@/core/plan/plan";
import type { StoppedBy } from "@/render/render-frame";
import { type Pool, transact, type Tx } from "../db/pool";
import { type Db, fromJson, row, rows, write } from "../db/rows";
import { LeaseLost } from "../errors";
import { expectedSeconds } from "@/core/estimate/expected";
import { madeFrames } from "../store/runs";
import { appendEvent } from "../store/events";
import type { RunState } from "@/contract/run-state";
import type { RunKind } from "../store/runs";
import { advanceHead, openQueue, type OpenRun, reserveHead } from "./open-runs";
import { stopRunsOnTime } from "./settle";
import { isAside, type Takers, takersOfRun } from "./takers";

/** Long enough that a busy machine does not lose frames, short enough that a lost node's frame is taken over within 30 s. */
export const LEASE_SECONDS = 25;
/** Another run renders this frame now: look again later. */
const BUSY_SECONDS = 2;
const DUPLICATE_KEY = 1062;

export interface Lease {
  readonly taskId: number;
  readonly token: string;
  readonly attemptId: number;
  readonly runId: number;
  /** The beauty sequence of the frame's camera: what the lease is held on. */
  readonly sequenceId: number;
  readonly frame: number;
  /** What the task may write. */
  readonly passes: readonly Pass[];
  /** How often it failed before. */
  readonly failures: number;
}

/** A lease with all that is needed to render its frame. */
export interface LeasedFrame extends Lease {
  readonly kind: RunKind;
  readonly camera: string;
  readonly version: number;
  readonly purpose: Purpose;
  /** The sequence of each pass that the task may write. */
  readonly sequenceIds: ReadonlyMap<Pass, number>;
  readonly shot: string;
  readonly project: string;
  readonly root: string;
  readonly folder: string;
  readonly plan: Plan;
  readonly sceneFolder: string;
  readonly sources: LookSources;
  /** Attempts on this frame whose node vanished: they may have left a temporary file. */
  readonly lostAttempts: readonly number[];
  /** Seconds that earlier attempts of this task took without making the frame: they count towards its time limit. */
  readonly spentSeconds: number;
  /** What the frame may take at the most samples that the plan allows; null while nothing is known. */
  readonly expectedSeconds: number | null;
}

/** A task that is locked, to be leased. */
export interface Candidate {
  readonly id: number;
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
  readonly position: number;
  readonly passes: number;
  readonly attemptId: number | null;
  readonly failures: number;
}

const CANDIDATE = `SELECT t.id, t.run_id AS runId, t.sequence_id AS sequenceId, t.frame, t.position, t.passes,
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
    `INSERT INTO attempt (task_id, run_id, sequence_id, frame, node_id, passes)
      VALUES (?, ?, ?, ?, ?, ?)`,
    [task.id, task.runId, task.sequenceId, task.frame, nodeId, task.passes],
  );
  // The new attempt's foreign key holds the run's row: from here on a Stop waits until this lease is there for it to take back.
  if (
    (await row<{ state: RunState }>(tx, "SELECT state FROM run WHERE id = ?", [task.runId]))?.state !==
    "active"
  )
    throw new RunNotActive();
  await write(
    tx,
    `UPDATE task
      SET state = 'leased', token = ?, node_id = ?, attempt_id = ?,
        lease_until = NOW(6) + INTERVAL ? SECOND, progress = NULL, put_back = 0,
        reserved_node_id = NULL, not_before = NOW(6)
      WHERE id = ?`,
    [token, nodeId, attemptId, leaseSeconds, task.id],
  );
  await appendEvent(tx, "task", task.sequenceId, task.runId);
  return {
    taskId: task.id,
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
  readonly name: string;
}

/** A frame that waits as part of a node's batch. */
export interface Reservation {
  readonly id: number;
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
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
    runs.filter(
      (run) => (run.nodes === null || run.nodes.includes(node.name)) && !isAside(takers, node.id, run.id),
    ),
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
    );
    if (lease !== null) return lease;
  }
  return null;
}

/** Leases a frame of the node's own batch; null when it went elsewhere meanwhile. */
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
            FOR UPDATE SKIP LOCKED`,
          [id, runId, nodeId],
        );
        return found === null ? null : take(tx, found, nodeId, leaseSeconds);
      }, pool),
  );
}

const unlessStopped = (claiming: Promise<Lease | null>): Promise<Lease | null> =>
  claiming.catch((error: unknown) => {
    if (error instanceof RunNotActive) return null;
    throw error;
  });

/** Two nodes never render one frame at the same time: where another run has it in work, this one is looked at again later. */
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
): Promise<Lease | null> {
  const avoid = hasOthers ? nodeId : 0;
  const from = reserveHead(pool, runId);
  const seen: { task: Candidate | null; last: number } = { task: null, last: 0 };
  const lease = await unlessTaken(
    pool,
    () => seen.task?.id ?? null,
    () =>
      transact(async (tx) => {
        // What was given back stands before the remembered place: nothing from there on means to look from the head.
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

/** What to render for a lease. */
export async function describeLease(pool: Pool, lease: Lease): Promise<LeasedFrame> {
  const found = await row<{
    kind: RunKind;
    camera: string;
    versionId: number;
    version: number;
    purpose: Purpose;
    shot: string;
    project: string;
    root: string;
    folder: string;
    plan: unknown;
    sceneFolder: string;
    sources: unknown;
    first: number;
    last: number;
    numerator: number;
    denominator: number;
  }>(
    pool,
    `SELECT r.kind, q.camera, v.id AS versionId, v.number AS version, v.purpose, s.code AS shot,
        p.slug AS project, p.root, p.folder, COALESCE(r.plan, e.plan) AS plan,
        c.scene_folder AS sceneFolder, c.sources, s.first_frame AS first, s.last_frame AS last,
        p.rate_numerator AS numerator, p.rate_denominator AS denominator
      FROM run r
      JOIN sequence q ON q.id = ?
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      JOIN run_version c ON c.run_id = r.id AND c.version_id = v.id
      JOIN plan_revision e ON e.id = c.revision_id
      WHERE r.id = ?`,
    [lease.sequenceId, lease.runId],
  );
  if (found === null) throw new LeaseLost();
  const { versionId, first, last, numerator, denominator, ...place } = found;
  const [made, lost, spent, sequences] = await Promise.all([
    madeFrames(pool, lease.runId, lease.sequenceId),
    rows<{ id: number }>(
      pool,
      "SELECT id FROM attempt WHERE sequence_id = ? AND frame = ? AND outcome = 'lost'",
      [lease.sequenceId, lease.frame],
    ),
    row<{ seconds: number }>(
      pool,
      `SELECT COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, started_at, ended_at)) / 1e6, 0) + 0e0 AS seconds
        FROM attempt
        WHERE task_id = ? AND id <> ? AND outcome IN ('failed', 'lost', 'stopped')`,
      [lease.taskId, lease.attemptId],
    ),
    rows<{ id: number; pass: Pass }>(
      pool,
      "SELECT id, pass FROM sequence WHERE version_id = ? AND camera = ?",
      [versionId, found.camera],
    ),
  ]);
  const plan = fromStoredPlan(fromJson(found.plan), { first, last, rate: { numerator, denominator } });
  return {
    ...lease,
    ...place,
    expectedSeconds: expectedSeconds(lease.frame, made, plan.samples),
    lostAttempts: lost.map((a) => a.id),
    spentSeconds: spent!.seconds,
    sources: fromJson(found.sources),
    sequenceIds: new Map(sequences.filter((q) => lease.passes.includes(q.pass)).map((q) => [q.pass, q.id])),
    plan,
  };
}

/** Renews a lease and tells the progress (0 to 1). Throws LeaseLost when it is no longer ours. @returns what the holder is asked to do: the run's state, or to put the frame back */
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

/** Locks the lease's row and proves that it is still ours. The lock holds to the end of the transaction: only then may a file be renamed. */
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

export interface AttemptMeasures {
  readonly startupSeconds: number;
  readonly lighting: LightingWork;
  readonly renderSeconds: number;
  readonly denoiseSeconds: number;
  readonly writeSeconds: number;
  readonly samples: number;
  readonly samplesAdded: number;
  readonly stoppedBy: StoppedBy | null;
  /** Share of the machine that other programs used meanwhile; null where it is not known. */
  readonly otherLoad: number | null;
}

/** Closes a held lease and its attempt as done. Inside the transaction of holdLease. */
export async function finish(tx: Tx, lease: Lease, m: AttemptMeasures): Promise<void> {
  const { matched } = await write(
    tx,
    `UPDATE task t
      JOIN attempt a ON a.id = ?
      SET t.state = 'done', t.token = NULL, t.lease_until = NULL, t.progress = NULL,
        a.outcome = 'done', a.ended_at = NOW(3), a.startup_seconds = ?, a.lighting_seconds = ?,
        a.lighting_made = ?, a.render_seconds = ?, a.denoise_seconds = ?, a.write_seconds = ?,
        a.samples = ?, a.samples_added = ?, a.stopped_by = ?, a.other_load = ?
      WHERE t.id = ? AND t.token = ?`,
    [
      lease.attemptId,
      m.startupSeconds,
      m.lighting.seconds,
      m.lighting.made,
      m.renderSeconds,
      m.denoiseSeconds,
      m.writeSeconds,
      m.samples,
      m.samplesAdded,
      m.stoppedBy,
      m.otherLoad,
      lease.taskId,
      lease.token,
    ],
  );
  if (matched === 0) throw new LeaseLost();
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
    const { matched } = await write(
      tx,
      `UPDATE task
        SET position = IF(put_back = 1, ?, position), put_back = 0, state = 'waiting', token = NULL,
          node_id = NULL, attempt_id = NULL, lease_until = NULL, progress = NULL
        WHERE id = ? AND token = ?`,
      [(last?.position ?? 0) + 1, lease.taskId, lease.token],
    );
    if (matched !== 1) return;
    await write(tx, "UPDATE attempt SET outcome = 'stopped', ended_at = NOW(3) WHERE id = ?", [
      lease.attemptId,
    ]);
    await appendEvent(tx, "task", lease.sequenceId, lease.runId);
  }, pool);
}
