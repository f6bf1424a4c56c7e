/**
 * Lease and complete with eight clients, against as many bare round trips of the same statements on
 * rows that nobody competes for; and the time to lease with many waiting tasks against few.
 */
import path from "node:path";
import { makePool, type Pool, transact } from "@/server/db/pool";
import { migrate } from "@/server/db/migrate";
import { row, rows, write } from "@/server/db/rows";
import { claim, claimOfRun, finish, holdLease } from "@/server/queue/lease";
import { appendEvent } from "@/server/store/events";
import { insertTasks } from "@/server/store/runs";
import { saveNode } from "@/server/store/nodes";
import { type Measured, median, rounded } from "./measured";

const CLIENTS = 8;
const TASKS = 2_400;
const MANY = 200_000;
const FEW = 1_000;
const LEASES = 300;
const NOTHING = { startupSeconds: 0, renderSeconds: 0, denoiseSeconds: 0, writeSeconds: 0, samplesAdded: 1, samples: 1, stoppedBy: null, otherLoad: null };
const PASSES = ["beauty"] as const;

async function newRun(pool: Pool, tasks: number): Promise<number> {
  const code = `B${Math.random().toString(36).slice(2, 8)}`;
  const project = await row<{ id: number }>(pool, "SELECT id FROM project LIMIT 1") ?? { id: (await write(pool, "INSERT INTO project (slug, title, rate_numerator, rate_denominator, root, folder) VALUES ('bench', 'bench', 24, 1, 'frames', 'bench')")).id };
  const shot = await write(pool, "INSERT INTO shot (project_id, code, title, first_frame, last_frame, markers) VALUES (?, ?, 'bench', 1, 1, '[]')", [project.id, code]);
  const version = await write(pool, "INSERT INTO version (shot_id, number) VALUES (?, 1)", [shot.id]);
  const revision = await write(pool, "INSERT INTO plan_revision (version_id, number, plan) VALUES (?, 1, '{}')", [version.id]);
  const sequence = await write(pool, "INSERT INTO sequence (version_id, camera, pass) VALUES (?, 'main', 'beauty')", [version.id]);
  const run = await write(pool, "INSERT INTO run (sequence_id, revision_id, policy, wanted, scene_folder, sources) VALUES (?, ?, 'fill', 'all', '', '{}')", [sequence.id, revision.id]);
  await insertTasks(pool, run.id, Array.from({ length: tasks }, (_, i) => ({ leadId: sequence.id, frame: i + 1, passes: PASSES })), "sequence");
  return run.id;
}

const endRun = (pool: Pool, runId: number): Promise<unknown> => write(pool, "UPDATE run SET state = 'stopped' WHERE id = ?", [runId]);

/** Tasks a second of `work`, done by all clients until each says that there is none left. */
async function rate(work: (client: number) => Promise<boolean>): Promise<number> {
  const began = performance.now();
  let done = 0;
  await Promise.all(Array.from({ length: CLIENTS }, async (_, client) => {
    while (await work(client)) done++;
  }));
  return (done * 1000) / (performance.now() - began);
}

async function leaseRate(pool: Pool, node: { id: number; name: string }): Promise<number> {
  const run = await newRun(pool, TASKS);
  const measured = await rate(async () => {
    const lease = await claim(pool, node);
    if (lease === null) return false;
    await transact(async (tx) => {
      await holdLease(tx, lease);
      await finish(tx, lease, NOTHING);
    }, pool);
    return true;
  });
  await endRun(pool, run);
  return measured;
}

