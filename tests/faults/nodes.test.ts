/**
 * Real node processes, killed, put to sleep and starved; what must hold is in the folder and in the tally.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { readTexts } from "@/core/image/png-format";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { isGone, rendererOf } from "../support/processes";
import { openStage, type Stage, until } from "../support/stage";
import { listRendering } from "@/server/store/tasks";
import { attemptsOfFrame } from "@/server/store/attempts";
import { resumeRun } from "@/server/actions/stop-run";

let stage: Stage;
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  await stage.strike();
  await closePool();
});

/** Long enough that a frame can be caught in the middle. */
const SLOW = { width: 160, height: 90, samples: 60 };

const renderingOf = (node: string) =>
  until(`${node} is in the middle of a frame`, async () =>
    (await listRendering(pool())).find((r) => r.node === node && (r.progress ?? 0) > 0.05),
  );
const done = (runId: number) =>
  until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");
const whoMade = async (file: string): Promise<string> =>
  (JSON.parse(readTexts(await fs.readFile(file)).get("PlainTally")!) as { node: string }).node;

test("kill -9 in the middle of a frame: its child ends, another node takes the frame over, nothing is left lying about", async () => {
  const shot = await stage.addShot("K1", { frames: "1-2", ...SLOW });
  const victim = await stage.startNode("quay-2");
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  const { frame } = await renderingOf("quay-2");
  const child = (await rendererOf(victim))!;
  const over = new Promise((resolve) => victim.once("exit", resolve));
  victim.kill("SIGKILL");
  await over;
  await until("the orphaned child has ended itself", () => isGone(child));
  await stage.startNode("quay-1");
  await done(runId);
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 2 });
  expect((await fs.readdir(shot.folder)).sort()).toEqual(["K1.0001.png", "K1.0002.png"]);
  expect((await attemptsOfFrame(pool(), shot.sequenceId, frame)).map((a) => [a.node, a.outcome])).toEqual([
    ["quay-1", "done"],
    ["quay-2", "lost"],
  ]);
});

test("a node stopped past its lease and woken again does not replace its successor's file", async () => {
  const shot = await stage.addShot("S1", { frames: "1", ...SLOW });
  const sleeper = await stage.startNode("quay-2");
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await renderingOf("quay-2");
  sleeper.kill("SIGSTOP");
  await stage.startNode("quay-1");
  await done(runId);
  const file = path.join(shot.folder, "S1.0001.png");
  const before = await fs.stat(file);
  expect(await whoMade(file)).toBe("quay-1");
  sleeper.kill("SIGCONT");
  // It has woken and given up once it asks for work again: a new frame for it alone proves that.
  const next = await stage.addShot("S2", { frames: "1" });
  const second = await startRun({
    sequenceId: next.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["quay-2"],
    scope: "version",
  });
  await done(second.runId);
  const after = await fs.stat(file);
  expect([after.ino, after.mtimeMs, await whoMade(file)]).toEqual([before.ino, before.mtimeMs, "quay-1"]);
  expect(await fs.readdir(shot.folder)).toEqual(["S1.0001.png"]);
});

test("a renderer that dies fails its attempt with a reason, and the frame is rendered after all", async () => {
  const shot = await stage.addShot("C1", { frames: "1", ...SLOW });
  const node = await stage.startNode("quay-1");
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await renderingOf("quay-1");
  process.kill((await rendererOf(node))!, "SIGKILL");
  await done(runId);
  expect((await attemptsOfFrame(pool(), shot.sequenceId, 1)).map((a) => [a.outcome, a.code])).toEqual([
    ["done", null],
    ["failed", "engine-died"],
  ]);
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 1, failed: 0 });
});

test("a node that is asked to end gives its frame back, with its samples saved", async () => {
  const shot = await stage.addShot("E1", { frames: "1", ...SLOW });
  const node = await stage.startNode("quay-1");
  await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await renderingOf("quay-1");
  const over = new Promise((resolve) => node.once("exit", resolve));
  node.kill("SIGTERM");
  expect(await over).toBe(0);
  expect(countsOf((await loadSequence(shot.sequenceId)).tally)).toMatchObject({
    activity: { waiting: 1, rendering: 0 },
    results: { partial: 1 },
  });
  expect(await fs.readdir(shot.folder)).toEqual([]);
});

test("a frame that cannot be put in its place is set aside with the reason, and Resume renders it once it can", async () => {
  const shot = await stage.addShot("D1", { frames: "1-2" });
  const inTheWay = path.join(shot.folder, "D1.0001.png");
  await fs.mkdir(inTheWay, { recursive: true });
  await fs.writeFile(path.join(inTheWay, "x"), "");
  await stage.startNode("quay-1");
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await done(runId);
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ failed: 1, good: 1 });
  expect((await attemptsOfFrame(pool(), shot.sequenceId, 1))[0]).toMatchObject({
    outcome: "failed",
    code: "file-eisdir",
  });
  await fs.rm(inTheWay, { recursive: true });
  await resumeRun(runId);
  await done(runId);
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 2, failed: 0 });
});

test("a folder that cannot be read refuses the run with the reason, and loses nothing", async () => {
  const shot = await stage.addShot("D2", { frames: "1" });
  await fs.mkdir(path.dirname(shot.folder), { recursive: true });
  await fs.writeFile(shot.folder, "a file where the folder should be");
  await expect(
    startRun({ sequenceId: shot.sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" }),
  ).rejects.toMatchObject({ code: "folder-unreadable", message: expect.stringContaining(shot.folder) });
});
