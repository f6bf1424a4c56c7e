/** What happens to disks, shares, files and renderers under a run of real processes. */
import fs from "node:fs/promises";
import path from "node:path";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import type { LiveMessage, OutOfSightView } from "@/contract/live";
import type { SequenceView } from "@/contract/sequence-view";
import { openAsides } from "@/server/store/asides";
import { listCheckpoints } from "@/server/store/checkpoints";
import { runById } from "@/server/store/runs";
import { directNode } from "@/server/actions/nodes";
import { startRun } from "@/server/actions/start-run";
import { resumeRun } from "@/server/actions/stop-run";
import { loadSequence } from "@/server/views/tally";
import { canMount, type Disk, holdFile, mountDisk } from "../support/mounts";
import { rendererOf } from "../support/processes";
import { openStage, type Stage, until } from "../support/stage";
import { listRendering } from "@/server/store/tasks";
import { attemptsOfFrame } from "@/server/store/attempts";
import { logOfRun } from "@/server/store/attempt-lines";

const testOnDisk = canMount ? test : test.skip;

let stage: Stage;
let disk: Disk | null = null;
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  disk?.empty();
  disk?.remove();
  disk = null;
  await stage.strike();
  await closePool();
});

/** Long enough that a frame can be caught in the middle. */
const SLOW = { width: 160, height: 90, samples: 60 };
/** Pictures that need room: 16 bits do not pack. */
const LARGE = { width: 320, height: 180, samples: 2, file: { kind: "png", depth: 16, level: 0 } } as const;
const DISK_BYTES = 6_000_000;

