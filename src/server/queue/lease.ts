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
import { type Pass, passesOfBits } from "@/core/plan/passes";
import { fromStoredPlan, type Plan, type Purpose } from "@/core/plan/plan";
import type { StoppedBy } from "@/render/render-frame";
import { type Pool, transact, type Tx } from "../db/pool";
import { type Db, fromJson, row, rows, write } from "../db/rows";
import { LeaseLost } from "../errors";
import { appendEvent } from "../store/events";
import type { RunState } from "@/contract/run-state";
import type { RunKind } from "../store/runs";
import { deletePreview } from "../store/previews";

/** Long enough that a busy machine does not lose frames, short enough that a lost node's frame is taken over within 30 s. */
export const LEASE_SECONDS = 25;
/** A frame that failed so often is set aside with its log. */
export const MAX_TRIES = 3;
/** Pause before a failed frame is tried again, times the number of tries. */
const RETRY_SECONDS = 2;
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
}

interface Candidate {
  readonly id: number;
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
  readonly position: number;
  readonly passes: number;
  readonly attemptId: number | null;
}

const CANDIDATE = "SELECT t.id, t.run_id AS runId, t.sequence_id AS sequenceId, t.frame, t.position, t.passes, t.attempt_id AS attemptId FROM task t";

interface OpenRun {
  readonly id: number;
  readonly nodes: readonly string[] | null;
  /** Leases that have run out. */
  readonly expired: number;
}

/** Active runs whose time has come: proofs first, somebody waits for them; then by priority; then the one with the fewest frames in work, so that runs share the nodes. */
async function openRuns(pool: Pool): Promise<OpenRun[]> {
  const found = await rows<Omit<OpenRun, "nodes"> & { readonly nodes: unknown }>(pool, `SELECT r.id, r.nodes, COALESCE(SUM(t.lease_until < NOW(6)), 0) + 0e0 AS expired
    FROM run r LEFT JOIN task t ON t.run_id = r.id AND t.state = 'leased' WHERE r.state = 'active' AND (r.start_at IS NULL OR r.start_at <= NOW(3)) GROUP BY r.id ORDER BY r.kind = 'proof' DESC, r.priority DESC, COUNT(t.id), r.id`);
  return found.map((r) => ({ ...r, nodes: r.nodes === null ? null : fromJson<string[]>(r.nodes) }));
}

/** How long what a process remembers of the queue is good for. Only frames that take less are leased by it. */
const MEMORY_MS = 250;

/**
 * What a process remembers for a moment, so that leasing hundreds of frames a second does not ask
 * the same again and again: the open runs, and where in each run the last frame was found. (A scan
 * from the head meets every entry that was leased and not yet purged: 8 clients came to 0.5 of the
 * bare statements, and to 0.9 with this.)
 */
interface Memory {
  runs: { readonly list: Promise<OpenRun[]>; readonly until: number };
  readonly heads: Map<number, { readonly position: number; readonly until: number }>;
}
const memories = new WeakMap<Pool, Memory>();

function memoryOf(pool: Pool): Memory {
  const known = memories.get(pool);
  if (known !== undefined) return known;
  const fresh: Memory = { runs: { list: Promise.resolve([]), until: 0 }, heads: new Map() };
  memories.set(pool, fresh);
  return fresh;
}

function rememberedRuns(pool: Pool): Promise<OpenRun[]> {
  const memory = memoryOf(pool);
  if (performance.now() >= memory.runs.until) {
    const list = openRuns(pool);
    memory.runs = { list, until: performance.now() + MEMORY_MS };
    // A failure is told to who asked, and not remembered.
    list.catch(() => (memory.runs = { list: Promise.resolve([]), until: 0 }));
  }
  return memory.runs.list;
}