/** The statements of a lease and its completion, one after the other, each client on tasks of its own that it knows by their id. */
async function bareRate(pool: Pool, node: { id: number }): Promise<number> {
  const runId = await newRun(pool, TASKS);
  const tasks = await rows<{ id: number; sequenceId: number; frame: number }>(pool, "SELECT id, sequence_id AS sequenceId, frame FROM task WHERE run_id = ? ORDER BY id", [runId]);
  const next = Array.from({ length: CLIENTS }, (_, client) => client);
  const measured = await rate(async (client) => {
    const task = tasks[next[client]!];
    if (task === undefined) return false;
    next[client]! += CLIENTS;
    const attempt = await transact(async (tx) => {
      await row(tx, "SELECT state FROM run WHERE id = ?", [runId]);
      await row(tx, "SELECT id, run_id, sequence_id, frame, attempt_id FROM task WHERE id = ? FOR UPDATE SKIP LOCKED", [task.id]);
      const { id } = await write(tx, "INSERT INTO attempt (task_id, run_id, sequence_id, frame, node_id) VALUES (?, ?, ?, ?, ?)", [task.id, runId, task.sequenceId, task.frame, node.id]);
      await write(tx, "UPDATE task SET state = 'leased', token = UUID(), node_id = ?, attempt_id = ?, lease_until = NOW(6) + INTERVAL 25 SECOND, progress = NULL WHERE id = ?", [node.id, id, task.id]);
      await appendEvent(tx, "task", task.sequenceId, runId);
      return id;
    }, pool);
    await transact(async (tx) => {
      await row(tx, "SELECT id FROM task WHERE id = ? FOR UPDATE", [task.id]);
      await write(tx, "UPDATE task SET state = 'done', token = NULL, lease_until = NULL, progress = NULL WHERE id = ?", [task.id]);
      await write(tx, "UPDATE attempt SET outcome = 'done', ended_at = NOW(3), startup_seconds = 0, render_seconds = 0, write_seconds = 0, samples = 1 WHERE id = ?", [attempt]);
    }, pool);
    return true;
  });
  await endRun(pool, runId);
  return measured;
}

/** Median milliseconds to lease one task with many and with few waiting, turn and turn about, so that what the database still writes to disk hits both. */
async function leaseTimes(pool: Pool, node: { id: number }): Promise<{ readonly many: number; readonly few: number }> {
  const runs = { many: await newRun(pool, MANY), few: await newRun(pool, FEW) };
  const times = { many: [] as number[], few: [] as number[] };
  for (let i = 0; i < LEASES; i++) {
    for (const which of ["many", "few"] as const) {
      const began = performance.now();
      if ((await claimOfRun(pool, runs[which], node.id)) === null) throw new Error("There was nothing to lease.");
      times[which].push(performance.now() - began);
    }
  }
  await endRun(pool, runs.many);
  await endRun(pool, runs.few);
  return { many: median(times.many), few: median(times.few) };
}

export async function queue(home: string, databaseUrl: string): Promise<Measured> {
  const pool = makePool(databaseUrl, CLIENTS);
  try {
    await migrate(pool, path.join(home, "db/migrations"));
    const node = { id: await saveNode(pool, { name: "bench", host: "here", pid: 1, session: "bench" }), name: "bench" };
    await leaseRate(pool, node);
    // Turn and turn about, so that a busy moment of the machine hits both.
    const ours: number[] = [];
    const bare: number[] = [];
    for (let round = 0; round < 5; round++) {
      ours.push(await leaseRate(pool, node));
      bare.push(await bareRate(pool, node));
    }
    const [value, yardstick] = [median(ours), median(bare)];
    const ratio = median(ours.map((rate, round) => rate / bare[round]!));
    const { many, few } = await leaseTimes(pool, node);
    const growth = many / few;
    return {
      name: "queue", value: rounded(value), unit: "tasks/s", yardstick: rounded(yardstick), ratio: rounded(ratio),
      goal: `at least 0.8 of the same statements bare; a lease with 200,000 waiting takes at most 1.5 times one with 1,000 (measured ${growth.toFixed(2)}: ${many.toFixed(2)} ms and ${few.toFixed(2)} ms)`,
      holds: ratio >= 0.8 && growth <= 1.5,
    };
  } finally {
    await pool.end();
  }
}
