/**
 * Saved samples, with a real node, its child, and real files: whatever stops a frame, it goes on from there,
 * and the picture is that of a render that went through.
 */
import type { ChildProcess } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { formatPhrase } from "@/core/frames/phrase";
import type { Plan } from "@/core/plan/plan";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { listCheckpoints } from "@/server/store/checkpoints";
import { runById } from "@/server/store/runs";
import { latestRevision, sequencesOfVersion } from "@/server/store/shots";
import { catchUp } from "@/server/folder/check";
import { discard } from "@/server/actions/discard";
import { viewShot } from "@/server/views/shot";
import { saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { openStage, type Stage, until } from "../support/stage";
import { listRendering } from "@/server/store/tasks";
import { attemptsOfFrame } from "@/server/store/attempts";
import { logOfRun } from "@/server/store/attempt-lines";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { prepareRun } from "@/server/actions/prepare-run";

let stage: Stage;
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  await stage.strike();
  await closePool();
});

/** Seconds of work, so that it can be stopped in the middle; saved by the clock only where a test says so. */
const LONG: Partial<Plan> = {
  frames: "1",
  width: 160,
  height: 90,
  samples: 160,
  checkpoints: { kind: "on-stop" },
};
type Shot = Awaited<ReturnType<Stage["addShot"]>>;

const run = async (shot: Shot, policy: "fill" | "refine" | "mend" = "fill"): Promise<number> =>
  (await startRun({ sequenceId: shot.sequenceId, phrase: "all", policy, nodes: null, scope: "version" }))
    .runId;
const inState = (runId: number, state: string) =>
  until(`run ${runId} is ${state}`, async () => (await runById(pool(), runId))?.state === state);
const inTheMiddle = (share = 0.1) =>
  until("a frame is in the middle", async () =>
    (await listRendering(pool())).find((r) => (r.progress ?? 0) > share),
  );
const resultsOf = async (shot: Shot) => countsOf((await loadSequence(shot.sequenceId)).tally).results;
const checkpointFolder = (shot: Shot): string => path.join(shot.folder, "../../.tally/checkpoints/main");
const logTexts = async (runId: number): Promise<string[]> =>
  (await logOfRun(pool(), runId, 100)).map((l) => l.text);
const added = async (shot: Shot): Promise<(number | null)[]> =>
  (
    await rows<{ n: number | null }>(
      pool(),
      `SELECT samples_added + 0e0 AS n
        FROM attempt
        WHERE sequence_id = ? AND outcome = 'done'
        ORDER BY id`,
      [shot.sequenceId],
    )
  ).map((r) => r.n);
const over = (node: ChildProcess): Promise<unknown> => new Promise((resolve) => node.once("exit", resolve));

/** The frame as a render makes it that nothing stopped. */
async function uninterrupted(samples: number): Promise<Buffer> {
  const out = path.join(stage.root, `through-${samples}.png`);
  const ended = await stage.cli(
    "render",
    path.join(stage.projectFolder, "scenes/test.json"),
    "--frame",
    "1",
    "--size",
    "160x90",
    "--samples",
    String(samples),
    "--out",
    out,
  );
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  return sharp(out).raw().toBuffer();
}
const pixelsOf = async (shot: Shot): Promise<Buffer> =>
  sharp(path.join(shot.folder, (await fs.readdir(shot.folder))[0]!))
    .raw()
    .toBuffer();

async function changePlan(code: string, shot: Shot, change: Partial<Plan>): Promise<void> {
  const before = (await latestRevision(pool(), shot.versionId))!;
  await saveRevision(code, shot.versionId, { ...before.plan, ...change }, before.number);
}

test("stopped now, gone on with by another node: not one sample is lost, and the picture is that of a render that went through", async () => {
  const shot = await stage.addShot("P1", LONG);
  const first = await stage.startNode("quay-1");
  const runId = await run(shot);
  await inTheMiddle();
  await stopRun(runId, "now");
  await inState(runId, "stopped");
  expect(await resultsOf(shot)).toMatchObject({ partial: 1, missing: 0, good: 0 });
  const [held] = await listCheckpoints(pool(), shot.sequenceId);
  expect(held!.samples).toBeGreaterThan(0);
  expect(await fs.readdir(checkpointFolder(shot))).toEqual(["000001.checkpoint"]);
  first.kill("SIGTERM");
  await over(first);
  await stage.startNode("quay-2");
  await resumeRun(runId);
  await inState(runId, "done");
  expect((await pixelsOf(shot)).equals(await uninterrupted(160))).toBe(true);
  expect((await attemptsOfFrame(pool(), shot.sequenceId, 1)).map((a) => [a.node, a.outcome])).toEqual([
    ["quay-2", "done"],
    ["quay-1", "stopped"],
  ]);
  const [taken] = await added(shot);
  expect(taken! + held!.share * 160).toBeCloseTo(160, 6);
  expect([
    await resultsOf(shot),
    await fs.readdir(checkpointFolder(shot)),
    await listCheckpoints(pool(), shot.sequenceId),
  ]).toMatchObject([{ good: 1, partial: 0 }, [], []]);
});