/** Where to look for a run's next frame; the next to ask in this process looks one further on. */
function reserveHead(pool: Pool, runId: number): number {
  const { heads } = memoryOf(pool);
  const head = heads.get(runId);
  if (head === undefined || performance.now() >= head.until) {
    heads.delete(runId);
    return 0;
  }
  heads.set(runId, { position: head.position + 1, until: head.until });
  return head.position;
}

/** Remembers where a frame was found; nothing found forgets the place. */
function advanceHead(pool: Pool, runId: number, found: Candidate | null): void {
  const { heads } = memoryOf(pool);
  const head = heads.get(runId);
  if (found === null) heads.delete(runId);
  else heads.set(runId, { position: Math.max(head?.position ?? 0, found.position + 1), until: head?.until ?? performance.now() + MEMORY_MS });
}

/** An expired lease of a run, or its next waiting task from a position on; locked. */
const nextExpired = (tx: Tx, runId: number): Promise<Candidate | null> =>
  row<Candidate>(tx, `${CANDIDATE} WHERE t.run_id = ? AND t.state = 'leased' AND t.lease_until < NOW(6) ORDER BY t.lease_until LIMIT 1 FOR UPDATE SKIP LOCKED`, [runId]);

const nextWaiting = (tx: Tx, runId: number, from: number): Promise<Candidate | null> =>
  row<Candidate>(tx, `${CANDIDATE} WHERE t.run_id = ? AND t.state = 'waiting' AND t.position >= ? AND t.not_before <= NOW(6) ORDER BY t.position LIMIT 1 FOR UPDATE SKIP LOCKED`, [runId, from]);

/** Stopped while it was asked for a frame: the transaction is undone. */
class RunNotActive extends Error {}

async function take(tx: Tx, task: Candidate, nodeId: number, leaseSeconds: number): Promise<Lease> {
  if (task.attemptId !== null) await write(tx, "UPDATE attempt SET outcome = 'lost', ended_at = NOW(3) WHERE id = ? AND outcome = 'running'", [task.attemptId]);
  const token = crypto.randomUUID();
  const { id: attemptId } = await write(tx, "INSERT INTO attempt (task_id, run_id, sequence_id, frame, node_id, passes) VALUES (?, ?, ?, ?, ?, ?)", [task.id, task.runId, task.sequenceId, task.frame, nodeId, task.passes]);
  // The new attempt's foreign key holds the run's row: from here on a Stop waits until this lease is there for it to take back.
  if ((await row<{ state: RunState }>(tx, "SELECT state FROM run WHERE id = ?", [task.runId]))?.state !== "active") throw new RunNotActive();
  await write(tx, "UPDATE task SET state = 'leased', token = ?, node_id = ?, attempt_id = ?, lease_until = NOW(6) + INTERVAL ? SECOND, progress = NULL, put_back = 0 WHERE id = ?", [token, nodeId, attemptId, leaseSeconds, task.id]);
  await appendEvent(tx, "task", task.sequenceId, task.runId);
  return { taskId: task.id, token, attemptId, runId: task.runId, sequenceId: task.sequenceId, frame: task.frame, passes: passesOfBits(task.passes) };
}

/** Leases the next frame for a node, or null when there is none for it now. What a vanished node held comes first. */
export async function claim(pool: Pool, node: { readonly id: number; readonly name: string }, leaseSeconds = LEASE_SECONDS): Promise<Lease | null> {
  const runs = (await rememberedRuns(pool)).filter((r) => r.nodes === null || r.nodes.includes(node.name));
  for (const run of runs) {
    if (run.expired === 0) continue;
    const lease = await unlessStopped(transact(async (tx) => {
      const task = await nextExpired(tx, run.id);
      return task === null ? null : take(tx, task, node.id, leaseSeconds);
    }, pool));
    if (lease !== null) return lease;
  }
  for (const run of runs) {
    const lease = await claimOfRun(pool, run.id, node.id, leaseSeconds);
    if (lease !== null) return lease;
  }
  return null;
}

