/** Two-part runs: gathered light at every n-th frame first, then every frame; and what guards the cache. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { formatPhrase } from "@/core/frames/phrase";
import { setOf } from "@/core/frames/frame-set";
import type { Plan } from "@/core/plan/plan";
import { aloneFactor } from "@/core/estimate/alone";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { readGatheredLight, writeGatheredLight } from "@/server/files/gathered-light-files";
import { runById } from "@/server/store/runs";
import { changeRun } from "@/server/actions/change-run";
import { viewHandOut } from "@/server/views/hand-out";
import { preflightRun } from "@/server/actions/preflight";
import { openVersion } from "@/server/actions/save-plan";
import { startProofs } from "@/server/actions/proofs";
import { estimateTasks } from "@/server/views/run-estimate";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { PLAN } from "../support/plan";
import { TEST_SCENE, writeScene } from "../support/scene";
import { openStage, type Stage, until } from "../support/stage";
import { gatheredLightFile } from "@/server/files/layout";
import { viewProofs } from "@/server/views/proofs";
import { listRendering, runCounts, tasksOfRun } from "@/server/store/tasks";
import { logOfRun } from "@/server/store/attempt-lines";
import { resumeRun, stopRun } from "@/server/actions/stop-run";

const LIGHTING = { every: 4, points: 16, rays: 16 };
const LIT: Partial<Plan> = { scene: "scenes/lit.json", frames: "1-10" };

let stage: Stage;
beforeEach(async () => {
  stage = await openStage();
  await writeScene(stage.projectFolder, { ...TEST_SCENE, lighting: LIGHTING }, "lit.json");
});
afterEach(async () => {
  await stage.strike();
  await closePool();
});

type Shot = Awaited<ReturnType<Stage["addShot"]>>;
const run = async (
  shot: Shot,
  more: {
    readonly phrase?: string;
    readonly policy?: "fill" | "all";
    readonly nodes?: readonly string[];
  } = {},
): Promise<number> =>
  (
    await startRun({
      sequenceId: shot.sequenceId,
      scope: "version",
      phrase: "all",
      policy: "fill",
      nodes: null,
      ...more,
    })
  ).runId;
const inState = (runId: number, state: string) =>
  until(`run ${runId} is ${state}`, async () => (await runById(pool(), runId))?.state === state);
const lightOf = (shot: Shot): string => path.join(shot.folder, "../../.tally/gathered-light/main");
const lit = async (runId: number): Promise<string> =>
  formatPhrase(
    setOf((await tasksOfRun(pool(), runId)).filter((t) => t.kind === "light").map((t) => t.frame)),
  );
const logTexts = async (runId: number): Promise<string[]> =>
  (await logOfRun(pool(), runId, 200)).map((l) => l.text);
const pixels = (shot: Shot, name: string): Promise<Buffer> =>
  sharp(path.join(shot.folder, name)).raw().toBuffer();
/** The pixels of one frame of a scene, rendered by itself from the command line: no run, no cache. */
const renderAlone = async (
  scene: string,
  { frame, size, samples }: { frame: number; size: string; samples: number },
): Promise<Buffer> => {
  const out = path.join(stage.root, "alone.png");
  const asked = ["--frame", `${frame}`, "--size", size, "--samples", `${samples}`, "--out", out];
  const ended = await stage.cli("render", path.join(stage.projectFolder, "scenes", scene), ...asked);
  expect([ended.code, ended.stderr]).toEqual([0, expect.any(String)]);
  return sharp(out).raw().toBuffer();
};
const wish = (shot: Shot) => ({
  sequenceId: shot.sequenceId,
  scope: "version" as const,
  phrase: "all",
  policy: "fill" as const,
  nodes: null,
});

