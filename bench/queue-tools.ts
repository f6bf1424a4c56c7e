/**
 * What the benchmarks of the queue do: lease and complete as fast as they can, the same statements bare,
 * leases with many waiting.
 */
import { median } from "@/core/many";
import path from "node:path";
import { makePool, type Pool, transact } from "@/server/db/pool";
import { migrate } from "@/server/db/migrate";
import { row, rows, write } from "@/server/db/rows";
import { finish, holdLease, LEASE_SECONDS } from "@/server/queue/lease";
import { NodeQueue } from "@/server/queue/node-queue";
import { appendEvent } from "@/server/store/events";
import { saveNode } from "@/server/store/nodes";

import { insertTasks } from "@/server/store/tasks";
import { claimOfRun } from "@/server/queue/claim";

export const CLIENTS = 8;
const FEW = 1_000;
const LEASES = 300;
export const NOTHING = {
  startupSeconds: 0,
  light: { made: 0, seconds: 0 },
  renderSeconds: 0,
  denoiseSeconds: 0,
  writeSeconds: 0,
  samplesAdded: 1,
  samples: 1,
  stoppedBy: null,
  otherLoad: null,
  cpuShare: null,
};
const PASSES = ["beauty"] as const;

export async function newRun(pool: Pool, tasks: number): Promise<number> {
  const code = `B${Math.random().toString(36).slice(2, 8)}`;
  const project = (await row<{ id: number }>(pool, "SELECT id FROM project LIMIT 1")) ?? {
    id: (
      await write(
        pool,
        `INSERT INTO project (slug, title, rate_numerator, rate_denominator, root, folder)
          VALUES ('bench', 'bench', 24, 1, 'frames', 'bench')`,
      )
    ).id,
  };
  const shot = await write(
    pool,
    `INSERT INTO shot (project_id, code, title, first_frame, last_frame, markers)
      VALUES (?, ?, 'bench', 1, 1, '[]')`,
    [project.id, code],
  );
  const version = await write(pool, "INSERT INTO version (shot_id, number) VALUES (?, 1)", [shot.id]);
  const revision = await write(
    pool,
    "INSERT INTO plan_revision (version_id, number, plan) VALUES (?, 1, '{}')",
    [version.id],
  );
  const sequence = await write(
    pool,
    "INSERT INTO sequence (version_id, camera, pass) VALUES (?, 'main', 'beauty')",
    [version.id],
  );
  const run = await write(pool, "INSERT INTO run (sequence_id, policy, wanted) VALUES (?, 'fill', 'all')", [
    sequence.id,
  ]);
  await write(
    pool,
    `INSERT INTO run_version (run_id, version_id, revision_id, scene_folder, sources)
      VALUES (?, ?, ?, '', '{}')`,
    [run.id, version.id, revision.id],
  );
  await insertTasks(
    pool,
    run.id,
    Array.from({ length: tasks }, (_, i) => ({
      kind: "frame" as const,
      leadId: sequence.id,
      frame: i + 1,
      passes: PASSES,
    })),
    "sequence",
  );
  return run.id;
}

export const endRun = (pool: Pool, runId: number): Promise<unknown> =>
  write(pool, "UPDATE run SET state = 'stopped' WHERE id = ?", [runId]);

/**
 * Does `work` with all clients until each says that there is none left, or so many are done. @returns seconds
 */
async function secondsOf(
  work: (client: number) => Promise<boolean>,
  most = Number.POSITIVE_INFINITY,
): Promise<number> {
  const began = performance.now();
  let begun = 0;
  await Promise.all(
    Array.from({ length: CLIENTS }, async (_, client) => {
      while (begun++ < most && (await work(client)));
    }),
  );
  return (performance.now() - began) / 1000;
}

interface Player {
  readonly id: number;
  readonly name: string;
}

/** The queue of a node whose frames take next to no time. */
const queueOf = (pool: Pool, node: Player): NodeQueue =>
  new NodeQueue(pool, node, {
    leaseSeconds: LEASE_SECONDS,
    isReady: () => Promise.resolve(true),
    paceOf: () => ({ startupSeconds: 0, frameSeconds: 0 }),
    takesSeveral: () => Promise.resolve(false),
  });

/** One frame of next to no work: leased, and closed as done. False when there is none. */
async function leaseOne(pool: Pool, queue: NodeQueue): Promise<boolean> {
  const lease = await queue.claim();
  if (lease === null) return false;
  await transact(async (tx) => {
    await holdLease(tx, lease);
    await finish(tx, lease, NOTHING);
  }, pool);
  return true;
}

/** Seconds for each slice of a run's frames, by nodes and bare. */
export interface Slice {
  readonly ours: number;
  readonly bare: number;
}