const unlessStopped = (claiming: Promise<Lease | null>): Promise<Lease | null> =>
  claiming.catch((error: unknown) => {
    if (error instanceof RunNotActive) return null;
    throw error;
  });

/** Leases the next waiting frame of one run. */
export async function claimOfRun(pool: Pool, runId: number, nodeId: number, leaseSeconds = LEASE_SECONDS): Promise<Lease | null> {
  const from = reserveHead(pool, runId);
  let found: Candidate | null = null;
  try {
    const lease = await unlessStopped(transact(async (tx) => {
      // What was given back stands before the remembered place: nothing from there on means to look from the head.
      found = (await nextWaiting(tx, runId, from)) ?? (from > 0 ? await nextWaiting(tx, runId, 0) : null);
      return found === null ? null : take(tx, found, nodeId, leaseSeconds);
    }, pool));
    advanceHead(pool, runId, lease === null ? null : (found as Candidate | null));
    return lease;
  } catch (error) {
    if ((error as { errno?: number }).errno !== DUPLICATE_KEY || found === null) throw error;
    // Two nodes never render one frame at the same time: another run has this one in work.
    await write(pool, "UPDATE task SET not_before = NOW(6) + INTERVAL ? SECOND WHERE id = ? AND state = 'waiting'", [BUSY_SECONDS, (found as Candidate).id]);
    return null;
  }
}

/** What to render for a lease. */
export async function describeLease(pool: Pool, lease: Lease): Promise<LeasedFrame> {
  const found = await row<{ kind: RunKind; camera: string; versionId: number; version: number; purpose: Purpose; shot: string; project: string; root: string; folder: string; plan: unknown; sceneFolder: string; sources: unknown; first: number; last: number; numerator: number; denominator: number }>(pool, `SELECT
      r.kind, q.camera, v.id AS versionId, v.number AS version, v.purpose, s.code AS shot, p.slug AS project, p.root, p.folder, COALESCE(r.plan, e.plan) AS plan, r.scene_folder AS sceneFolder, r.sources,
      s.first_frame AS first, s.last_frame AS last, p.rate_numerator AS numerator, p.rate_denominator AS denominator
    FROM run r JOIN sequence q ON q.id = ? JOIN version v ON v.id = q.version_id JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id JOIN plan_revision e ON e.id = r.revision_id WHERE r.id = ?`, [lease.sequenceId, lease.runId]);
  if (found === null) throw new LeaseLost();
  const { versionId, first, last, numerator, denominator, ...place } = found;
  const [lost, spent, sequences] = await Promise.all([

    rows<{ id: number }>(pool, "SELECT id FROM attempt WHERE sequence_id = ? AND frame = ? AND outcome = 'lost'", [lease.sequenceId, lease.frame]),
    row<{ seconds: number }>(pool, "SELECT COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, started_at, ended_at)) / 1e6, 0) + 0e0 AS seconds FROM attempt WHERE task_id = ? AND id <> ? AND outcome IN ('failed', 'lost', 'stopped')", [lease.taskId, lease.attemptId]),
    rows<{ id: number; pass: Pass }>(pool, "SELECT id, pass FROM sequence WHERE version_id = ? AND camera = ?", [versionId, found.camera]),
  ]);
  return {
    ...lease, ...place, lostAttempts: lost.map((a) => a.id), spentSeconds: spent!.seconds, sources: fromJson(found.sources),
    sequenceIds: new Map(sequences.filter((q) => lease.passes.includes(q.pass)).map((q) => [q.pass, q.id])),
    plan: fromStoredPlan(fromJson(found.plan), { first, last, rate: { numerator, denominator } }),
  };
}