test("the cache is gathered first, at its own step and without pictures; no frame is taken before; all frames read it; the next run finds it", async () => {
  const shot = await stage.addShot("LC1", LIT);
  expect((await preflightRun({ ...wish(shot), nodes: [] })).find((p) => p.code === "lighting")).toEqual({
    code: "lighting",
    make: 4,
    unfit: 0,
    there: 0,
  });
  const runId = await run(shot);
  expect([await lit(runId), await runCounts(pool(), runId)]).toEqual([
    "0-12/4",
    { waiting: 10, leased: 0, done: 0, failed: 0 },
  ]);
  await stage.startNode("quay-1");
  await stage.startNode("quay-2");
  await inState(runId, "done");
  const parts = await rows<{ passes: number; first: Date; last: Date }>(
    pool(),
    `SELECT passes <> 0 AS passes, MIN(started_at) AS first, MAX(ended_at) AS last
      FROM attempt
      WHERE run_id = ?
      GROUP BY passes <> 0
      ORDER BY 1`,
    [runId],
  );
  expect(parts[1]!.first.getTime()).toBeGreaterThanOrEqual(parts[0]!.last.getTime());
  expect((await fs.readdir(lightOf(shot))).sort()).toEqual([
    "000000.light",
    "000004.light",
    "000008.light",
    "000012.light",
  ]);
  expect(formatPhrase((await loadSequence(shot.sequenceId)).tally.results.good)).toBe("1-10");
  expect((await fs.readdir(shot.folder)).length).toBe(10);
  const texts = await logTexts(runId);
  expect(
    texts.filter((t) =>
      /^started on quay-[12]: the gathered light of (0|4|8|12), which writes no picture$/.test(t),
    ),
  ).toHaveLength(4);
  expect(texts.filter((t) => t.includes("it is made here"))).toEqual([]);
  // Once more: all of the cache is there, and the pictures are the same bit for bit.
  const before = await pixels(shot, "LC1.0006.png");
  const again = await run(shot, { phrase: "5-6", policy: "all" });
  expect(await lit(again)).toBe("");
  await inState(again, "done");
  expect((await pixels(shot, "LC1.0006.png")).equals(before)).toBe(true);
  // A proof lights its frame alone: it is the frame of the run.
  const alone = (scene: string) => renderAlone(scene, { frame: 6, size: "48x27", samples: 4 });
  expect((await alone("lit.json")).equals(before)).toBe(true);
  // And it is not the frame that paths make on their own.
  expect((await alone("test.json")).equals(before)).toBe(false);
});

test("light that another version has is taken over where its look allows: nothing is gathered twice, and the version stands by itself", async () => {
  const shot = await stage.addShot("LC9", { ...LIT, frames: "1-3" });
  await stage.startNode("quay-1");
  const first = await run(shot);
  await inState(first, "done");
  const next = await openVersion("LC9", { ...PLAN, ...LIT, frames: "1-3", digits: 6 });
  const other = await openVersion("LC9", { ...PLAN, ...LIT, frames: "1-3", seed: 77 });
  const lightingOf = async (sequenceId: number) =>
    (await preflightRun({ ...wish({ ...shot, sequenceId }), nodes: [] })).find((p) => p.code === "lighting");
  expect(await lightingOf(next.sequenceId)).toMatchObject({ make: 0, there: 2 });
  expect(await lightingOf(other.sequenceId)).toMatchObject({ make: 2, there: 0 });
  const second = await run({ ...shot, sequenceId: next.sequenceId });
  expect(await lit(second)).toBe("");
  const taken = path.join(shot.folder, "../../../v002/.tally/gathered-light/main");
  expect((await fs.readdir(taken)).sort()).toEqual(["000000.light", "000004.light"]);
  await fs.rm(lightOf(shot), { recursive: true });
  await inState(second, "done");
  expect((await logTexts(second)).filter((t) => /gathered/.test(t) && !/read|uses/.test(t))).toEqual([]);
});

test("light that is there goes along with a hand-out, and is not gathered again", async () => {
  const shot = await stage.addShot("LC9", LIT);
  await stage.startNode("quay-1");
  await inState(await run(shot), "done");
  const { runId } = await startRun({
    ...{ ...wish(shot), policy: "all" },
    shares: [{ machine: "barge", phrase: "5-6" }],
  });
  const { folder } = await viewHandOut(runId);
  expect((await fs.readdir(folder)).sort()).toEqual(["gathered-light", "hand-out.json", "scene"]);
  const out = path.join(stage.root, "barge-out");
  const plan = path.join(folder, "hand-out.json");
  const ended = await stage.cli("hand-out", plan, "--machine", "barge", "--out", out);
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  // What is gathered anew says who gathered it: these are the very files.
  const taken = path.join(out, ".tally/gathered-light/main");
  for (const name of await fs.readdir(lightOf(shot)))
    expect(
      (await fs.readFile(path.join(taken, name))).equals(await fs.readFile(path.join(lightOf(shot), name))),
    ).toBe(true);
});

