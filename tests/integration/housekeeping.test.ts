/** A year of a studio of 40 nodes: after housekeeping its rows are bounded, and no figure is another one. */
import fs from "node:fs/promises";
import path from "node:path";
import { keepHouse, keepHouseInTurn } from "@/server/housekeeping/keep-house";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { closePool, pool } from "@/server/db/pool";
import { row, rows } from "@/server/db/rows";
import { catchUp } from "@/server/folder/check";
import { attemptsOfFrame } from "@/server/store/attempts";
import { runById } from "@/server/store/runs";
import { requireSequence } from "@/server/store/shots";
import { runCounts } from "@/server/store/tasks";
import { summarizeRun } from "@/server/views/run-summary";
import { viewSequence } from "@/server/views/sequence";
import { viewShots } from "@/server/views/shots";
import { openStage, type Stage, until } from "../support/stage";

const KEPT = { logDays: 30, attemptDays: 90, asideDays: 30 };
const DAYS = 365;
const NODES = 40;
/** Attempts of a node a day: each frame of the shot is made again and again. */
const A_DAY = 6;
const FRAMES = 20;

/** Rows of the tables that grow. */
async function rowCounts(): Promise<Readonly<Record<string, number>>> {
  const tables = ["event", "attempt", "attempt_line", "task", "finding", "node_request", "node_aside"];
  const counts: Record<string, number> = {};
  for (const table of tables)
    counts[table] = (await row<{ n: number }>(pool(), `SELECT COUNT(*) AS n FROM ${table}`))!.n;
  return counts;
}