/** Renews a lease and tells the progress (0 to 1). Throws LeaseLost when it is no longer ours. @returns what the holder is asked to do: the run's state, or to put the frame back */
export async function renew(pool: Pool, lease: Lease, progress: number, leaseSeconds = LEASE_SECONDS): Promise<RunState | "put-back"> {
  const { matched } = await write(pool, "UPDATE task SET lease_until = NOW(6) + INTERVAL ? SECOND, progress = ? WHERE id = ? AND token = ? AND state = 'leased'", [leaseSeconds, progress, lease.taskId, lease.token]);
  if (matched !== 1) throw new LeaseLost();
  const run = await row<{ state: RunState; isOver: number | null; putBack: number }>(pool, "SELECT r.state, r.stop_at <= NOW(3) AS isOver, t.put_back AS putBack FROM task t JOIN run r ON r.id = t.run_id WHERE t.id = ?", [lease.taskId]);
  // Every node may be busy and no server awake: then this one ends the run on time.
  if (run!.state === "active" && run!.isOver === 1) await settleRuns(pool);
  return run!.putBack === 1 ? "put-back" : run!.state;
}

/** Locks the lease's row and proves that it is still ours. The lock holds to the end of the transaction: only then may a file be renamed. */
export async function holdLease(tx: Tx, lease: Lease): Promise<void> {
  const held = await row(tx, "SELECT id FROM task WHERE id = ? AND token = ? AND state = 'leased' AND lease_until > NOW(6) FOR UPDATE", [lease.taskId, lease.token]);
  if (held === null) throw new LeaseLost();
}

export interface AttemptMeasures {
  readonly startupSeconds: number;
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
  const { matched } = await write(tx, "UPDATE task SET state = 'done', token = NULL, lease_until = NULL, progress = NULL WHERE id = ? AND token = ?", [lease.taskId, lease.token]);
  if (matched !== 1) throw new LeaseLost();
  await deletePreview(tx, lease.taskId);
  await write(tx, `UPDATE attempt SET outcome = 'done', ended_at = NOW(3), startup_seconds = ?, render_seconds = ?, denoise_seconds = ?, write_seconds = ?, samples = ?, samples_added = ?, stopped_by = ?, other_load = ? WHERE id = ?`,
    [m.startupSeconds, m.renderSeconds, m.denoiseSeconds, m.writeSeconds, m.samples, m.samplesAdded, m.stoppedBy, m.otherLoad, lease.attemptId]);
}

/** Closes an attempt as failed; the frame waits for another try, or is set aside at the limit. */
export async function fail(pool: Pool, lease: Lease, code: string, message: string): Promise<void> {
  await transact(async (tx) => {
    const task = await row<{ tries: number }>(tx, "SELECT tries FROM task WHERE id = ? AND token = ? AND state = 'leased' FOR UPDATE", [lease.taskId, lease.token]);
    if (task === null) throw new LeaseLost();
    const tries = task.tries + 1;
    await write(tx, "UPDATE task SET state = ?, tries = ?, not_before = NOW(6) + INTERVAL ? SECOND, token = NULL, node_id = NULL, attempt_id = NULL, lease_until = NULL, progress = NULL WHERE id = ?", [tries >= MAX_TRIES ? "failed" : "waiting", tries, RETRY_SECONDS * tries, lease.taskId]);
    await write(tx, "UPDATE attempt SET outcome = 'failed', ended_at = NOW(3), code = ?, message = ? WHERE id = ?", [code, message.slice(0, 500), lease.attemptId]);
    await appendEvent(tx, "task", lease.sequenceId, lease.runId);
  }, pool);
}

/** Asks the holder of a frame to save what it has and to give it back. False when nobody has it in work. */
export async function askToPutBack(db: Db, runId: number, leadId: number, frame: number): Promise<boolean> {
  return (await write(db, "UPDATE task SET put_back = 1 WHERE run_id = ? AND sequence_id = ? AND frame = ? AND state = 'leased'", [runId, leadId, frame])).matched === 1;
}