test("killed in the middle, it goes on from the last checkpoint by the clock, and what the dead node left is cleared away", async () => {
  const shot = await stage.addShot("P2", {
    ...LONG,
    samples: 400,
    checkpoints: { kind: "every", minutes: 0.025 },
  });
  const first = await stage.startNode("quay-1");
  const runId = await run(shot);
  const [held] = await until("samples were saved", async () => {
    const found = await listCheckpoints(pool(), shot.sequenceId);
    return found.length > 0 && found;
  });
  first.kill("SIGKILL");
  await over(first);
  await fs.writeFile(
    path.join(
      checkpointFolder(shot),
      `000001.checkpoint.part${(await attemptsOfFrame(pool(), shot.sequenceId, 1))[0]!.id}-9`,
    ),
    "half of a checkpoint",
  );
  await stage.startNode("quay-2");
  await inState(runId, "done");
  expect((await pixelsOf(shot)).equals(await uninterrupted(400))).toBe(true);
  expect((await added(shot))[0]).toBeLessThan(400 - held!.samples + 1);
  expect(await fs.readdir(checkpointFolder(shot))).toEqual([]);
});

test("saved samples that are damaged, or of another look, are not used: the log says so and the frame starts over", async () => {
  const shot = await stage.addShot("P3", LONG);
  await stage.startNode("quay-1");
  const file = path.join(checkpointFolder(shot), "000001.checkpoint");
  const runId = await run(shot);
  await inTheMiddle();
  await stopRun(runId, "now");
  await inState(runId, "stopped");
  const bytes = await fs.readFile(file);
  bytes[bytes.length >> 1]! ^= 0xff;
  await fs.writeFile(file, bytes);
  await resumeRun(runId);
  await inTheMiddle();
  await stopRun(runId, "now");
  await inState(runId, "stopped");
  expect(await logTexts(runId)).toContain("saved samples are damaged and cannot be used");
  await changePlan("P3", shot, { seed: 5 });
  const second = await run(shot);
  await inState(second, "done");
  expect(await logTexts(second)).toContain("saved samples cannot be used: seed is not what it was");
  expect((await added(shot))[0]).toBe(160);
  expect(await resultsOf(shot)).toMatchObject({ good: 1 });
});

test("never saved: a stop keeps nothing", async () => {
  const shot = await stage.addShot("P4", { ...LONG, checkpoints: { kind: "never" } });
  await stage.startNode("quay-1");
  const runId = await run(shot);
  await inTheMiddle();
  await stopRun(runId, "now");
  await inState(runId, "stopped");
  expect(await resultsOf(shot)).toMatchObject({ missing: 1, partial: 0 });
});

test("refine: every frame goes on from its kept samples, the old file is there until the new one is whole, and is kept aside", async () => {
  const shot = await stage.addShot("P5", { ...LONG, samples: 8, keepSamples: true });
  await stage.startNode("quay-1");
  await inState(await run(shot), "done");
  expect((await listCheckpoints(pool(), shot.sequenceId)).map((c) => [c.frame, c.samples])).toEqual([[1, 8]]);
  await changePlan("P5", shot, { samples: 40 });
  const { tally } = await loadSequence(shot.sequenceId);
  expect([formatPhrase(tally.results.good), formatPhrase(tally.refinable)]).toEqual(["1", "1"]);
  const { decided } = await prepareRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "refine",
    scope: "version",
  });
  expect(decided[0]!.decision.render.map((r) => [r.reason, formatPhrase(r.frames)])).toEqual([
    ["few-samples", "1"],
  ]);
  const refining = await run(shot, "refine");
  await inState(refining, "done");
  expect(await logTexts(refining)).toContain("goes on from 8 of 40 samples, as saved on quay-1");
  expect((await pixelsOf(shot)).equals(await uninterrupted(40))).toBe(true);
  expect(await added(shot)).toEqual([8, 32]);
  expect((await loadSequence(shot.sequenceId)).tally.refinable.count).toBe(0);
  expect((await fs.readdir(path.join(shot.folder, "../../.tally/aside/main/beauty"))).length).toBe(1);
  expect((await listCheckpoints(pool(), shot.sequenceId)).map((c) => c.samples)).toEqual([40]);
});