test("a cache that is missing, damaged, or made from another scene is told, and made again; the pictures are those that they would have been", async () => {
  const shot = await stage.addShot("LC2", LIT);
  await stage.startNode("quay-1");
  await inState(await run(shot), "done");
  const before = await Promise.all(
    [2, 6, 10].map((frame) => pixels(shot, `LC2.${String(frame).padStart(4, "0")}.png`)),
  );
  const file = (frame: number): string => gatheredLightFile(lightOf(shot), frame);
  const good = await fs.readFile(file(8));
  // The run finds all of it, and nobody takes its frames yet.
  const runId = await run(shot, { phrase: "2,6,10", policy: "all", nodes: ["late"] });
  expect(await lit(runId)).toBe("");
  await fs.rm(file(0));
  await fs.truncate(file(4), 300);
  const other = (await readGatheredLight(
    file(8),
    JSON.parse(good.subarray(0, good.indexOf(10)).toString()).look as string,
  )) as Exclude<Awaited<ReturnType<typeof readGatheredLight>>, string>;
  await writeGatheredLight(file(8), { ...other.header, look: "0".repeat(64) }, other.records);
  await stage.startNode("late");
  await inState(runId, "done");
  expect((await logTexts(runId)).filter((t) => t.includes("it is made here")).sort()).toEqual([
    "the gathered light of 0 is missing; it is made here",
    "the gathered light of 4 is damaged; it is made here",
    "the gathered light of 8 was made from another scene or plan; it is made here",
  ]);
  expect(
    await Promise.all(
      [2, 6, 10].map(async (frame, i) =>
        (await pixels(shot, `LC2.${String(frame).padStart(4, "0")}.png`)).equals(before[i]!),
      ),
    ),
  ).toEqual([true, true, true]);
  expect(await readGatheredLight(file(8), other.header.look)).toMatchObject({
    header: { frame: 8, node: "late" },
    records: other.records,
  });
  // Another light in the scene: the whole cache is unfit, and a run makes it anew.
  await writeScene(
    stage.projectFolder,
    { ...TEST_SCENE, lighting: LIGHTING, exposure: 1, sky: { ...TEST_SCENE.sky, zenith: [0.9, 0.2, 0.2] } },
    "lit.json",
  );
  expect(
    (await preflightRun({ ...wish(shot), policy: "all", nodes: [] })).find((p) => p.code === "lighting"),
  ).toEqual({ code: "lighting", make: 4, unfit: 4, there: 0 });
});

test("a scene that still says that no pictures are written is refused before the start, and by the renderer itself", async () => {
  await writeScene(stage.projectFolder, { ...TEST_SCENE, lighting: { ...LIGHTING, only: true } }, "lit.json");
  const shot = await stage.addShot("LC3", LIT);
  expect((await preflightRun({ ...wish(shot), nodes: [] })).map((p) => p.code)).toContain(
    "writes-no-pictures",
  );
  await expect(run(shot)).rejects.toMatchObject({
    code: "preflight-stops",
    faults: [{ code: "writes-no-pictures" }],
  });
  const ended = await stage.cli(
    "render",
    path.join(stage.projectFolder, "scenes/lit.json"),
    "--frame",
    "1",
    "--out",
    path.join(stage.root, "none.png"),
  );
  expect([ended.code, ended.stderr]).toEqual([1, expect.stringContaining("lighting.only")]);
});

test("a stopped frame goes on bit for bit under its gathered light; under other light its samples are of no use", async () => {
  const long: Partial<Plan> = {
    ...LIT,
    frames: "2",
    width: 160,
    height: 90,
    samples: 120,
    checkpoints: { kind: "on-stop" },
  };
  const stopInTheMiddle = async (runId: number): Promise<void> => {
    await until("the frame is in the middle", async () =>
      (await listRendering(pool())).find((r) => r.isLight === 0 && (r.progress ?? 0) > 0.1),
    );
    await stopRun(runId, "now");
    await inState(runId, "stopped");
  };
  const shot = await stage.addShot("LC4", long);
  await stage.startNode("quay-1");
  const first = await run(shot);
  await stopInTheMiddle(first);
  await resumeRun(first);
  await inState(first, "done");
  const through = await renderAlone("lit.json", { frame: 2, size: "160x90", samples: 120 });
  expect((await pixels(shot, "LC4.0002.png")).equals(through)).toBe(true);
  expect((await logTexts(first)).filter((t) => t.startsWith("goes on from"))).toHaveLength(1);

  const other = await stage.addShot("LC5", long);
  const second = await run(other);
  await stopInTheMiddle(second);
  const file = gatheredLightFile(lightOf(other), 4);
  const look = (
    JSON.parse((await fs.readFile(file)).subarray(0, 400).toString().split("\n")[0]!) as { look: string }
  ).look;
  const { header, records } = (await readGatheredLight(file, look)) as Exclude<
    Awaited<ReturnType<typeof readGatheredLight>>,
    string
  >;
  await writeGatheredLight(
    file,
    header,
    records.map((v) => v * 1.01),
  );
  // Another process: this one would remember the cache that it has read.
  await changeRun(second, { nodes: ["quay-2"] });
  await stage.startNode("quay-2");
  await resumeRun(second);
  await inState(second, "done");
  expect(await logTexts(second)).toContain(
    "saved samples cannot be used: they were lit by other gathered light",
  );
});

