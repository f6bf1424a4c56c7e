/** Passes: each a sequence of its own, written by one render, and never more than is asked for. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { readLinear } from "../support/references";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { row, rows } from "@/server/db/rows";
import { listFiles } from "@/server/store/frame-files";
import { runById } from "@/server/store/runs";
import { sequencesOfVersion, requireSequence } from "@/server/store/shots";
import { loadVersion } from "@/server/views/tally";
import { startRun } from "@/server/actions/start-run";
import { openStage, type Stage, until } from "../support/stage";
import { logOfRun } from "@/server/store/attempt-lines";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
  await stage.startNode("quay-1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const run = async (sequenceId: number): Promise<{ runId: number; tasks: number }> => {
  const started = await startRun({
    sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await until(
    `run ${started.runId} is done`,
    async () => (await runById(pool(), started.runId))?.state === "done",
  );
  return started;
};
const counts = async (sequenceId: number): Promise<Record<string, number>> =>
  Object.fromEntries(
    (await loadVersion(await requireSequence(sequenceId))).map((s) => [
      `${s.sequence.camera}/${s.sequence.pass}`,
      countsOf(s.tally).results.good,
    ]),
  );

const PASSES = ["beauty", "denoised", "depth", "normal", "albedo"] as const;

describe("a linear version with guides", () => {
  let shot: Awaited<ReturnType<Stage["addShot"]>>;
  const place = (pass: string, frame: number): string =>
    path.join(shot.folder, "..", pass, `PA1_${pass}.000${frame}.exr`);
  beforeAll(async () => {
    shot = await stage.addShot("PA1", {
      frames: "1-2",
      passes: PASSES,
      file: { kind: "exr", depth: "float", compression: "zip" },
      namePattern: "{shot}_{pass}.{frame}",
    });
    const { tasks } = await run(shot.sequenceId);
    expect(tasks).toBe(2);
  });

  test("one render of a frame writes each pass into its folder", async () => {
    expect(await counts(shot.sequenceId)).toEqual(
      Object.fromEntries(PASSES.map((pass) => [`main/${pass}`, 2])),
    );
    for (const pass of PASSES)
      expect((await fs.readdir(path.dirname(place(pass, 1)))).sort()).toEqual([
        path.basename(place(pass, 1)),
        path.basename(place(pass, 2)),
      ]);
  });

  test("a missing depth frame is rendered for depth alone; the good beauty is not touched", async () => {
    const before = await fs.stat(place("beauty", 1));
    const depth = await readLinear(place("depth", 1));
    await fs.rm(place("depth", 1));
    expect((await run(shot.sequenceId)).tasks).toBe(1);
    const after = await fs.stat(place("beauty", 1));
    expect([after.ino, after.mtimeMs]).toEqual([before.ino, before.mtimeMs]);
    expect((await readLinear(place("depth", 1))).data).toEqual(depth.data);
    expect(await counts(shot.sequenceId)).toMatchObject({ "main/depth": 2 });
  });

  test("the denoised twin is made again from the kept files, without rendering, and is the same picture", async () => {
    const before = await readLinear(place("denoised", 2));
    await fs.rm(place("denoised", 2));
    const { runId } = await run(shot.sequenceId);
    expect((await logOfRun(pool(), runId, 10)).map((line) => line.text)).toContain(
      "started on quay-1: denoising the kept beauty, nothing is rendered",
    );
    const again = await readLinear(place("denoised", 2));
    for (let i = 0; i < before.data.length; i++)
      expect(Math.abs(again.data[i]! - before.data[i]!)).toBeLessThanOrEqual(
        1e-4 * (1 + Math.abs(before.data[i]!)),
      );
  });

  test("a beauty that changed is no guide: the frame is rendered anew", async () => {
    await fs.rm(place("denoised", 1));
    await fs.copyFile(place("beauty", 2), place("beauty", 1));
    await fs.truncate(place("albedo", 1), 100);
    const { runId } = await run(shot.sequenceId);
    expect((await logOfRun(pool(), runId, 10)).map((line) => line.text)).toContain("started on quay-1");
  });
});

test("two cameras are two sequences of one version, told apart by folder and by camera", async () => {
  const shot = await stage.addShot("PA2", {
    frames: "1-2",
    cameras: ["main", "side"],
    namePattern: "{shot}_{camera}.{frame}",
  });
  expect((await run(shot.sequenceId)).tasks).toBe(4);
  expect(await counts(shot.sequenceId)).toEqual({ "main/beauty": 2, "side/beauty": 2 });
  expect(await fs.readdir(path.join(shot.folder, "../../side/beauty"))).toEqual([
    "PA2_side.0001.png",
    "PA2_side.0002.png",
  ]);
});

const attempt = (runId: number) =>
  row<{ stoppedBy: string; samples: number }>(
    pool(),
    "SELECT stopped_by AS stoppedBy, samples FROM attempt WHERE run_id = ?",
    [runId],
  );
const samplesOf = async (sequenceId: number): Promise<number | null> =>
  (await listFiles(pool(), sequenceId))[0]!.samples;

describe("what ends a frame is told, and how far it got", () => {
  test.each([
    ["all its samples", "PA3", { samples: 8 }, "samples", (n: number) => n === 8],
    [
      "its noise",
      "PA4",
      { samples: 4_000, minSamples: 8, noiseTarget: 0.05 },
      "noise",
      (n: number) => n >= 8 && n < 4_000,
    ],
    ["its time", "PA5", { samples: 60_000, timeLimit: 0.3 }, "time", (n: number) => n >= 4 && n < 60_000],
  ] as const)("%s", async (_what, code, plan, by, isRight) => {
    const shot = await stage.addShot(code, { frames: "1", ...plan });
    const { runId } = await run(shot.sequenceId);
    const made = (await attempt(runId))!;
    expect([made.stoppedBy, isRight(made.samples)]).toEqual([by, true]);
    expect(await samplesOf(shot.sequenceId)).toBe(made.samples);
    expect((await sequencesOfVersion(pool(), shot.versionId)).map((s) => s.pass)).toEqual(["beauty"]);
  });
});

test("the time limit counts what earlier attempts took: a frame that was lost after its limit gets one round", async () => {
  const shot = await stage.addShot("PA8", { frames: "1", samples: 60_000, timeLimit: 600 });
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["nobody"],
    scope: "version",
  });
  const [task] = await rows<{ id: number }>(pool(), "SELECT id FROM task WHERE run_id = ?", [runId]);
  const [node] = await rows<{ id: number }>(pool(), "SELECT id FROM node WHERE name = 'quay-1'");
  await pool().query(
    `INSERT INTO attempt (
        task_id, run_id, sequence_id, frame, node_id, outcome, started_at, ended_at
      )
      VALUES (?, ?, ?, 1, ?, 'failed', NOW(3) - INTERVAL 1000 SECOND, NOW(3))`,
    [task!.id, runId, shot.sequenceId, node!.id],
  );
  await pool().query("UPDATE run SET nodes = NULL WHERE id = ?", [runId]);
  await until("the frame is there", async () => (await counts(shot.sequenceId))["main/beauty"] === 1);
  const made = (
    await rows<{ stoppedBy: string; samples: number }>(
      pool(),
      `SELECT stopped_by AS stoppedBy, samples
        FROM attempt
        WHERE run_id = ? AND outcome = 'done'`,
      [runId],
    )
  )[0]!;
  expect([made.stoppedBy, made.samples < 100]).toEqual(["time", true]);
});

test("a rough version at another rate renders times between frames, in a folder of its own", async () => {
  const half = { numerator: 12, denominator: 1 };
  const shot = await stage.addShot("PA6", { frames: "1-3", rate: half });
  const whole = await stage.addShot("PA7", { frames: "1-5" });
  await run(shot.sequenceId);
  await run(whole.sequenceId);
  // Frame 2 at 12 a second is frame 3 at 24; grain differs by frame, so the seeds must be those of the scene
  // time.
  const [a, b] = await Promise.all([
    fs.readFile(path.join(shot.folder, "PA6.0002.png")),
    fs.readFile(path.join(whole.folder, "PA7.0003.png")),
  ]);
  expect((await sharp(a).raw().toBuffer()).equals(await sharp(b).raw().toBuffer())).toBe(true);
});
