/**
 * A renderer of one's own with all that a declaration may name: those of docs/renderers.md, read out of that
 * page.
 */
import fs from "node:fs";
import path from "node:path";
import type { Plan } from "@/core/plan/plan";
import { formatPhrase } from "@/core/frames/phrase";
import { saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { closePool, pool } from "@/server/db/pool";
import { readSceneFacts } from "@/server/scenes/scene-facts";
import { originOf } from "@/server/files/origin";
import { shownPixels } from "@/server/files/showable";
import { listCheckpoints } from "@/server/store/checkpoints";
import { attemptsOfFrame } from "@/server/store/attempts";
import { logOfRun } from "@/server/store/attempt-lines";
import { runById } from "@/server/store/runs";
import { latestRevision, sequencesOfVersion } from "@/server/store/shots";
import { listRendering } from "@/server/store/tasks";
import { loadSequence } from "@/server/views/tally";
import { bringLamp, declaredInDocs } from "../support/lantern";
import { openStage, type Stage, until } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage(undefined, {
    renderers: { ...declaredInDocs("lantern"), ...declaredInDocs("stranger") },
  });
  bringLamp(stage.projectFolder);
  await stage.startNode("quay-1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const lantern: Partial<Plan> = {
  renderer: "lantern",
  scene: "scenes/lamp.lantern",
  cameras: ["quay"],
  width: 64,
  height: 36,
  samples: 4,
};
const start = async (sequenceId: number, policy: "fill" | "refine" = "fill", phrase = "all") =>
  (await startRun({ sequenceId, phrase, policy, nodes: null, scope: "version" })).runId;
const isIn = (runId: number, state: string) =>
  until(`run ${runId} is ${state}`, async () => (await runById(pool(), runId))?.state === state);
const lines = async (runId: number): Promise<string[]> =>
  (await logOfRun(pool(), runId, 500)).map((line) => line.text);
const samplesIn = (folder: string, name: string): number | null =>
  originOf(fs.readFileSync(path.join(folder, name))).samples;

test("it tells what is in its scene; a plan that asks for more than it offers is refused at the field", async () => {
  expect(
    await readSceneFacts({ root: "frames", folder: "test-film" }, "scenes/lamp.lantern", "lantern"),
  ).toEqual({
    cameras: ["quay", "stairs"],
    timeLine: { first: 1, last: 12 },
    rate: "24",
    markers: [{ name: "dim", first: 9, end: 13 }],
    missing: [],
  });
  fs.writeFileSync(path.join(stage.projectFolder, "scenes/other.lantern"), "{}");
  await expect(
    readSceneFacts({ root: "frames", folder: "test-film" }, "scenes/other.lantern", "lantern"),
  ).rejects.toMatchObject({ code: "scene-undescribed", message: expect.stringContaining("lantern/1") });
  for (const [field, change] of [
    ["cameras", { cameras: ["bridge"] }],
    ["passes", { passes: ["beauty", "normal"] }],
    ["options", { options: { glass: "green" } }],
    ["options", { options: { colour: "red" } }],
    ["noiseTarget", { noiseTarget: 0.1 }],
  ] as const)
    await expect(stage.addShot("LX", { ...lantern, ...(change as Partial<Plan>) })).rejects.toMatchObject({
      code: "plan-wrong",
      faults: [{ field }],
    });
});

test("both passes are sequences, the light is gathered first, and the picture says how many samples it has", async () => {
  const shot = await stage.addShot("L1", {
    ...lantern,
    frames: "1-6",
    passes: ["beauty", "depth"],
    options: { glass: "amber" },
  });
  const runId = await start(shot.sequenceId);
  await isIn(runId, "done");
  expect((await lines(runId)).filter((line) => line.startsWith("gathered at")).sort()).toEqual([
    "gathered at 0",
    "gathered at 4",
    "gathered at 8",
  ]);
  const sequences = await sequencesOfVersion(pool(), shot.versionId);
  expect(sequences.map((s) => s.pass)).toEqual(["beauty", "depth"]);
  for (const { id } of sequences)
    expect(formatPhrase((await loadSequence(id)).tally.results.good)).toBe("1-6");
  // Nothing is rendered for a pass that is there: the beauty's file stays the one that it is.
  const beauty = path.join(shot.folder, "L1.0003.png");
  const before = fs.statSync(beauty).ino;
  fs.rmSync(path.join(path.dirname(shot.folder), "depth/L1.0003.png"));
  await isIn(await start(shot.sequenceId), "done");
  expect(fs.statSync(beauty).ino).toBe(before);
  expect(samplesIn(shot.folder, "L1.0003.png")).toBe(4);
});

test("stopped inside a frame it goes on from what it kept, bit for bit; refined it takes only what is to be added", async () => {
  const plan = { ...lantern, frames: "1", samples: 40, keepSamples: true, options: { ease: 50 } };
  const whole = await stage.addShot("L2", plan);
  await isIn(await start(whole.sequenceId), "done");

  const shot = await stage.addShot("L3", plan);
  const runId = await start(shot.sequenceId);
  await until("it has taken some samples", async () =>
    (await listRendering(pool())).some((r) => r.runId === runId && (r.progress ?? 0) > 0.2),
  );
  await stopRun(runId, "now");
  await isIn(runId, "stopped");
  const [kept] = await listCheckpoints(pool(), shot.sequenceId);
  expect(kept!.samples).toBeGreaterThan(0);
  expect(kept!.samples).toBeLessThan(40);
  expect(formatPhrase((await loadSequence(shot.sequenceId)).tally.results.partial)).toBe("1");
  await resumeRun(runId);
  await isIn(runId, "done");
  expect(await lines(runId)).toContain(`going on from sample ${kept!.samples}`);
  const pixels = async (folder: string, name: string) =>
    (await shownPixels(name, fs.readFileSync(path.join(folder, name)), "beauty")).data;
  expect(await pixels(shot.folder, "L3.0001.png")).toEqual(await pixels(whole.folder, "L2.0001.png"));

  const { plan: saved, number } = (await latestRevision(pool(), shot.versionId))!;
  await saveRevision("test-film/L3", shot.versionId, { ...saved, samples: 44 }, number);
  const refined = await start(shot.sequenceId, "refine");
  await isIn(refined, "done");
  expect(await lines(refined)).toContain("going on from sample 40");
  expect((await attemptsOfFrame(pool(), shot.sequenceId, 1))[0]).toMatchObject({ outcome: "done" });
  expect(samplesIn(shot.folder, "L3.0001.png")).toBe(44);
});

test("a state of another look, and one that is damaged, is not gone on from, and the log says so", async () => {
  const shot = await stage.addShot("L4", { ...lantern, frames: "1", samples: 40, options: { ease: 50 } });
  const stopped = async (runId: number) => {
    await until("it has taken some samples", async () =>
      (await listRendering(pool())).some((r) => r.runId === runId && (r.progress ?? 0) > 0.1),
    );
    await stopRun(runId, "now");
    await isIn(runId, "stopped");
  };
  await stopped(await start(shot.sequenceId));
  const { plan, number } = (await latestRevision(pool(), shot.versionId))!;
  await saveRevision(
    "test-film/L4",
    shot.versionId,
    { ...plan, samples: 8, options: { glass: "amber" } },
    number,
  );
  const other = await start(shot.sequenceId);
  await isIn(other, "done");
  expect(await lines(other)).toContain("what was kept cannot be used: options is not what it was");

  const again = await stage.addShot("L5", { ...lantern, frames: "1", samples: 40, options: { ease: 50 } });
  const runId = await start(again.sequenceId);
  await stopped(runId);
  const file = path.join(again.folder, "../../.tally/checkpoints/quay/000001.checkpoint");
  const bytes = fs.readFileSync(file);
  bytes[bytes.length - 100]! ^= 1;
  fs.writeFileSync(file, bytes);
  await resumeRun(runId);
  await isIn(runId, "done");
  expect(await lines(runId)).toContain("what was kept is damaged and cannot be used");
});

test("a time limit ends the frame, and the file says how many samples it really has", async () => {
  const shot = await stage.addShot("L6", {
    ...lantern,
    frames: "1",
    samples: 400,
    timeLimit: 0.5,
    options: { ease: 100 },
  });
  await isIn(await start(shot.sequenceId), "done");
  const samples = samplesIn(shot.folder, "L6.0001.png");
  expect(samples).toBeGreaterThan(0);
  expect(samples).toBeLessThan(100);
});

test("our own renderer called as a stranger writes its passes, a batch at a time", async () => {
  const shot = await stage.addShot("L7", {
    renderer: "stranger",
    frames: "1-4",
    width: 32,
    height: 18,
    samples: 2,
    passes: ["beauty", "depth", "normal"],
  });
  const runId = await start(shot.sequenceId);
  await isIn(runId, "done");
  for (const { id } of await sequencesOfVersion(pool(), shot.versionId))
    expect(formatPhrase((await loadSequence(id)).tally.results.good)).toBe("1-4");
});
