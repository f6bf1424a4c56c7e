/**
 * Two nodes in network namespaces of their own: all they share is the database, over a network of two cables,
 * and a folder.
 */
import { type ChildProcess, spawn } from "node:child_process";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { runById } from "@/server/store/runs";
import { listNodes } from "@/server/store/nodes";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { startMariadb } from "../../scripts/lib/mariadb.mjs";
import { HOME, openStage, type Stage, TEST_LEASE_SECONDS, until } from "../support/stage";
import { addPlace, cableOf, canMakePlaces, ip, named, removePlace } from "../support/places";
import { attemptsOfFrame } from "@/server/store/attempts";
import { listRendering } from "@/server/store/tasks";

const testInPlaces = canMakePlaces() ? test : test.skip;

let folder: string;
let database: Awaited<ReturnType<typeof startMariadb>>;
let stage: Stage;
let nodes: ChildProcess[];

beforeEach(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-net-"));
  database = await startMariadb(folder, { host: "0.0.0.0", anySchema: true });
  stage = await openStage(database.url);
  nodes = [];
});
afterEach(async () => {
  for (const node of nodes) {
    const over = new Promise((resolve) => node.once("exit", resolve));
    node.kill("SIGTERM");
    await over;
  }
  removePlace(named(1));
  removePlace(named(2));
  await stage.strike();
  await closePool();
  await database.stop();
  await fs.rm(folder, { recursive: true, force: true });
});

/** A node in a place of its own; settled when it has shown itself. */
async function addNode(index: number): Promise<void> {
  const place = addPlace(index);
  const url = new URL(stage.env.PLAIN_TALLY_DATABASE_URL!);
  url.hostname = place.host;
  nodes.push(
    spawn(
      "ip",
      [
        ...["netns", "exec", place.name, process.execPath, path.join(HOME, "bin/plain-tally.mjs"), "node"],
        ...["--name", `far-${index}`, "--lease", String(TEST_LEASE_SECONDS)],
      ],
      {
        env: { ...process.env, ...stage.env, PLAIN_TALLY_DATABASE_URL: url.href, NODE_ENV: "production" },
        stdio: "ignore",
      },
    ),
  );
  await until(`far-${index} is there`, async () =>
    (await listNodes(pool())).some((n) => n.name === `far-${index}`),
  );
}

const start = async (sequenceId: number): Promise<number> =>
  (await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" })).runId;
const isDone = (runId: number) => async () => (await runById(pool(), runId))?.state === "done";
const good = async (sequenceId: number): Promise<number> =>
  countsOf((await loadSequence(sequenceId)).tally).results.good;

testInPlaces(
  "two nodes with only the database and a shared folder between them finish a run together",
  async () => {
    const shot = await stage.addShot("NS1", { frames: "1-12", width: 160, height: 90, samples: 30 });
    await addNode(1);
    await addNode(2);
    const runId = await start(shot.sequenceId);
    await until("the run is done", isDone(runId));
    expect(await good(shot.sequenceId)).toBe(12);
    const makers = new Set<string>();
    for (let frame = 1; frame <= 12; frame++)
      for (const attempt of await attemptsOfFrame(pool(), shot.sequenceId, frame))
        makers.add(`${attempt.node} ${attempt.outcome}`);
    expect([...makers].sort()).toEqual(["far-1 done", "far-2 done"]);
  },
);

testInPlaces(
  "a node whose link swallows everything notices the end of its lease by its own clock, and goes on when the link is back",
  async () => {
    const shot = await stage.addShot("NS2", { frames: "1", width: 320, height: 180, samples: 150 });
    await addNode(1);
    const runId = await start(shot.sequenceId);
    await until("the frame is in work", async () => (await listRendering(pool())).length === 1);
    // Nothing is refused and nothing is answered: what is sent is gone.
    ip("link", "set", cableOf(1), "down");
    const saved = path.join(shot.folder, "../../.tally/checkpoints/main");
    await until("its samples are saved", async () => (await fs.readdir(saved).catch(() => [])).length > 0);
    ip("link", "set", cableOf(1), "up");
    await until("the run is done", isDone(runId));
    expect(await good(shot.sequenceId)).toBe(1);
    const outcomes = (await attemptsOfFrame(pool(), shot.sequenceId, 1)).map((a) => a.outcome);
    // Newest first. Nobody else was there to take it: what it had saved was not lost.
    expect(outcomes).toEqual(["done", "stopped"]);
  },
);