const begin = async (sequenceId: number): Promise<number> =>
  (await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" })).runId;
const isDone = (runId: number) =>
  until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");
const heldBy = async (runId: number) => (await runById(pool(), runId))?.held ?? null;
const results = async (sequenceId: number) => countsOf((await loadSequence(sequenceId)).tally).results;
const middleOf = (node: string) =>
  until(`${node} is in the middle of a frame`, async () =>
    (await listRendering(pool())).find((r) => r.node === node && (r.progress ?? 0) > 0.05),
  );
const outcomes = async (sequenceId: number, frame: number) =>
  (await attemptsOfFrame(pool(), sequenceId, frame)).map((a) => a.code ?? a.outcome);

/** Hears what pages hear. */
async function listen(address: string) {
  const stop = new AbortController();
  let told: readonly OutOfSightView[] | null = null;
  const { body } = await fetch(`${address}/api/events`, { signal: stop.signal });
  void (async () => {
    let text = "";
    const reader = body!.pipeThrough(new TextDecoderStream()).getReader();
    for (let part = await reader.read(); !part.done; part = await reader.read()) {
      const messages = (text + part.value).split("\n\n");
      text = messages.pop()!;
      for (const message of messages) {
        if (!message.startsWith("data: ")) continue;
        const news = JSON.parse(message.slice(6)) as LiveMessage;
        if (news.type === "live") told = news.outOfSight;
      }
    }
  })().catch(() => undefined);
  return { outOfSight: () => told, end: () => stop.abort() };
}

testOnDisk(
  "a full disk holds the run with the figure it needs; nothing is lost, and it goes on when there is room",
  async () => {
    const shot = await stage.addShot("P1", { frames: "1-6", ...LARGE });
    disk = mountDisk(stage.projectFolder, DISK_BYTES);
    // Filled by somebody else after the start: with too little room there would be none.
    const runId = await begin(shot.sequenceId);
    disk.fill(600_000);
    await stage.startNode("quay-1");
    const held = await until("the run is held", () => heldBy(runId));
    if (held.code !== "disk-full") throw new Error(`It is held for ${held.code}.`);
    expect(held.need).toBeGreaterThan(held.free);
    expect(held.goesOnAt).toBeLessThanOrEqual(held.need);
    const before = await results(shot.sequenceId);
    expect([before.failed, before.flagged]).toEqual([0, 0]);
    disk.empty();
    await isDone(runId);
    expect(await results(shot.sequenceId)).toMatchObject({ good: 6 });
    expect(await fs.readdir(shot.folder)).toHaveLength(6);
    // The picture that found no room was kept and written: one attempt a frame.
    for (let frame = 1; frame <= 6; frame++) expect(await outcomes(shot.sequenceId, frame)).toEqual(["done"]);
  },
);

testOnDisk("a run that somebody lets go on while the disk is still full is held again", async () => {
  const shot = await stage.addShot("P0", { frames: "1-2", ...LARGE });
  disk = mountDisk(stage.projectFolder, DISK_BYTES);
  const runId = await begin(shot.sequenceId);
  disk.fill(8_192);
  await stage.startNode("quay-1");
  await until("the run is held", () => heldBy(runId));
  await resumeRun(runId);
  await until("the run is held again", () => heldBy(runId));
  disk.empty();
  await isDone(runId);
  expect(await results(shot.sequenceId)).toMatchObject({ good: 2 });
});

testOnDisk(
  "a share that turns read-only or vanishes costs time, no frame: the node steps aside, says why, and comes back by itself",
  async () => {
    const shot = await stage.addShot("P2", { frames: "1-4", ...SLOW });
    disk = mountDisk(stage.projectFolder, DISK_BYTES);
    await stage.startNode("quay-1");
    const runId = await begin(shot.sequenceId);
    await middleOf("quay-1");
    disk.setReadOnly(true);
    const [aside] = await until("the node is set aside", async () =>
      ((found) => (found.length > 0 ? found : null))(await openAsides(pool())),
    );
    expect(aside).toMatchObject({
      node: "quay-1",
      runId,
      reason: { code: "not-ready", cannotWrite: "EROFS", missing: [] },
    });
    disk.setReadOnly(false);
    await until("the node is back", async () => (await openAsides(pool())).length === 0);
    await middleOf("quay-1");
    disk.detach();
    await until("the node is set aside again", async () => (await openAsides(pool())).length > 0);
    expect(await fs.readdir(stage.projectFolder)).not.toContain("P2");
    disk.attach();
    await isDone(runId);
    expect(await results(shot.sequenceId)).toMatchObject({ good: 4, failed: 0 });
  },
);

testOnDisk(
  "a share that goes away under the server is told to the pages, forgets nothing, and is as before when it is back",
  async () => {
    const shot = await stage.addShot("P9", { frames: "1-2" });
    disk = mountDisk(stage.projectFolder, DISK_BYTES);
    await stage.startNode("quay-1");
    await isDone(await begin(shot.sequenceId));
    const server = await stage.startServer();
    const page = async () =>
      (await (await fetch(`${server.address}/api/sequences/${shot.sequenceId}`)).json()) as SequenceView;
    const known = () => rows<object>(pool(), "SELECT * FROM frame_file ORDER BY frame");
    const [files, before] = [await known(), await page()];
    const news = await listen(server.address);
    disk.detach();
    const [missed] = await until(
      "the pages are told",
      async () => news.outOfSight()?.length === 1 && news.outOfSight(),
    );
    expect(missed).toMatchObject({ project: "test-film", folder: stage.projectFolder });
    expect((await page()).tally).toEqual(before.tally);
    expect((await fetch(`${server.address}/api/sequences/${shot.sequenceId}/frames/1`)).status).toBeLessThan(
      500,
    );
    expect(
      (await fetch(`${server.address}/api/sequences/${shot.sequenceId}/check`, { method: "POST" })).status,
    ).toBe(503);
    disk.attach();
    await until("the pages are told that it is back", async () => news.outOfSight()?.length === 0);
    news.end();
    expect((await page()).tally).toEqual(before.tally);
    expect(await known()).toEqual(files);
  },
);

test("a folder deleted under the run is made again, with the frozen scene, and every frame is rendered", async () => {
  const shot = await stage.addShot("P3", { frames: "1-3", ...SLOW });
  await stage.startNode("quay-1");
  const runId = await begin(shot.sequenceId);
  await middleOf("quay-1");
  await fs.rm(path.join(shot.folder, "../.."), { recursive: true });
  await isDone(runId);
  expect(await results(shot.sequenceId)).toMatchObject({ good: 3 });
});

testOnDisk("a file that another program holds is tried again until it is let go", async () => {
  const shot = await stage.addShot("P4", { frames: "1", ...SLOW });
  await fs.mkdir(shot.folder, { recursive: true });
  const file = path.join(shot.folder, "P4.0001.png");
  await fs.writeFile(file, "an old file");
  await stage.startNode("quay-1");
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "all",
    nodes: null,
    scope: "version",
  });
  await middleOf("quay-1");
  const letGo = holdFile(file);
  try {
    await until("the finished frame waits for its place", async () =>
      (await logOfRun(pool(), runId, 50)).some((line) =>
        line.text.includes("held by another program (EBUSY)"),
      ),
    );
  } finally {
    letGo();
  }
  await isDone(runId);
  expect(await outcomes(shot.sequenceId, 1)).toEqual(["done"]);
  expect(await fs.readdir(shot.folder)).toEqual(["P4.0001.png"]);
});

test("a renderer that hangs is killed, and the frame is rendered after all", async () => {
  const shot = await stage.addShot("P5", { frames: "1", ...SLOW });
  const node = await stage.startNode("quay-1", "--silence", "6");
  const runId = await begin(shot.sequenceId);
  await middleOf("quay-1");
  const child = (await rendererOf(node))!;
  process.kill(child, "SIGSTOP");
  await isDone(runId);
  expect(await outcomes(shot.sequenceId, 1)).toEqual(["done", "renderer-hangs"]);
});

