/** The database killed, stopped, or held back in the middle of a run: no frame is lost, and none is made twice. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { countsOf } from "@/core/tally/tally";
import { closePool, makePool, pool, transact } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { startMariadb } from "../../scripts/lib/mariadb.mjs";
import { openStage, type Stage, until } from "../support/stage";
import { listRendering } from "@/server/store/tasks";

let folder: string;
let database: Awaited<ReturnType<typeof startMariadb>>;
let stage: Stage;

beforeEach(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-db-"));
  database = await startMariadb(folder, { anySchema: true });
  stage = await openStage(database.url);
});
afterEach(async () => {
  await stage.strike();
  await closePool();
  await database.stop();
  await fs.rm(folder, { recursive: true, force: true });
});

const start = async (sequenceId: number): Promise<number> =>
  (await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" })).runId;
const isDone = (runId: number) => async () =>
  (await runById(pool(), runId).catch(() => null))?.state === "done";
const inWork = (n: number) => async () => (await listRendering(pool())).length >= n;
/** Its renderer has begun: what was leased a moment ago holds no samples that could be saved. */
const isUnderWay = async (): Promise<boolean> =>
  (await listRendering(pool())).some(({ progress }) => progress !== null && progress > 0);
const good = async (sequenceId: number): Promise<number> =>
  countsOf((await loadSequence(sequenceId)).tally).results.good;

interface Tried {
  readonly frame: number;
  readonly outcome: string;
  readonly added: number | null;
}
const attempts = (runId: number): Promise<Tried[]> =>
  rows<Tried>(
    pool(),
    "SELECT frame, outcome, samples_added AS added FROM attempt WHERE run_id = ? ORDER BY id",
    [runId],
  );

async function kill(): Promise<void> {
  process.kill(database.pid, "SIGKILL");
  await until("the database is gone", async () =>
    pool()
      .query("SELECT 1")
      .then(
        () => false,
        () => true,
      ),
  );
}
const bringBack = async (): Promise<void> => {
  database = await startMariadb(folder, { port: database.port, anySchema: true });
};

test("a run goes on by itself when its database was killed and comes back; no frame is lost", async () => {
  const shot = await stage.addShot("B1", { frames: "1-6", width: 160, height: 90, samples: 24 });
  await stage.startNode("quay-1");
  const runId = await start(shot.sequenceId);
  await until("a frame is in work", inWork(1));
  await kill();
  await expect(loadSequence(shot.sequenceId)).rejects.toMatchObject({ name: "DatabaseAway" });
  await bringBack();
  await until("the run is done", isDone(runId));
  expect(await good(shot.sequenceId)).toBe(6);
  expect(await fs.readdir(shot.folder)).toHaveLength(6);
});

test("a frame that is ready outlives a database that is away for longer than its lease", async () => {
  const LEASE_SECONDS = 12;
  const shot = await stage.addShot("B2", { frames: "1", width: 160, height: 90, samples: 60 });
  // Slow: between its file under its temporary name and its place some seconds pass.
  await stage.startNode("quay-1", "--lease", String(LEASE_SECONDS), "--slow", "8");
  const runId = await start(shot.sequenceId);
  await until("its file is written under its temporary name", async () =>
    (await fs.readdir(shot.folder).catch(() => [])).some((name) => name.includes(".part")),
  );
  await kill();
  const killed = performance.now();
  await until("its lease has run out", async () => performance.now() - killed > (LEASE_SECONDS + 2) * 1000);
  await bringBack();
  await until("the run is done", isDone(runId));
  expect(await good(shot.sequenceId)).toBe(1);
  expect((await attempts(runId)).map((a) => a.outcome)).toEqual(["done"]);
});

test("a frame in work that hears nothing for as long as its lease saves its samples, and goes on from them", async () => {
  const SILENCE_SECONDS = 6;
  const shot = await stage.addShot("B3", { frames: "1", width: 320, height: 180, samples: 150 });
  await stage.startNode("quay-1", "--silence", String(SILENCE_SECONDS));
  const runId = await start(shot.sequenceId);
  await until("the frame is under way", isUnderWay);
  await kill();
  const saved = path.join(shot.folder, "../../.tally/checkpoints/main");
  await until("its samples are saved", async () => (await fs.readdir(saved).catch(() => [])).length > 0);
  // Whoever waits for the database is not taken for a renderer that hangs.
  const savedAt = performance.now();
  await until(
    "a renderer would count as hung",
    async () => performance.now() - savedAt > (SILENCE_SECONDS + 2) * 1000,
  );
  await bringBack();
  await until("the run is done", isDone(runId));
  const tried = await attempts(runId);
  expect(tried.map((a) => a.outcome)).toEqual(["stopped", "done"]);
  expect(tried[1]!.added).toBeLessThan(150);
});

test("rows of leased tasks that another connection holds fail no frame, and none is made twice", async () => {
  const shot = await stage.addShot("B4", { frames: "1-2", width: 320, height: 180, samples: 80 });
  for (const name of ["quay-1", "quay-2"]) await stage.startNode(name, "--lease", "25");
  const runId = await start(shot.sequenceId);
  await until("two frames are in work", inWork(2));
  const other = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 1);
  await transact(async (tx) => {
    await rows(tx, "SELECT id FROM task WHERE run_id = ? AND state = 'leased' FOR UPDATE", [runId]);
    // By the database's clock: fifteen seconds, three times as long as a statement waits for a lock.
    for (let i = 0; i < 5; i++) await rows(tx, "SELECT SLEEP(3)");
  }, other);
  await other.end();
  await until("the run is done", isDone(runId));
  expect(await good(shot.sequenceId)).toBe(2);
  expect((await attempts(runId)).map((a) => a.outcome)).toEqual(["done", "done"]);
});

test("a database that hangs is told by pages and requests, and all goes on when it answers again", async () => {
  const shot = await stage.addShot("B5", { frames: "1-2" });
  const { address } = await stage.startServer();
  const ask = (place: string) => fetch(`${address}${place}`);
  expect((await ask("/api/projects")).status).toBe(200);
  process.kill(database.pid, "SIGSTOP");
  try {
    const told = await ask(`/api/sequences/${shot.sequenceId}`);
    expect([told.status, ((await told.json()) as { error: { code: string } }).error.code]).toEqual([
      503,
      "database-away",
    ]);
    // The page itself comes, and says so.
    expect((await ask("/p/test-film/shots/B5")).status).toBe(200);
  } finally {
    process.kill(database.pid, "SIGCONT");
  }
  await until("it answers again", async () => (await ask("/api/projects")).ok);
});
