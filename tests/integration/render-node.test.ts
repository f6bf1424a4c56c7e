import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { formatPhrase } from "@/core/frames/phrase";
import { readTexts } from "@/core/image/png-format";
import { countsOf, todoOf } from "@/core/tally/tally";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { closePool, pool } from "@/server/db/pool";
import { imageTools } from "@/server/files/image-tools";
import { type FinishedFrame, placeFrame } from "@/server/node/place-frame";
import { closedFindings, openFindings } from "@/server/store/findings";
import { saveNode } from "@/server/store/nodes";
import { runById } from "@/server/store/runs";
import { catchUp } from "@/server/folder/check";
import { requireSequence } from "@/server/store/shots";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { putOtherPicture } from "../support/other-picture";
import { openStage, type Stage, until } from "../support/stage";
import { viewLog } from "@/server/views/logs";
import { claimOfRun } from "@/server/queue/claim";
import { describeLease } from "@/server/queue/leased-frame";

let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;

beforeAll(async () => {
  stage = await openStage();
  shot = await stage.addShot("N1");
  await stage.startNode("quay-1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const file = (frame: number): string => path.join(shot.folder, `N1.${String(frame).padStart(4, "0")}.png`);
const versionFolder = (): string => path.join(shot.folder, "../..");
const finished = (runId: number) =>
  until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");
const pixels = (place: string): Promise<Buffer> => sharp(place).raw().toBuffer();

test("a run leaves whole files that say who made them, and a manifest line each", async () => {
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await finished(runId);
  expect((await fs.readdir(shot.folder)).sort()).toEqual(
    Array.from({ length: 8 }, (_, i) => path.basename(file(i + 1))),
  );
  const { tally } = await loadSequence(shot.sequenceId);
  expect(countsOf(tally).results).toMatchObject({ good: 8, missing: 0 });
  const made = JSON.parse(readTexts(await fs.readFile(file(3))).get("PlainTally")!) as Record<
    string,
    unknown
  >;
  expect(made).toMatchObject({
    version: "v001",
    camera: "main",
    pass: "beauty",
    frame: 3,
    node: "quay-1",
    samples: 4,
  });
  expect([made.look, made.effort, made.file].every((print) => /^[0-9a-f]{64}$/.test(String(print)))).toBe(
    true,
  );
  const lines = (await fs.readFile(path.join(versionFolder(), ".tally/manifest/quay-1.jsonl"), "utf8"))
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line) as { frame: number });
  expect(lines.map((line) => line.frame).sort((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
});

test("the command line renders the very same picture, bit for bit", async () => {
  const out = path.join(stage.root, "alone.png");
  const ended = await stage.cli(
    "render",
    path.join(stage.projectFolder, "scenes/test.json"),
    "--frame",
    "3",
    "--size",
    "48x27",
    "--samples",
    "4",
    "--out",
    out,
  );
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  expect((await pixels(out)).equals(await pixels(file(3)))).toBe(true);
});

test("a flagged frame is patched alone: the old file is kept aside, the flag is closed as fixed, the others are not touched", async () => {
  const before = await Promise.all(
    [1, 2, 4].map(async (n) => [(await fs.stat(file(n))).mtimeMs, await fs.readFile(file(n))] as const),
  );
  // Somebody's program has put another picture there: rendered again, it comes out differently.
  await putOtherPicture(file(2), file(3));
  await catchUp(await requireSequence(shot.sequenceId));
  const old = await fs.readFile(file(3));
  await flagFrames(shot.sequenceId, "3", "a gull flew through");
  expect(formatPhrase(todoOf((await loadSequence(shot.sequenceId)).tally))).toBe("3");
  const { runId, decision } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "mend",
    nodes: null,
    scope: "version",
  });
  expect(formatPhrase(decision.toRender)).toBe("3");
  await finished(runId);
  expect(await openFindings(pool(), shot.sequenceId)).toEqual([]);
  expect(await closedFindings(pool(), shot.sequenceId)).toMatchObject([
    { frame: 3, text: "a gull flew through", state: "fixed" },
  ]);
  const aside = path.join(versionFolder(), ".tally/aside/main/beauty");
  const [kept] = await fs.readdir(aside);
  expect((await fs.readFile(path.join(aside, kept!))).equals(old)).toBe(true);
  for (const [i, n] of [1, 2, 4].entries()) {
    expect((await fs.stat(file(n))).mtimeMs).toBe(before[i]![0]);
    expect((await fs.readFile(file(n))).equals(before[i]![1])).toBe(true);
  }
});

test("a run renders the scene as it was when it started, also when the scene is saved meanwhile", async () => {
  const late = await stage.addShot("N2", { frames: "1-4" });
  const scenePath = path.join(stage.projectFolder, "scenes/test.json");
  const scene = await fs.readFile(scenePath, "utf8");
  const { runId } = await startRun({
    sequenceId: late.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await fs.writeFile(scenePath, scene.replace('"exposure":1', '"exposure":3'));
  await finished(runId);
  const looks = await Promise.all(
    [1, 2, 3, 4].map(
      async (n) =>
        (
          JSON.parse(
            readTexts(await fs.readFile(path.join(late.folder, `N2.000${n}.png`))).get("PlainTally")!,
          ) as { look: string }
        ).look,
    ),
  );
  expect(new Set(looks).size).toBe(1);
  // What the plan asks for now is the saved scene: the frames are whole, and out of date.
  expect(countsOf((await loadSequence(late.sequenceId)).tally).results).toMatchObject({ stale: 4, good: 0 });
  await fs.writeFile(scenePath, scene);
  expect(countsOf((await loadSequence(late.sequenceId)).tally).results).toMatchObject({ stale: 0, good: 4 });
});

test("a node that does not see a texture says so in its log and on the frame, and a patch by another closes it", async () => {
  const grey = await stage.addShot("N3", { frames: "1-2" });
  // Started before the node: one that is asked and lacks a file stops the start.
  const { runId } = await startRun({
    sequenceId: grey.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["mole-1"],
    scope: "version",
  });
  await stage.startNode("mole-1", "--unproven", "--hide", "textures/check.png");
  await finished(runId);
  expect(await openFindings(pool(), grey.sequenceId)).toMatchObject([
    { frame: 1, source: "node", text: "made without textures/check.png on mole-1" },
    { frame: 2 },
  ]);
  const patch = await startRun({
    sequenceId: grey.sequenceId,
    phrase: "all",
    policy: "mend",
    nodes: ["quay-1"],
    scope: "version",
  });
  await finished(patch.runId);
  expect(countsOf((await loadSequence(grey.sequenceId)).tally).results).toMatchObject({
    good: 2,
    flagged: 0,
  });
});

test("a name that a living node has is refused", async () => {
  const ended = await stage.cli("node", "--name", "quay-1");
  expect([ended.code, ended.stderr]).toEqual([
    3,
    expect.stringContaining("A node named quay-1 works already"),
  ]);
});

test("a frame whose file was placed but whose commit was cut is closed by the next try, with the same file", async () => {
  const cut = await stage.addShot("N4", { frames: "1" });
  const { runId } = await startRun({
    sequenceId: cut.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["by-hand"],
    scope: "version",
  });
  const id = await saveNode(pool(), { name: "by-hand", host: "here", processors: 2, pid: 1, session: "s" });
  const lease = await describeLease(pool(), (await claimOfRun(pool(), runId, id))!);
  await fs.mkdir(cut.folder, { recursive: true });
  const final = path.join(cut.folder, "N4.0001.png");
  const temporary = `${final}.part${lease.attemptId}`;
  const frame: FinishedFrame = {
    lease,
    versionFolder: path.join(cut.folder, "../.."),
    dropCheckpointIn: null,
    node: "by-hand",
    otherLoad: null,
    without: [],
    lines: [],
    passes: [
      {
        pass: "beauty",
        sequenceId: cut.sequenceId,
        temporary,
        final,
        fingerprints: { look: "l", effort: "e", file: "f" },
      },
    ],
    output: {
      startupSeconds: 0,
      batchStartupSeconds: 0,
      light: { made: 0, seconds: 0 },
      renderSeconds: 1,
      denoiseSeconds: 0,
      writeSeconds: 0,
      samplesAdded: 4,
      cpuSeconds: 1,
      cpuShare: 1,
      samples: 4,
      stoppedBy: "samples",
      passes: [{ pass: "beauty", luminance: 0.5, noise: 0.01 }],
    },
  };
  await fs.writeFile(
    temporary,
    writePng(
      rgb8(48, 27, new Uint8Array(48 * 27 * 3)),
      { PlainTally: JSON.stringify({ attempt: lease.attemptId }) },
      imageTools,
    ),
  );
  await placeFrame(pool(), frame);
  const { ino } = await fs.stat(final);
  // As the database is after a commit that did not come through: the lease is there, the attempt is open.
  await pool().query(
    `UPDATE task
      SET state = 'leased', token = ?, lease_until = NOW(6) + INTERVAL 20 SECOND
      WHERE id = ?`,
    [lease.token, lease.taskId],
  );
  await pool().query("DELETE FROM frame_file WHERE sequence_id = ?", [cut.sequenceId]);
  await placeFrame(pool(), frame);
  expect((await fs.stat(final)).ino).toBe(ino);
  expect(countsOf((await loadSequence(cut.sequenceId)).tally)).toMatchObject({
    activity: { rendering: 0, waiting: 0 },
  });
  expect(await fs.readdir(cut.folder)).toEqual(["N4.0001.png"]);
});

test("what is said of attempts lies in a file beside the frames too, one a node; the log of a run is searched by text and node", async () => {
  const told = await stage.addShot("N9", { frames: "1-2" });
  const { runId } = await startRun({
    sequenceId: told.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["quay-1"],
    scope: "version",
  });
  await finished(runId);
  const file = await fs.readFile(path.join(told.folder, "../../.tally/log/quay-1.log"), "utf8");
  for (const frame of [1, 2])
    expect(file).toMatch(
      new RegExp(`^\\d{4}-\\S+Z run ${runId} main frame ${frame} attempt \\d+ info: started on quay-1$`, "m"),
    );
  const texts = async (filter: { node?: string; search?: string }) =>
    (await viewLog(runId, filter)).map((line) => `${line.frame} ${line.text}`);
  expect(await texts({ search: "STARTED" })).toEqual(["1 started on quay-1", "2 started on quay-1"]);
  expect(await texts({ search: "2 started" })).toEqual(["2 started on quay-1"]);
  expect([await texts({ node: "quay-9" }), await texts({ search: "100 % of nothing" })]).toEqual([[], []]);
});