test("a renderer that uses more memory than its node allows is killed with the figure", async () => {
  const shot = await stage.addShot("P6", { frames: "1", width: 1600, height: 900, samples: 400 });
  await stage.startNode("quay-1");
  await directNode("quay-1", { memoryMb: 100 });
  await begin(shot.sequenceId);
  const failed = await until("the attempt failed", async () =>
    (await attemptsOfFrame(pool(), shot.sequenceId, 1)).find((a) => a.outcome === "failed"),
  );
  expect(failed).toMatchObject({
    code: "memory-limit",
    message: expect.stringMatching(/used \d+ MB of memory; this node allows 100 MB/),
  });
});

test("a frame that takes ten times what was expected is ended with its samples saved", async () => {
  const shot = await stage.addShot("P7", { frames: "1", ...SLOW, samples: 400 });
  const runId = await begin(shot.sequenceId);
  await stage.startNode("quay-2");
  await directNode("quay-2", { pause: "now" });
  // What the run knows: a frame beside it took next to nothing.
  await until("the frame waits", async () => (await listRendering(pool())).length === 0);
  await pool().query(
    `INSERT INTO attempt (
        task_id, run_id, sequence_id, frame, node_id, outcome, ended_at, startup_seconds,
          render_seconds, write_seconds, samples, samples_added
      )
      SELECT t.id, t.run_id, t.sequence_id, 2, (SELECT id FROM node WHERE name = 'quay-2'), 'done',
        NOW(3), 0, 0.01, 0, 400, 400
      FROM task t
      WHERE t.run_id = ?`,
    [runId],
  );
  await stage.startNode("quay-1", "--limit-from", "1");
  const failed = await until("the attempt failed", async () =>
    (await attemptsOfFrame(pool(), shot.sequenceId, 1)).find((a) => a.outcome === "failed"),
  );
  expect(failed).toMatchObject({ code: "took-too-long", node: "quay-1" });
  const [saved] = await listCheckpoints(pool(), shot.sequenceId);
  expect(saved).toMatchObject({ frame: 1 });
  expect(saved!.share).toBeGreaterThan(0);
});

test("a node that does not see a file the scene needs is set aside before its first frame, and comes back when it does", async () => {
  const shot = await stage.addShot("P8", { frames: "1-2" });
  const runId = await begin(shot.sequenceId);
  await stage.startNode("mole-1", "--hide", "textures/check.png");
  const [aside] = await until("the node is set aside", async () =>
    ((found) => (found.length > 0 ? found : null))(await openAsides(pool())),
  );
  expect(aside).toMatchObject({
    node: "mole-1",
    runId,
    shot: "P8",
    reason: { code: "not-ready", cannotWrite: null, missing: ["textures/check.png"], different: [] },
  });
  expect(await outcomes(shot.sequenceId, 1)).toEqual([]);
  await stage.startNode("quay-1");
  await isDone(runId);
  expect(await results(shot.sequenceId)).toMatchObject({ good: 2 });
});

test("a node whose clock is three hours off keeps its leases and puts right times into the tally", async () => {
  const shot = await stage.addShot("P9", { frames: "1-2", ...SLOW });
  const wrong = "const now = Date.now; Date.now = () => now() + 3 * 3600e3;";
  process.env.NODE_OPTIONS = `--import=data:text/javascript,${encodeURIComponent(wrong)}`;
  await stage.startNode("quay-2").finally(() => delete process.env.NODE_OPTIONS);
  const runId = await begin(shot.sequenceId);
  await middleOf("quay-2");
  await stage.startNode("quay-1");
  await isDone(runId);
  for (const frame of [1, 2]) {
    const [attempt, ...more] = await attemptsOfFrame(pool(), shot.sequenceId, frame);
    expect([attempt!.outcome, more]).toEqual(["done", []]);
    expect(Math.abs(attempt!.endedAt!.getTime() - Date.now())).toBeLessThan(600_000);
  }
});

testOnDisk("where no hard link can be made, what is replaced is copied, whole, and kept", async () => {
  const shot = await stage.addShot("PL9", { frames: "1-2", ...LARGE });
  await stage.startNode("quay-1");
  await isDone(await begin(shot.sequenceId));
  const place = path.join(shot.folder, "PL9.0001.png");
  const before = await fs.readFile(place);
  const aside = path.join(shot.folder, "../../.tally/aside");
  await fs.mkdir(path.join(aside, "main/beauty"), { recursive: true });
  // A disk of its own: no link leads to it.
  disk = mountDisk(aside, DISK_BYTES);
  await expect(fs.link(place, path.join(aside, "linked"))).rejects.toMatchObject({ code: "EXDEV" });
  const { runId } = await startRun({
    ...{ sequenceId: shot.sequenceId, phrase: "1", policy: "all", nodes: null, scope: "version" },
  });
  await isDone(runId);
  const kept = await fs.readdir(path.join(aside, "main/beauty"));
  expect(kept).toEqual([expect.stringMatching(/^PL9\.0001\.before-\d+\.png$/)]);
  expect((await fs.readFile(path.join(aside, "main/beauty", kept[0]!))).equals(before)).toBe(true);
});