/** Gives a frame back: its node is asked to end, or the frame was put back and then comes last. */
export async function giveBack(pool: Pool, lease: Lease): Promise<void> {
  await transact(async (tx) => {
    const last = await row<{ position: number }>(tx, "SELECT MAX(position) AS position FROM task WHERE run_id = ?", [lease.runId]);
    const { matched } = await write(tx, "UPDATE task SET position = IF(put_back = 1, ?, position), put_back = 0, state = 'waiting', token = NULL, node_id = NULL, attempt_id = NULL, lease_until = NULL, progress = NULL WHERE id = ? AND token = ?", [(last?.position ?? 0) + 1, lease.taskId, lease.token]);
    if (matched !== 1) return;
    await write(tx, "UPDATE attempt SET outcome = 'stopped', ended_at = NOW(3) WHERE id = ?", [lease.attemptId]);
    await appendEvent(tx, "task", lease.sequenceId, lease.runId);
  }, pool);
}

/** Runs that were to finish by themselves at a time stop: what is in work is saved, or finished where nothing is ever saved. */
async function stopRunsOnTime(pool: Pool): Promise<void> {
  const due = await rows<{ id: number; sequenceId: number; rule: string | null }>(pool, `SELECT r.id, r.sequence_id AS sequenceId, JSON_VALUE(COALESCE(r.plan, e.plan), '$.checkpoints.kind') AS rule
    FROM run r JOIN plan_revision e ON e.id = r.revision_id WHERE r.state = 'active' AND r.stop_at <= NOW(3)`);
  for (const run of due) {
    await transact(async (tx) => {
      const { matched } = await write(tx, "UPDATE run SET state = ?, stop_at = NULL WHERE id = ? AND state = 'active' AND stop_at <= NOW(3)", [run.rule === "never" ? "stopping" : "halting", run.id]);
      if (matched === 1) await appendEvent(tx, "run", run.sequenceId, run.id);
    }, pool);
  }
}

/** Closes runs that have nothing left, or that stop and have nothing in work. Called by idle nodes and by the server. */
export async function settleRuns(pool: Pool): Promise<void> {
  await stopRunsOnTime(pool);
  const over = await rows<{ id: number; sequenceId: number; state: RunState }>(pool, `SELECT r.id, r.sequence_id AS sequenceId, r.state FROM run r
    WHERE (r.state = 'active' AND NOT EXISTS (SELECT 1 FROM task t WHERE t.run_id = r.id AND t.state IN ('waiting', 'leased')))
       OR (r.state IN ('stopping', 'halting') AND NOT EXISTS (SELECT 1 FROM task t WHERE t.run_id = r.id AND t.state = 'leased' AND t.lease_until > NOW(6)))`);
  for (const run of over) {
    await transact(async (tx) => {
      // Under the run's lock: a Resume in between keeps it alive.
      const now = await row<{ state: RunState }>(tx, "SELECT state FROM run WHERE id = ? FOR UPDATE", [run.id]);
      if (now?.state !== run.state) return;
      const left = await row<{ n: number }>(tx, "SELECT COUNT(*) AS n FROM task WHERE run_id = ? AND state IN ('waiting', 'leased')", [run.id]);
      if (run.state === "active" && left!.n > 0) return;
      await write(tx, "UPDATE run SET state = ?, ended_at = NOW(3) WHERE id = ?", [left!.n > 0 ? "stopped" : "done", run.id]);
      await write(tx, "UPDATE attempt a JOIN task t ON t.attempt_id = a.id SET a.outcome = 'lost', a.ended_at = NOW(3) WHERE t.run_id = ? AND t.state = 'leased' AND a.outcome = 'running'", [run.id]);
      await write(tx, "UPDATE task SET state = 'waiting', token = NULL, node_id = NULL, attempt_id = NULL, lease_until = NULL, progress = NULL WHERE run_id = ? AND state = 'leased'", [run.id]);
      await appendEvent(tx, "run", run.sequenceId, run.id);
    }, pool);
  }
}