test("trimmed while the cache is made, the run still makes it first; frames that come in late find or make what they need", async () => {
  const shot = await stage.addShot("LC6", { ...LIT, frames: "1-20" });
  const runId = await run(shot, { phrase: "1-10", nodes: ["late"] });
  expect(await changeRun(runId, { phrase: "3-20", order: "coarse-to-fine" })).toEqual({
    added: 10,
    droppedOut: 2,
  });
  await changeRun(runId, { nodes: null });
  await stage.startNode("late");
  await inState(runId, "done");
  const first = await rows<{ passes: number }>(
    pool(),
    "SELECT passes FROM attempt WHERE run_id = ? ORDER BY id LIMIT 5",
    [runId],
  );
  expect(first.map((a) => a.passes !== 0)).toEqual([false, false, false, false, true]);
  expect(formatPhrase((await loadSequence(shot.sequenceId)).tally.results.good)).toBe("3-20");
  expect((await logTexts(runId)).filter((t) => t.includes("it is made here")).length).toBeGreaterThan(0);
});

test("another run that keeps every node busy does not hold up the second part", async () => {
  const shot = await stage.addShot("LC7", { ...LIT, frames: "1-2" });
  const busy = await stage.addShot("LC8", { frames: "1-24" });
  const [runId, other] = [await run(shot), await run(busy)];
  await stage.startNode("quay-1");
  await inState(runId, "done");
  await inState(other, "done");
  const order = await rows<{ runId: number }>(
    pool(),
    "SELECT run_id AS runId FROM attempt WHERE passes <> 0 ORDER BY id",
  );
  expect(order.map((a) => a.runId).lastIndexOf(runId)).toBeLessThan(order.length - 10);
});

test("what a cache takes is timed apart from the frames, also in a proof; the estimate of a run counts those that it makes", async () => {
  const shot = await stage.addShot("LC9", LIT);
  const {
    revision: { plan },
  } = await loadSequence(shot.sequenceId);
  expect((await viewProofs(shot.sequenceId)).lighting).toEqual({ there: { main: "" }, timed: [] });
  await stage.startNode("quay-1");
  const proof = (await startProofs(shot.sequenceId, { phrase: "6", plan, nodes: null, strip: null }))
    .runs[0]!;
  await inState(proof, "done");
  // The frame of the proof gathered those to both sides of it, for itself alone.
  const [attempt] = await rows<{ made: number; seconds: number }>(
    pool(),
    `SELECT light_made AS made, light_seconds AS seconds
      FROM attempt
      WHERE run_id = ?`,
    [proof],
  );
  expect(attempt).toEqual({ made: 2, seconds: expect.any(Number) });
  const seen = await viewProofs(shot.sequenceId);
  expect(seen.lighting).toEqual({
    there: { main: "" },
    timed: [expect.objectContaining({ scene: "scenes/lit.json", seconds: attempt!.seconds / 2 })],
  });
  const estimate = async (caches: number): Promise<number> =>
    (await estimateTasks(
      shot.versionId,
      plan,
      [{ kind: "frame", leadId: shot.sequenceId, frame: 6, passes: ["beauty"] }],
      caches,
      ["quay-1"],
    ))!;
  const { cost } = seen.proofs[0]!.frames[0]!;
  // Whatever else the machine did meanwhile.
  const alone = aloneFactor(cost, 1)!;
  expect((await estimate(4)) - (await estimate(0))).toBeCloseTo(
    (4 * alone * (attempt!.seconds / 2 + cost.startupSeconds)) / (1 - seen.lostShare),
    6,
  );
  const runId = await run(shot);
  await inState(runId, "done");
  expect((await runById(pool(), runId))!.estimatedSeconds).toBeGreaterThan(0);
  expect((await viewProofs(shot.sequenceId)).lighting).toMatchObject({
    there: { main: "0-12/4" },
    timed: { length: 5 },
  });
});
