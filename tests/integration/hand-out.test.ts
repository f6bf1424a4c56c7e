/**
 * A fixed split over machines that are not connected: what each takes along, renders there, and brings back.
 */
import { spawn } from "node:child_process";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";
import { formatPhrase } from "@/core/frames/phrase";
import { closePool, pool } from "@/server/db/pool";
import { listFiles } from "@/server/store/frame-files";
import { runById } from "@/server/store/runs";
import { changeRun } from "@/server/actions/change-run";
import { catchUp } from "@/server/folder/check";
import { takeBackShare } from "@/server/actions/hand-out";
import { closeEndedRuns } from "@/server/queue/run-end";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { type Ended, HOME, openStage, runCli, type Stage, until } from "../support/stage";
import { requireSequence } from "@/server/store/shots";
import { viewHandOut } from "@/server/views/hand-out";
import { runCounts } from "@/server/store/tasks";
import type { RunRequest } from "@/server/actions/run-request";

let stage: Stage;
let elsewhere: string;
beforeAll(async () => {
  stage = await openStage();
  elsewhere = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-elsewhere-"));
  await stage.startNode("quay-1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
  await fs.rm(elsewhere, { recursive: true, force: true });
});

const handOut = (
  sequenceId: number,
  shares: NonNullable<RunRequest["shares"]>,
  more: Partial<RunRequest> = {},
) => startRun({ sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null, shares, ...more });

/** A machine that has the folder, and neither the database nor the storage. */
async function carry(
  runId: number,
  machine: string,
): Promise<{
  readonly folder: string;
  readonly call: (...args: string[]) => Promise<Ended>;
  readonly bringBack: () => Promise<void>;
}> {
  const { folder: from, returnTo } = await viewHandOut(runId);
  const folder = await fs.mkdtemp(path.join(elsewhere, `${machine}-`));
  await fs.cp(from, folder, { recursive: true });
  const out = path.join(folder, "out");
  return {
    folder,
    call: (...args) =>
      runCli(["hand-out", path.join(folder, "hand-out.json"), "--machine", machine, "--out", out, ...args], {
        PLAIN_TALLY_DATABASE_URL: "mysql://nobody@127.0.0.1:1/none",
        PLAIN_TALLY_ROOTS: "",
      }),
    bringBack: () => fs.cp(out, returnTo, { recursive: true }),
  };
}

async function scan(sequenceId: number): Promise<void> {
  await catchUp(await requireSequence(sequenceId));
  await closeEndedRuns(pool());
}

test("each machine gets its phrase, a call and the folder; what it brings back is taken in; no node touches it", async () => {
  const { sequenceId } = await stage.addShot("H1", { frames: "1-6", passes: ["beauty", "depth"] });
  const { runId } = await handOut(sequenceId, [
    { machine: "desk-b", phrase: "1-3" },
    { machine: "laptop", phrase: "4-99" },
  ]);
  // The node is free and takes a run that was started later; this one is not its.
  const other = await stage.addShot("H2", { frames: "1" });
  const later = await startRun({
    sequenceId: other.sequenceId,
    scope: "version",
    phrase: "all",
    policy: "fill",
    nodes: null,
  });
  await until("the later run is done", async () => (await runById(pool(), later.runId))!.state === "done");
  expect(await runCounts(pool(), runId)).toEqual({ waiting: 6, leased: 0, done: 0, failed: 0 });
  expect(formatPhrase((await loadSequence(sequenceId)).tally.activities.waiting)).toBe("1-6");
  const view = await viewHandOut(runId);
  expect(
    view.shares.map(({ machine, frames, count, back, missing }) => ({
      machine,
      frames,
      count,
      back,
      missing,
    })),
  ).toEqual([
    { machine: "desk-b", frames: "1-3", count: 3, back: 0, missing: "1-3" },
    { machine: "laptop", frames: "4-6", count: 3, back: 0, missing: "4-6" },
  ]);
  expect(view.shares[0]!.command).toBe(
    "npx plain-tally hand-out hand-out.json 1-3 --machine desk-b --out frames-of-desk-b",
  );

  // All that must be taken along, and nothing of it hidden.
  expect((await fs.readdir(view.folder)).sort()).toEqual(["hand-out.json", "scene"]);
  expect((await fs.readdir(path.join(view.folder, "scene"))).sort()).toEqual(["scene.json", "textures"]);

  const desk = await carry(runId, "desk-b");
  const first = await desk.call("1-2");
  expect([first.code, first.stdout.split("\n").length]).toEqual([0, 4]);
  // The same call again goes on where it stopped.
  const rest = await desk.call("--json");
  expect([rest.code, JSON.parse(rest.stdout)]).toEqual([
    0,
    { machine: "desk-b", made: 1, there: 2, failed: 0, left: 0, out: path.join(desk.folder, "out") },
  ]);
  await desk.bringBack();
  for (const pass of ["beauty", "depth"])
    await catchUp(
      await requireSequence((await loadSequence(sequenceId)).sequence.id + (pass === "beauty" ? 0 : 1)),
    );
  const { tally } = await loadSequence(sequenceId);
  expect([formatPhrase(tally.results.good), formatPhrase(tally.activities.waiting)]).toEqual(["1-3", "4-6"]);
  expect((await listFiles(pool(), sequenceId)).map((f) => f.node)).toEqual(["desk-b", "desk-b", "desk-b"]);
  expect((await viewHandOut(runId)).shares.map((s) => [s.back, s.missing])).toEqual([
    [3, ""],
    [0, "4-6"],
  ]);

  // The laptop was lost: its frames are rendered here.
  expect(await takeBackShare(runId, "laptop")).toEqual({ frames: 3 });
  expect((await runById(pool(), runId))!.state).toBe("done");
  await expect(takeBackShare(runId, "laptop")).rejects.toMatchObject({ code: "share-unknown" });
  const here = await startRun({ sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null });
  expect(formatPhrase(here.decision.toRender)).toBe("4-6");
  await until("the rest is done", async () => (await runById(pool(), here.runId))!.state === "done");
  expect(formatPhrase((await loadSequence(sequenceId)).tally.results.good)).toBe("1-6");
});

const pixels = (folder: string, name: string): Promise<Buffer> =>
  sharp(path.join(folder, name)).raw().toBuffer();

test("a frame that is good already is back only when another file comes; its pixels are those that a node makes", async () => {
  const { sequenceId, folder } = await stage.addShot("H3", { frames: "1-2" });
  const made = await startRun({ sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null });
  await until("the frames are there", async () => (await runById(pool(), made.runId))!.state === "done");
  const { runId } = await handOut(sequenceId, [{ machine: "desk-b", phrase: "1-2" }], { policy: "all" });
  await scan(sequenceId);
  expect((await runCounts(pool(), runId)).waiting).toBe(2);
  const ofNode = await pixels(folder, "H3.0002.png");
  const desk = await carry(runId, "desk-b");
  expect((await desk.call()).code).toBe(0);
  await desk.bringBack();
  await scan(sequenceId);
  expect([
    (await runById(pool(), runId))!.state,
    (await listFiles(pool(), sequenceId)).map((f) => f.node),
  ]).toEqual(["done", ["desk-b", "desk-b"]]);
  expect((await pixels(folder, "H3.0002.png")).equals(ofNode)).toBe(true);
});

test("ended in the middle of a frame, the same call goes on from its samples, bit for bit", async () => {
  const long = { frames: "1", width: 192, height: 108, samples: 100 };
  const { sequenceId } = await stage.addShot("H6", long);
  const { runId } = await handOut(sequenceId, [{ machine: "desk-b", phrase: "1" }]);
  const desk = await carry(runId, "desk-b");
  const child = spawn(
    process.execPath,
    [
      path.join(HOME, "bin/plain-tally.mjs"),
      "hand-out",
      path.join(desk.folder, "hand-out.json"),
      "--machine",
      "desk-b",
      "--out",
      path.join(desk.folder, "out"),
      "--json",
    ],
    { env: { ...process.env, ...stage.env }, stdio: ["ignore", "pipe", "inherit"] },
  );
  let said = "";
  child.stdout.on("data", (text: Buffer) => (said += text.toString()));
  const over = new Promise<number | null>((resolve) => child.once("exit", resolve));
  await until(
    "the renderer has worked for a second",
    async () => (await cpuSecondsOfChildren(child.pid!)) > 1,
  );
  child.kill("SIGINT");
  expect([await over, JSON.parse(said)]).toEqual([1, expect.objectContaining({ made: 0, left: 1 })]);
  expect(await fs.readdir(path.join(desk.folder, "out/.tally/checkpoints/main"))).toEqual([
    "000001.checkpoint",
  ]);
  expect((await desk.call()).code).toBe(0);
  expect(await fs.readdir(path.join(desk.folder, "out/.tally/checkpoints/main"))).toEqual([]);
  const whole = await stage.addShot("H7", long);
  const { runId: undisturbed } = await startRun({
    sequenceId: whole.sequenceId,
    scope: "version",
    phrase: "all",
    policy: "fill",
    nodes: null,
  });
  await until(
    "the undisturbed frame is there",
    async () => (await runById(pool(), undisturbed))!.state === "done",
  );
  expect(
    (await pixels(path.join(desk.folder, "out/main/beauty"), "H6.0001.png")).equals(
      await pixels(whole.folder, "H7.0001.png"),
    ),
  ).toBe(true);
});

/**
 * Processor time of the processes that a process has started, as the system counts it: 100 ticks a second.
 */
async function cpuSecondsOfChildren(pid: number): Promise<number> {
  const children = (await fs.readFile(`/proc/${pid}/task/${pid}/children`, "utf8").catch(() => ""))
    .split(" ")
    .filter((c) => c !== "");
  const ticks = await Promise.all(
    children.map(async (c) =>
      Number(
        (await fs.readFile(`/proc/${c}/stat`, "utf8").catch(() => "")).split(") ")[1]?.split(" ")[11] ?? 0,
      ),
    ),
  );
  return ticks.reduce((sum, t) => sum + t, 0) / 100;
}

test("a copy of the scene that somebody changed is told before a frame is spoiled; a damaged file is made again", async () => {
  const { sequenceId } = await stage.addShot("H4", { frames: "1" });
  const { runId } = await handOut(sequenceId, [{ machine: "desk-b", phrase: "1" }]);
  const desk = await carry(runId, "desk-b");
  expect((await desk.call()).code).toBe(0);
  await fs.truncate(path.join(desk.folder, "out/main/beauty/H4.0001.png"), 200);
  expect(JSON.parse((await desk.call("--json")).stdout)).toMatchObject({ made: 1, there: 0, left: 0 });
  const plan = JSON.parse(await fs.readFile(path.join(desk.folder, "hand-out.json"), "utf8")) as {
    sceneFolder: string;
  };
  const scene = path.join(desk.folder, plan.sceneFolder, "scene.json");
  await fs.writeFile(scene, `${await fs.readFile(scene, "utf8")}\n`);
  const spoiled = await desk.call();
  expect([spoiled.code, spoiled.stderr]).toEqual([
    1,
    "plain-tally: Not what was handed out: the scene. Its frames would be out of date.\n",
  ]);
});

test.each<[string, readonly { machine: string; phrase: string }[], Partial<RunRequest>, string]>([
  [
    "a frame for two machines",
    [
      { machine: "a", phrase: "1-4" },
      { machine: "b", phrase: "4-6" },
    ],
    {},
    "shares-overlap",
  ],
  [
    "a machine that would get nothing",
    [
      { machine: "a", phrase: "1-6" },
      { machine: "b", phrase: "50" },
    ],
    {},
    "share-empty",
  ],
  [
    "a machine named twice",
    [
      { machine: "a", phrase: "1" },
      { machine: "a", phrase: "2" },
    ],
    {},
    "machine-twice",
  ],
  ["a phrase that cannot be read", [{ machine: "a", phrase: "6-1" }], {}, "share-phrase"],
  ["one pass alone", [{ machine: "a", phrase: "1" }], { scope: "sequence" }, "hand-out-of-one"],
])("refused: %s", async (what, shares, more, code) => {
  const { sequenceId } = await stage.addShot(`HR${what.length}`, { frames: "1-6" });
  await expect(handOut(sequenceId, shares, more)).rejects.toMatchObject({
    code,
    faults: [{ field: "shares" }],
  });
});

test("the frames of a hand-out cannot be changed from here; the call itself is checked", async () => {
  const { sequenceId } = await stage.addShot("H5", { frames: "1-2" });
  const { runId } = await handOut(sequenceId, [{ machine: "desk-b", phrase: "1" }]);
  await expect(changeRun(runId, { phrase: "2" })).rejects.toMatchObject({ code: "run-handed-out" });
  const desk = await carry(runId, "desk-c");
  expect((await desk.call()).stderr).toContain("desk-c has no share of this hand-out (desk-b have)");
  expect((await desk.call("9")).stderr).toContain("the plan does not ask for 9");
  await fs.writeFile(path.join(desk.folder, "hand-out.json"), "{}");
  expect([(await desk.call()).code, (await desk.call()).stderr]).toEqual([
    2,
    expect.stringContaining("is no plan file of a hand-out"),
  ]);
});