test("a longer time limit goes on: render seconds alone count against it, not denoising, not writing, not saving", async () => {
  const plan: Partial<Plan> = {
    ...{ frames: "1", width: 320, height: 180, samples: 60_000, timeLimit: 0.3, keepSamples: true },
    passes: ["beauty", "denoised", "depth"],
  };
  const shot = await stage.addShot("CK8", plan);
  await stage.startNode("quay-1");
  await inState(await run(shot), "done");
  const revision = (await latestRevision(pool(), shot.versionId))!;
  await saveRevision("test-film/CK8", shot.versionId, { ...revision.plan, timeLimit: 0.6 }, revision.number);
  expect(formatPhrase((await loadSequence(shot.sequenceId)).tally.refinable)).toBe("1");
  await inState(await run(shot, "refine"), "done");
  const made = await rows<{ seconds: number; by: string }>(
    pool(),
    `SELECT render_seconds AS seconds, stopped_by AS \`by\`
      FROM attempt
      WHERE sequence_id = ? AND outcome = 'done'
      ORDER BY id`,
    [shot.sequenceId],
  );
  expect(made.map((m) => m.by)).toEqual(["time", "time"]);
  // The second had what was left of the limit, and the sum is what the saved samples say of themselves.
  expect(made[0]!.seconds).toBeGreaterThanOrEqual(0.3);
  expect(made[0]!.seconds + made[1]!.seconds).toBeGreaterThanOrEqual(0.6);
  const [saved] = await listCheckpoints(pool(), shot.sequenceId);
  expect(saved!.seconds).toBeCloseTo(made[0]!.seconds + made[1]!.seconds, 3);
  expect((await added(shot))[1]).toBeGreaterThan(0);
});

test("a pass that is added later is written from the kept samples: nothing is rendered for it", async () => {
  const shot = await stage.addShot("P6", {
    ...LONG,
    samples: 8,
    keepSamples: true,
    passes: ["beauty", "normal"],
  });
  await stage.startNode("quay-1");
  await inState(await run(shot), "done");
  await changePlan("P6", shot, { passes: ["beauty", "normal", "depth"] });
  await inState(await run(shot), "done");
  expect(await added(shot)).toEqual([8, 0]);
  const depth = (await sequencesOfVersion(pool(), shot.versionId)).find((s) => s.pass === "depth")!;
  expect(countsOf((await loadSequence(depth.id)).tally).results).toMatchObject({ good: 1 });
});

test("the folder is the truth: what the database forgot is found again, and what was removed is forgotten", async () => {
  const shot = await stage.addShot("P7", LONG);
  await stage.startNode("quay-1");
  const runId = await run(shot);
  await inTheMiddle();
  await stopRun(runId, "now");
  await inState(runId, "stopped");
  const [lead] = await sequencesOfVersion(pool(), shot.versionId);
  const before = await listCheckpoints(pool(), shot.sequenceId);
  await pool().query("DELETE FROM checkpoint");
  await catchUp(lead!);
  expect(await listCheckpoints(pool(), shot.sequenceId)).toEqual(before);
  await fs.truncate(path.join(checkpointFolder(shot), "000001.checkpoint"), 5_000);
  await catchUp(lead!);
  expect(await resultsOf(shot)).toMatchObject({ missing: 1, partial: 0 });
});

test("saved samples and files that the plan does not ask for are discarded with their sizes told; what is in work keeps its own", async () => {
  const shot = await stage.addShot("CPD", { ...LONG, frames: "1-2" });
  const node = await stage.startNode("quay-1");
  const id = await run(shot);
  await inTheMiddle();
  await stopRun(id, "now");
  await inState(id, "stopped");
  const extra = path.join(shot.folder, "CPD.0099.png");
  await sharp({ create: { width: 160, height: 90, channels: 3, background: "#123" } })
    .png()
    .toFile(extra);
  await fs.writeFile(path.join(shot.folder, "notes.txt"), "not a frame");
  const what = ["samples", "extra"] as const;
  const all = { what, phrase: null, scope: "version" } as const;
  const dry = await discard(shot.sequenceId, { ...all, isDry: true });
  expect([dry.samples.frames, dry.extra]).toEqual([
    "1",
    { count: 1, bytes: (await fs.stat(extra)).size, frames: "99" },
  ]);
  expect(dry.samples.bytes).toBe(
    (await fs.stat(path.join(checkpointFolder(shot), "000001.checkpoint"))).size,
  );
  // Other frames than those that were asked about stay.
  const none = await discard(shot.sequenceId, { what, phrase: "2-98", scope: "sequence", isDry: false });
  expect([none.samples.count, none.extra.count]).toEqual([0, 0]);
  const discarded = async () =>
    (await viewShot("test-film/CPD", { version: null, camera: null, pass: null })).versions[0]!.discarded;
  expect(await discarded()).toBeNull();
  expect(await discard(shot.sequenceId, { ...all, what: ["extra"], isDry: false }, "Mara")).toMatchObject({
    samples: { count: 0 },
    extra: { count: 1 },
  });
  expect(await discarded()).toMatchObject({ who: "Mara", did: "discard" });
  expect((await fs.readdir(shot.folder)).sort()).toEqual(["notes.txt"]);
  expect(await resultsOf(shot)).toMatchObject({ partial: 1, extra: 0 });
  await resumeRun(id);
  await inTheMiddle(0.15);
  expect((await discard(shot.sequenceId, { ...all, isDry: false })).samples.count).toBe(0);
  await stopRun(id, "now");
  await inState(id, "stopped");
  expect((await discard(shot.sequenceId, { ...all, isDry: false })).samples.count).toBe(1);
  expect(await fs.readdir(checkpointFolder(shot))).toEqual([]);
  expect(await resultsOf(shot)).toMatchObject({ partial: 0, missing: 2 });
  const ended = over(node);
  node.kill("SIGTERM");
  await ended;
});