/**
 * Leases and completes the frames of a run, against the same statements one after the other on rows
 * that nobody competes for (each client has tasks of its own and knows them by their id). In slices,
 * turn and turn about, so that a busy moment of the machine hits both.
 * @param pools one for all clients, or one for each: what a process remembers of the queue hangs on its pool
 */
export async function againstBare(
  pool: Pool,
  pools: readonly Pool[],
  node: Player,
  frames: number,
  slices: number,
): Promise<Slice[]> {
  const each = frames / slices;
  const run = await newRun(pool, frames);
  const bareRun = await newRun(pool, frames);
  // Leased by their id only: no node may see it.
  await endRun(pool, bareRun);
  const tasks = await rows<BareTask>(
    pool,
    "SELECT id, sequence_id AS sequenceId, frame FROM task WHERE run_id = ? ORDER BY id",
    [bareRun],
  );
  const measured: Slice[] = [];
  const queues = Array.from({ length: CLIENTS }, (_, client) => queueOf(pools[client % pools.length]!, node));
  for (let slice = 0; slice < slices; slice++) {
    const ours = await secondsOf((client) => leaseOne(pools[client % pools.length]!, queues[client]!), each);
    const next = Array.from({ length: CLIENTS }, (_, client) => slice * each + client);
    const bare = await secondsOf(async (client) => {
      const task = tasks[next[client]!];
      if (task === undefined || next[client]! >= (slice + 1) * each) return false;
      next[client]! += CLIENTS;
      await bareOne(pool, node, bareRun, task);
      return true;
    });
    measured.push({ ours, bare });
  }
  await endRun(pool, run);
  return measured;
}

interface BareTask {
  readonly id: number;
  readonly sequenceId: number;
  readonly frame: number;
}

async function bareOne(pool: Pool, node: Player, runId: number, task: BareTask): Promise<void> {
  const attempt = await transact(async (tx) => {
    await row(tx, "SELECT state FROM run WHERE id = ?", [runId]);
    await row(
      tx,
      `SELECT id, run_id, sequence_id, frame, attempt_id
        FROM task
        WHERE id = ?
        FOR UPDATE SKIP LOCKED`,
      [task.id],
    );
    const { id } = await write(
      tx,
      `INSERT INTO attempt (task_id, run_id, sequence_id, frame, node_id)
        VALUES (?, ?, ?, ?, ?)`,
      [task.id, runId, task.sequenceId, task.frame, node.id],
    );
    await write(
      tx,
      `UPDATE task
        SET state = 'leased', token = UUID(), node_id = ?, attempt_id = ?,
          lease_until = NOW(6) + INTERVAL 25 SECOND, progress = NULL
        WHERE id = ?`,
      [node.id, id, task.id],
    );
    await appendEvent(tx, "task", task.sequenceId, runId);
    return id;
  }, pool);
  await transact(async (tx) => {
    await row(tx, "SELECT id FROM task WHERE id = ? FOR UPDATE", [task.id]);
    await write(
      tx,
      `UPDATE task
        SET state = 'done', token = NULL, lease_until = NULL, progress = NULL
        WHERE id = ?`,
      [task.id],
    );
    await write(
      tx,
      `UPDATE attempt
        SET outcome = 'done', ended_at = NOW(3), startup_seconds = 0, render_seconds = 0,
          write_seconds = 0, samples = 1
        WHERE id = ?`,
      [attempt],
    );
  }, pool);
}

/**
 * Median milliseconds to lease one task with many and with few waiting, turn and turn about, so that what the
 * database still writes to disk hits both.
 */
export async function leaseTimes(
  pool: Pool,
  node: Player,
  waiting: number,
): Promise<{ readonly many: number; readonly few: number }> {
  const runs = { many: await newRun(pool, waiting), few: await newRun(pool, FEW) };
  const times = { many: [] as number[], few: [] as number[] };
  for (let i = 0; i < LEASES; i++) {
    for (const which of ["many", "few"] as const) {
      const began = performance.now();
      if ((await claimOfRun(pool, runs[which], node.id)) === null)
        throw new Error("There was nothing to lease.");
      times[which].push(performance.now() - began);
    }
  }
  await endRun(pool, runs.many);
  await endRun(pool, runs.few);
  return { many: median(times.many), few: median(times.few) };
}

/** Opens the benchmark's schema with one node. */
export async function withQueue<T>(
  home: string,
  databaseUrl: string,
  work: (pool: Pool, node: Player) => Promise<T>,
): Promise<T> {
  const pool = makePool(databaseUrl, CLIENTS);
  try {
    await migrate(pool, path.join(home, "db"));
    return await work(pool, {
      id: await saveNode(pool, { name: "bench", host: "here", processors: null, pid: 1, session: "bench" }),
      name: "bench",
    });
  } finally {
    await pool.end();
  }
}