let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;
beforeAll(async () => {
  stage = await openStage();
  shot = await stage.addShot("HK1", { frames: `1-${FRAMES}`, width: 32, height: 18, samples: 1 });
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

/** Writes a year by the database's own sequences: one run a day, one task and attempt a frame that was made. */
async function writeYear(): Promise<void> {
  const run = (sql: string, params: readonly (string | number)[] = []) => pool().query(sql, [...params]);
  await run(`INSERT INTO node (name, host, pid, session, started_at, seen_at, stopped_at)
    SELECT CONCAT('studio-', seq), 'studio', 1, 's', NOW(3), NOW(3), NOW(3) FROM seq_1_to_${NODES}`);
  const [first] = await rows<{ id: number }>(pool(), "SELECT MIN(id) AS id FROM node WHERE host = 'studio'");
  // A day's run is its number before today; it is put in by that number, so that ids ascend with time.
  await run(
    `INSERT INTO run (sequence_id, state, policy, wanted, created_at, ended_at)
      SELECT ?, 'done', 'all', '1-20', NOW(3) - INTERVAL (${DAYS} - seq) DAY, NOW(3) - INTERVAL (${DAYS} - seq) DAY
      FROM seq_1_to_${DAYS - 1}`,
    [shot.sequenceId],
  );
  await run(
    `INSERT INTO run_version (run_id, version_id, revision_id, scene_folder, sources)
      SELECT r.id, ?, (SELECT MIN(id) FROM plan_revision WHERE version_id = ?), '.tally/scene/x', '{}'
      FROM run r
      WHERE NOT EXISTS (SELECT 1 FROM run_version v WHERE v.run_id = r.id)`,
    [shot.versionId, shot.versionId],
  );
  await run(
    `INSERT INTO task (run_id, sequence_id, frame, position, state)
      SELECT r.id, ?, s.seq, s.seq, 'done'
      FROM run r
      JOIN seq_1_to_${NODES * A_DAY} s
      ORDER BY r.id, s.seq`,
    [shot.sequenceId],
  );
  await run("UPDATE task SET frame = 1 + position % ?", [FRAMES]);
  await run(
    `INSERT INTO attempt (task_id, run_id, sequence_id, frame, node_id, outcome, code, started_at, ended_at)
      SELECT t.id, t.run_id, t.sequence_id, t.frame, ? + t.position % ${NODES},
          IF(t.position % 7 = 0, 'failed', 'done'), IF(t.position % 7 = 0, 'engine-died', NULL),
          r.ended_at - INTERVAL 1 MINUTE, r.ended_at
      FROM task t
      JOIN run r ON r.id = t.run_id
      ORDER BY t.id`,
    [first!.id],
  );
  await run(
    `INSERT INTO attempt_line (attempt_id, at, level, text)
      SELECT id, ended_at, 'info', 'written' FROM attempt`,
  );
  await run(
    `INSERT INTO event (kind, sequence_id, at)
      SELECT 'task', ?, NOW(3) - INTERVAL seq MINUTE FROM seq_1_to_20000`,
    [shot.sequenceId],
  );
  await run(
    `INSERT INTO finding (sequence_id, frame, source, code, text, state, created_at, closed_at)
      SELECT ?, 1 + seq % ${FRAMES}, 'check', 'cut-short', 'x', 'fixed',
          NOW(3) - INTERVAL seq DAY, NOW(3) - INTERVAL seq DAY
      FROM seq_1_to_${DAYS}`,
    [shot.sequenceId],
  );
}

/** What pages show of the shot; figures that the clock moves are left out. */
async function figures(): Promise<unknown> {
  const { runs, ...sequence } = await viewSequence(shot.sequenceId);
  const { shots } = await viewShots("test-film");
  const last: unknown[] = [];
  for (let frame = 1; frame <= FRAMES; frame++)
    last.push((await attemptsOfFrame(pool(), shot.sequenceId, frame))[0]);
  return {
    sequence: { ...sequence, closedFindings: null },
    runs: runs.map(({ id, state, total, done, failed, left }) => ({ id, state, total, done, failed, left })),
    lines: shots.map(({ tally, poster }) => ({ tally, poster })),
    last,
  };
}

test("rows are bounded, every tally and the last attempt of each frame are as before, and counts of runs stay", async () => {
  await writeYear();
  await stage.startNode("quay-1");
  const { runId } = await startRun({
    ...{ sequenceId: shot.sequenceId, phrase: "1-5", policy: "all", nodes: null, scope: "version" },
  });
  await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
  await flagFrames(shot.sequenceId, "2", "too dark");
  const before = await figures();
  const many = await rowCounts();
  expect(many.attempt).toBeGreaterThan(80_000);
  const [old] = await rows<{ id: number }>(pool(), "SELECT MIN(id) AS id FROM run");
  const counts = await runCounts(pool(), old!.id);
  expect(counts.done).toBe(NODES * A_DAY);

  await until("nothing is left to remove", async () => (await keepHouse(pool(), KEPT)) === 0);

  expect(await figures()).toEqual(before);
  expect(await runCounts(pool(), old!.id)).toEqual(counts);
  expect(await summarizeRun(old!.id)).toMatchObject({
    ...{ made: NODES * A_DAY, isTidied: true, seconds: null, nodes: [] },
  });
  const few = await rowCounts();
  const inDays = (days: number): number => (days + 1) * NODES * A_DAY + 5;
  expect(few.attempt).toBeLessThanOrEqual(inDays(KEPT.attemptDays) + 2 * FRAMES);
  expect(few.attempt_line).toBeLessThanOrEqual(inDays(KEPT.logDays) + 100);
  expect(few.task).toBeLessThanOrEqual(inDays(KEPT.attemptDays) + 2 * FRAMES);
  expect(few.event).toBeLessThanOrEqual(24 * 60 + 100);
  expect(few.finding).toBeLessThanOrEqual(KEPT.attemptDays + 2);
});

test("replaced files go when their successor is whole and they are old; of a damaged one they stay", async () => {
  const asides = path.join(shot.folder, "../../.tally/aside/main/beauty");
  const { runId } = await startRun({
    ...{ sequenceId: shot.sequenceId, phrase: "1-2", policy: "all", nodes: null, scope: "version" },
  });
  await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
  expect(await fs.readdir(asides)).toHaveLength(2);
  await keepHouse(pool(), KEPT);
  expect(await fs.readdir(asides)).toHaveLength(2);
  await fs.truncate(path.join(shot.folder, "HK1.0002.png"), 20);
  await catchUp(await requireSequence(shot.sequenceId));
  // As if 30 days had passed: the time that the system has of a name cannot be set back.
  await keepHouse(pool(), { ...KEPT, asideDays: 0 });
  expect(await fs.readdir(asides)).toEqual([expect.stringMatching(/^HK1\.0002\./)]);
});

test("what programs left beside the frames goes with the logs", async () => {
  const kept = path.join(shot.folder, "../../.tally/kept/main");
  await fs.mkdir(path.join(kept, "000001"), { recursive: true });
  await fs.writeFile(path.join(kept, "000001/caches.stats"), "x");
  await keepHouse(pool(), KEPT);
  expect(await fs.readdir(kept)).toEqual(["000001"]);
  await keepHouse(pool(), { ...KEPT, logDays: 0 });
  expect(await fs.readdir(kept)).toEqual([]);
});

test("of several processes one keeps house, and not again before an hour has passed", async () => {
  await pool().query("DELETE FROM event");
  const addOld = () => pool().query("INSERT INTO event (kind, at) VALUES ('node', NOW(3) - INTERVAL 3 DAY)");
  await addOld();
  await Promise.all([1, 2, 3].map(() => keepHouseInTurn(pool())));
  expect((await rowCounts()).event).toBe(0);
  await addOld();
  await keepHouseInTurn(pool());
  expect((await rowCounts()).event).toBe(1);
  await pool().query("UPDATE setting SET value = NOW() - INTERVAL 2 HOUR WHERE name = 'housekeeping'");
  await keepHouseInTurn(pool());
  expect((await rowCounts()).event).toBe(0);
});
