/** Proofs beside the sequence, and what the server finds out before a run: with real nodes and files. */
import fs from "node:fs/promises";
import path from "node:path";
import type { StartProofsBody } from "@/contract/bodies";
import { spawn } from "node:child_process";
import os from "node:os";
import { costModel } from "@/core/estimate/cost-model";
import { estimateRun } from "@/core/estimate/estimate";
import { rangeSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { type PreflightPoint, verdictOf } from "@/core/run/preflight";
import type { Plan } from "@/core/plan/plan";
import { closePool, pool } from "@/server/db/pool";
import { listPresets } from "@/server/store/presets";
import { viewShot } from "@/server/views/shot";
import { importEdit } from "@/server/actions/import-edit";
import { preflightRun, removeLeftovers } from "@/server/actions/preflight";
import { changePresetName, importPreset, removePreset, savePreset } from "@/server/actions/presets";
import { placeProofs, startProofs } from "@/server/actions/proofs";
import { openVersion, saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { motionOf, thumbnailOf } from "@/server/views/thumbnails";
import { TEST_SCENE, writeScene } from "../support/scene";
import { PLAN } from "../support/plan";
import { openStage, type Stage, until } from "../support/stage";
import { viewProofs } from "@/server/views/proofs";
import { runCounts } from "@/server/store/tasks";
import { saveNode } from "@/server/store/nodes";
import { claim } from "@/server/queue/claim";
import { giveBack } from "@/server/queue/lease";
import { stopRun } from "@/server/actions/stop-run";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
  await stage.startNode("quay-1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const body = (change: Partial<StartProofsBody> = {}, plan: Partial<Plan> = {}): StartProofsBody => ({
  phrase: "first,middle,last",
  plan: { ...PLAN, ...plan },
  nodes: null,
  strip: null,
  ...change,
});
const finished = (ids: readonly number[]) =>
  until("the proofs are done", async () =>
    (await Promise.all(ids.map((id) => runCounts(pool(), id)))).every((c) => c.waiting + c.leased === 0),
  );
const good = async (sequenceId: number): Promise<string> =>
  formatPhrase((await loadSequence(sequenceId)).tally.results.good);

describe("proofs", () => {
  let shot: Awaited<ReturnType<Stage["addShot"]>>;
  beforeAll(async () => {
    shot = await stage.addShot("PF1", { frames: "1-9" });
  });

  test("lie in the version's proofs folder, with their cost; the sequence stays empty", async () => {
    const { runs, frames } = await startProofs(shot.sequenceId, body({}, { frames: "1-9" }));
    await finished(runs);
    expect(frames).toBe("1,5,9");
    expect(await good(shot.sequenceId)).toBe("");
    expect(
      await fs.readdir(path.join(shot.folder, "../../.tally/proofs", String(runs[0]), "main/beauty")),
    ).toEqual(["PF1.0001.png", "PF1.0005.png", "PF1.0009.png"]);
    const { proofs, history, freeBytes } = await viewProofs(shot.sequenceId);
    expect(
      proofs[0]!.frames.map((f) => [
        f.cost.frame,
        f.cost.samples,
        f.cost.pixels,
        f.cost.node,
        f.stoppedBy,
        f.passes[0]!.fits,
      ]),
    ).toEqual([1, 5, 9].map((n) => [n, 4, 48 * 27, "quay-1", "samples", true]));
    expect(proofs[0]!.frames.every((f) => f.cost.renderSeconds > 0 && f.passes[0]!.bytes > 100)).toBe(true);
    expect([history, freeBytes! > 0]).toEqual([[], true]);
  });

  test("a proof of another setting cannot be used; one that fits goes in as it lies, and only where nothing is", async () => {
    const other = await startProofs(shot.sequenceId, body({ phrase: "2" }, { frames: "1-9", seed: 5 }));
    await finished(other.runs);
    await expect(placeProofs(shot.sequenceId, other.runs[0]!)).rejects.toMatchObject({
      code: "proofs-do-not-fit",
    });
    const [first] = (await viewProofs(shot.sequenceId)).proofs.slice(-1);
    expect(await placeProofs(shot.sequenceId, first!.runId)).toEqual({ placed: "1,5,9", files: 3 });
    expect(await good(shot.sequenceId)).toBe("1,5,9");
    await expect(placeProofs(shot.sequenceId, first!.runId)).rejects.toMatchObject({
      code: "proofs-do-not-fit",
    });
    // A scene that is saved anew makes the rest of the proofs unfit.
    const fresh = await startProofs(shot.sequenceId, body({ phrase: "3" }, { frames: "1-9" }));
    await finished(fresh.runs);
    await writeScene(stage.projectFolder, { ...TEST_SCENE, exposure: 2 });
    await expect(placeProofs(shot.sequenceId, fresh.runs[0]!)).rejects.toMatchObject({
      code: "proofs-do-not-fit",
    });
    await writeScene(stage.projectFolder);
  });

  test("a proof that is timed beside other work says what the renderer got, and the estimate counts that", async () => {
    const busy = await stage.addShot("PF6", { frames: "1-3", width: 96, height: 54, samples: 64 });
    const spinning = Array.from({ length: 2 * os.availableParallelism() }, () =>
      spawn(process.execPath, ["-e", "for (;;);"], { stdio: "ignore" }),
    );
    try {
      const plan = { frames: "1-3", width: 96, height: 54, samples: 64 };
      await finished((await startProofs(busy.sequenceId, body({ phrase: "all" }, plan))).runs);
    } finally {
      for (const child of spinning) child.kill("SIGKILL");
    }
    const { proofs } = await viewProofs(busy.sequenceId);
    const costs = proofs[0]!.frames.map((f) => f.cost);
    expect(costs.map((c) => [c.otherLoad! > 0.4, c.cpuShare! > 0, c.cpuShare! < 0.9])).toEqual(
      [1, 2, 3].map(() => [true, true, true]),
    );
    const model = costModel(costs, PLAN)!;
    expect(model).toMatchObject({ corrected: 3, leftOut: 0, isBusy: false });
    const { work } = estimateRun(model, {
      frames: rangeSet(1, 3),
      cameras: 1,
      lighting: null,
      target: { pixels: 96 * 54, samples: 64, isDenoised: false, timeLimit: null },
      speeds: [1],
      lostShare: 0,
    });
    // Of each frame its processor seconds: the clock of a machine that does nothing else.
    const alone = costs.reduce((sum, c) => sum + c.renderSeconds * c.cpuShare!, 0);
    expect(work.render / alone).toBeCloseTo(1, 1);
  });

  test("a strip is one run for each number of samples, each with its denoised twin", async () => {
    const { runs } = await startProofs(
      shot.sequenceId,
      body({ phrase: "middle", strip: [2, 8] }, { frames: "1-9" }),
    );
    await finished(runs);
    const { proofs } = await viewProofs(shot.sequenceId);
    expect(
      proofs
        .filter((p) => runs.includes(p.runId))
        .map((p) => [p.plan.samples, p.frames[0]!.passes.map((x) => x.pass).sort()]),
    ).toEqual([
      [8, ["beauty", "denoised"]],
      [2, ["beauty", "denoised"]],
    ]);
  });

  test.each<[string, Partial<StartProofsBody>, Partial<Plan>, string]>([
    ["a wrong phrase", { phrase: "9-1" }, {}, "phrase-wrong"],
    ["more than a hundred", { phrase: "all" }, { frames: "1-101" }, "too-many-proofs"],
    ["a plan that cannot be", {}, { width: 0 }, "plan-wrong"],
    ["a camera that is not there", {}, { cameras: ["top"] }, "plan-wrong"],
  ])("%s is refused", (_what, change, plan, code) =>
    expect(startProofs(shot.sequenceId, body(change, plan))).rejects.toMatchObject({ code }),
  );

  test("proofs go before the frames of runs, and a frame of a run may be proved meanwhile", async () => {
    const busy = await stage.addShot("PF2", { frames: "1-40", samples: 200 });
    await startRun({
      sequenceId: busy.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
    });
    await until("a frame is there", async () => (await good(busy.sequenceId)) !== "");
    const { runs } = await startProofs(busy.sequenceId, body({ phrase: "40" }, { frames: "1-40" }));
    await finished(runs);
    expect(formatPhrase((await loadSequence(busy.sequenceId)).tally.activities.waiting)).toContain("40");
  });
});

/** An attempt at a frame that a node gave up: what it wrote lies about. */
async function leaveBehind(sequenceId: number, frame: number): Promise<number> {
  const { runId } = await startRun({
    sequenceId,
    phrase: String(frame),
    policy: "fill",
    nodes: ["gone"],
    scope: "version",
  });
  const id = await saveNode(pool(), { name: "gone", host: "gone", processors: 2, pid: 1, session: "s" });
  const lease = (await claim(pool(), { id, name: "gone" }, 60))!;
  await giveBack(pool(), lease);
  await stopRun(runId, "now");
  return lease.attemptId;
}

describe("before a run", () => {
  const open = (points: readonly PreflightPoint[]): string[] =>
    points
      .filter((p) => verdictOf(p) !== "fine")
      .map((p) => (p.code === "note" ? `note ${p.note.code}` : p.code));

  test("a node answers also while it renders; temporary leftovers and strangers in the folder are named, and only leftovers removed", async () => {
    const shot = await stage.addShot("PF3", { frames: "1-2", samples: 300, width: 64, height: 36 });
    await fs.mkdir(shot.folder, { recursive: true });
    const strangers = [
      "other.0001.png",
      "other.0002.png",
      // Ends as a temporary file does, and is none of ours: no such attempt, another frame's, one in work.
      "PF3.0001.png.part999999",
      "PF3.0002.png.part1",
      "smoke.part2",
    ];
    for (const name of strangers) await fs.writeFile(path.join(shot.folder, name), "x");
    const lost = await leaveBehind(shot.sequenceId, 1);
    await fs.writeFile(path.join(shot.folder, `PF3.0001.png.part${lost}`), "x");
    const request = {
      sequenceId: shot.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: ["quay-1"],
      scope: "version",
    } as const;
    const points = await preflightRun(request);
    expect(open(points)).toEqual(["foreign-files", "leftovers"]);
    expect(points.find((p) => p.code === "nodes-ready")).toMatchObject({ nodes: ["quay-1"], files: 2 });
    expect(await removeLeftovers(request)).toEqual({ removed: 1 });
    expect((await fs.readdir(shot.folder)).sort()).toEqual(strangers.sort());
    expect(open(await preflightRun({ ...request, nodes: ["nobody"] }))).toContain("node-silent");
  });

  test("leftovers of a rough run in a final plan are named one by one", async () => {
    const shot = await stage.addShot("PF4", { frames: "1-9/2", samples: 2, shading: "direct", scale: 50 });
    const points = await preflightRun({
      sequenceId: shot.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: ["quay-1"],
      scope: "version",
    });
    expect(open(points).sort()).toEqual([
      "note few-samples",
      "note quick-shading",
      "note scaled",
      "note step",
    ]);
  });
});

test("a version of a rough purpose counts by itself and is never what a shot's code means", async () => {
  await stage.addShot("PF5", { frames: "1-4" });
  const rough = await openVersion("PF5", { ...PLAN, frames: "1-2" }, "rough", null);
  expect(rough.version).toEqual({ version: 1, purpose: "rough" });
  expect((await viewShot("PF5", { version: null, camera: null, pass: null })).sequence).toMatchObject({
    version: 1,
    purpose: "final",
  });
  expect((await viewShot("PF5", { version: rough.version, camera: null, pass: null })).folder).toContain(
    "/PF5/rough001/main/beauty",
  );
  await expect(
    saveRevision("PF5", rough.revision.versionId, { ...PLAN, frames: "1-3" }, 1),
  ).resolves.toMatchObject({ revision: { number: 2 } });
});

test("presets: a name once, the shipped ones are nobody's, a broken file says its line", async () => {
  const { id } = await savePreset(" ours ", { samples: 9 });
  await expect(savePreset("ours", { samples: 9 })).rejects.toMatchObject({ code: "preset-name-taken" });
  await expect(changePresetName(id, "small proof")).rejects.toMatchObject({ code: "preset-name-taken" });
  await changePresetName(id, "theirs", "Mara");
  expect((await listPresets(pool())).map(({ name, who }) => [name, who])).toEqual([["theirs", "Mara"]]);
  await removePreset(id);
  await expect(removePreset(id)).rejects.toMatchObject({ code: "preset-unknown" });
  await expect(importPreset("{\n\n oops")).rejects.toMatchObject({
    code: "preset-broken",
    message: expect.stringContaining("Line 3"),
  });
});

test("an edit that names no shot changes nothing and says what it names", async () => {
  await expect(
    importEdit(
      "test-film",
      "cut.edl",
      "TITLE: X\n001 NOSUCH V C 00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00\n",
    ),
  ).rejects.toMatchObject({ code: "edit-matches-nothing", message: expect.stringContaining("NOSUCH") });
});

test("small pictures are made once for a scene's content, and again when it is saved; a camera that is not there is told", async () => {
  const ask = { scene: "scenes/test.json", camera: "main", time: 3, move: null };
  const first = await thumbnailOf("PF5", ask);
  expect((await thumbnailOf("PF5", ask)).bytes).toEqual(first.bytes);
  await writeScene(stage.projectFolder, { ...TEST_SCENE, exposure: 3 });
  const later = await thumbnailOf("PF5", ask);
  expect([
    later.version === first.version,
    Buffer.from(later.bytes).equals(Buffer.from(first.bytes)),
  ]).toEqual([false, false]);
  await writeScene(stage.projectFolder);
  await expect(thumbnailOf("PF5", { ...ask, camera: "top" })).rejects.toMatchObject({
    code: "unknown-camera",
  });
  await expect(thumbnailOf("PF5", { ...ask, time: NaN })).rejects.toMatchObject({ code: "address-wrong" });
  await expect(thumbnailOf("PF5", { ...ask, scene: "../../etc/passwd" })).rejects.toMatchObject({
    code: "path-outside-root",
  });
});

test("where a scene comes to rest, and from where it is empty, is found", async () => {
  const gone = {
    keys: [
      { frame: 1, value: [0, 1, 0] as const, ease: "linear" as const },
      { frame: 20, value: [0, 1, 200] as const },
    ],
  };
  await writeScene(
    stage.projectFolder,
    { ...TEST_SCENE, bodies: [{ shape: "sphere", material: "ball", position: gone }] },
    "leaves.json",
  );
  const { movesUntil, emptyFrom } = await motionOf("PF5", {
    scene: "scenes/leaves.json",
    camera: "main",
    first: 1,
    last: 24,
  });
  expect(movesUntil).toBe(20);
  expect(emptyFrom).toBeGreaterThan(1);
  expect(emptyFrom).toBeLessThan(5);
  await expect(
    motionOf("PF5", { scene: "scenes/leaves.json", camera: "main", first: 9, last: 1 }),
  ).rejects.toMatchObject({ code: "address-wrong" });
  // Of a scene that cannot be read the search has an end, as often as it is asked.
  await fs.writeFile(path.join(stage.projectFolder, "scenes/broken.json"), "{");
  for (let i = 0; i < 2; i++)
    await expect(
      motionOf("PF5", { scene: "scenes/broken.json", camera: "main", first: 1, last: 24 }),
    ).rejects.toMatchObject({ code: "scene-broken" });
});
