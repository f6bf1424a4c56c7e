/**
 * A Slurm of our own with two machines, and the queue beside it. All is real: arrays, tasks, signals, nodes, pictures.
 */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";
import { startSlurm } from "../../scripts/lib/slurm.mjs";
import { countsOf } from "@/core/tally/tally";
import { followClusterByTheClock } from "@/server/cluster/follow-cluster";
import { sendRun, takeRunBack } from "@/server/actions/send-run";
import { startRun } from "@/server/actions/start-run";
import { changeRun } from "@/server/actions/change-run";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { listCheckpoints } from "@/server/store/checkpoints";
import { listRendering, runCounts } from "@/server/store/tasks";
import type { Plan } from "@/core/plan/plan";
import { rows } from "@/server/db/rows";
import { closePool, pool } from "@/server/db/pool";
import { dispatchOfRun, insertDispatch } from "@/server/store/dispatches";
import { runById } from "@/server/store/runs";
import { loadSequence } from "@/server/views/tally";
import { processesWith } from "../support/processes";
import { openStage, type Stage, until } from "../support/stage";

type Shot = Awaited<ReturnType<Stage["addShot"]>>;
let stage: Stage;
let slurm: Awaited<ReturnType<typeof startSlurm>>;
let folder: string;
let endFollowing = (): void => undefined;
const wrong: unknown[] = [];

beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-slurm-"));
  slurm = await startSlurm(folder, ["lamp-1", "lamp-2"]);
  stage = await openStage();
  // Tasks know of the house what its configuration file says.
  await fs.writeFile(
    stage.env.PLAIN_TALLY_CONFIG!,
    JSON.stringify({
      databaseUrl: stage.env.PLAIN_TALLY_DATABASE_URL,
      roots: { frames: stage.root },
      cluster: { settings: slurm.settings },
    }),
  );
  endFollowing = followClusterByTheClock(pool, (error) => wrong.push(error));
});
afterAll(async () => {
  endFollowing();
  await slurm.end();
  await stage.strike();
  await closePool();
  await fs.rm(folder, { recursive: true, force: true });
  expect(wrong).toEqual([]);
});

const WISH = { policy: "fill", nodes: null, scope: "version" } as const;
interface Attempt {
  readonly frame: number;
  readonly outcome: string;
  readonly code: string | null;
  readonly node: string;
  readonly arrayTask: string | null;
}
const attemptsOf = (runId: number): Promise<Attempt[]> =>
  rows<Attempt>(
    pool(),
    `SELECT a.frame, a.outcome, a.code, n.name AS node, a.array_task AS arrayTask
      FROM attempt a JOIN node n ON n.id = a.node_id WHERE a.run_id = ? ORDER BY a.id`,
    [runId],
  );

const inState = (runId: number, state: string) =>
  until(`run ${runId} is ${state}`, async () => (await runById(pool(), runId))?.state === state);
const inTheMiddle = (runId: number) =>
  until("a frame is in the middle", async () =>
    (await listRendering(pool())).find((r) => r.runId === runId && (r.progress ?? 0) > 0.1),
  );
const start = async (shot: Shot, phrase = "all"): Promise<number> =>
  (await startRun({ ...WISH, sequenceId: shot.sequenceId, phrase })).runId;
/** Tasks of a run that the batch system has, by its own words. */
const tasksThere = async (runId: number, format: string): Promise<string[]> => {
  const jobs = (await dispatchOfRun(pool(), runId))?.jobs ?? [];
  const said = await slurm.ask(
    "squeue",
    "--noheader",
    "--array",
    `--jobs=${jobs.join(",")}`,
    `--format=${format}`,
  );
  return said
    .trim()
    .split("\n")
    .map((line) => line.trim());
};

/** Seconds of work, with samples that are saved when it is asked to stop. */
const LONG: Partial<Plan> = {
  frames: "1",
  width: 160,
  height: 90,
  samples: 400,
  checkpoints: { kind: "on-stop" },
};

/** As a render makes it that nothing stopped, and that no queue knows of. */
async function uninterrupted(frame: number, size: string, samples: number): Promise<Buffer> {
  const out = path.join(stage.root, `through-${frame}-${size}-${samples}.png`);
  const scene = path.join(stage.projectFolder, "scenes/test.json");
  const ended = await stage.cli(
    ...[
      "render",
      scene,
      "--frame",
      String(frame),
      "--size",
      size,
      "--samples",
      String(samples),
      "--out",
      out,
    ],
  );
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  return sharp(out).raw().toBuffer();
}
const pixelsOf = (shot: Shot, code: string, frame: number): Promise<Buffer> =>
  sharp(path.join(shot.folder, `${code}.${String(frame).padStart(4, "0")}.png`))
    .raw()
    .toBuffer();

test("a scattered set is one array of exactly these frames, and its pictures are those of any node", async () => {
  const shot = await stage.addShot("C1", { frames: "1-100" });
  const runId = await start(shot, "55-57,77,90-96/2");
  await sendRun(runId, {}, "Mara");
  const sent = (await dispatchOfRun(pool(), runId))!;
  expect(sent).toMatchObject({ waits: 8, sentBy: "Mara", fault: null, jobs: [expect.any(Number)] });
  await inState(runId, "done");
  const attempts = await attemptsOf(runId);
  expect(attempts.map((a) => a.frame).sort((a, b) => a - b)).toEqual([55, 56, 57, 77, 90, 92, 94, 96]);
  expect(attempts.filter((a) => a.outcome !== "done")).toEqual([]);
  expect(
    attempts.filter((a) => a.arrayTask !== `${sent.jobs[0]}_${a.frame}` || !/^lamp-[12]-array$/.test(a.node)),
  ).toEqual([]);
  expect((await pixelsOf(shot, "C1", 77)).equals(await uninterrupted(77, "48x27", 4))).toBe(true);
});

test("a task that is preempted is a failed attempt with that reason, costs no try, and goes on bit for bit", async () => {
  const shot = await stage.addShot("C2", LONG);
  const runId = await start(shot);
  await sendRun(runId, {}, null);
  await inTheMiddle(runId);
  await slurm.ask("sbatch", "--partition=urgent", "--array=1-2", "--output=/dev/null", "--wrap=sleep 2");
  await inState(runId, "done");
  expect((await attemptsOf(runId)).map((a) => [a.outcome, a.code])).toEqual([
    ["failed", "cluster-preempted"],
    ["done", null],
  ]);
  expect(await rows(pool(), "SELECT tries + 0e0 AS tries FROM task WHERE run_id = ?", [runId])).toEqual([
    { tries: 0 },
  ]);
  const [, again] = await rows<{ added: number }>(
    pool(),
    "SELECT samples_added + 0e0 AS added FROM attempt WHERE run_id = ? ORDER BY id",
    [runId],
  );
  expect(again!.added).toBeLessThan(400);
  expect((await pixelsOf(shot, "C2", 1)).equals(await uninterrupted(1, "160x90", 400))).toBe(true);
});

test("stopped now, what is in work is saved and what waits is cancelled; gone on with, it is submitted again", async () => {
  const shot = await stage.addShot("C3", { ...LONG, frames: "1-6" });
  const runId = await start(shot);
  await sendRun(runId, {}, null);
  await inTheMiddle(runId);
  await stopRun(runId, "now");
  await inState(runId, "stopped");
  await until(
    "nothing of it waits there",
    async () => (await dispatchOfRun(pool(), runId))!.jobs.length === 0,
  );
  expect((await attemptsOf(runId)).map((a) => a.outcome)).toEqual(["stopped", "stopped"]);
  expect((await listCheckpoints(pool(), shot.sequenceId)).length).toBeGreaterThan(0);
  await resumeRun(runId);
  await inTheMiddle(runId);
  await takeRunBack(runId, null);
  expect(await dispatchOfRun(pool(), runId)).toBeNull();
  await until("what was in work is given back", async () => (await runCounts(pool(), runId)).leased === 0);
  expect(await runCounts(pool(), runId)).toMatchObject({ waiting: 6, done: 0 });
  await stopRun(runId, "now");
});

test("a run that is held, or stands back, is so there, too; and a machine that is drained takes none of it", async () => {
  const shot = await stage.addShot("C4", { frames: "1-4" });
  const runId = await start(shot);
  await changeRun(runId, { startAt: Date.now() + 3_600_000 });
  await sendRun(runId, {}, null);
  expect(await dispatchOfRun(pool(), runId)).toMatchObject({ jobs: [] });
  await changeRun(runId, { startAt: null, priority: -1 });
  await slurm.ask("scontrol", "update", "NodeName=lamp-1", "State=DRAIN", "Reason=cleaning");
  await until("it is submitted", async () => (await dispatchOfRun(pool(), runId))!.jobs.length > 0);
  expect(new Set(await tasksThere(runId, "%y"))).toEqual(new Set(["200"]));
  await changeRun(runId, { startAt: Date.now() + 3_600_000 });
  await until("it is held", async () => (await dispatchOfRun(pool(), runId))!.held > 0);
  await changeRun(runId, { startAt: null, priority: 1 });
  await inState(runId, "done");
  expect(new Set((await attemptsOf(runId)).map((a) => a.node))).toEqual(new Set(["lamp-2-array"]));
  await slurm.ask("scontrol", "update", "NodeName=lamp-1", "State=RESUME");
});

test("what the batch system ends for its time or its memory, or what dies there, is told with that reason", async () => {
  const timed = await stage.addShot("C5", { ...LONG, samples: 65_000 });
  const timedRun = await start(timed);
  await sendRun(timedRun, { minutes: 1 }, null);
  const killed = await stage.addShot("C6", LONG);
  const killedRun = await start(killed);
  await sendRun(killedRun, {}, null);
  await inTheMiddle(killedRun);
  for (const pid of await processesWith(`--run ${killedRun} `, stage.env.PLAIN_TALLY_CONFIG!))
    process.kill(pid, "SIGKILL");
  await until("its death is told", async () =>
    (await attemptsOf(killedRun)).some((a) => a.code === "cluster-broke"),
  );
  await inState(killedRun, "done");
  await until("its time is up", async () =>
    (await attemptsOf(timedRun)).some((a) => a.code === "cluster-time"),
  );
  const [saved] = await listCheckpoints(pool(), timed.sequenceId);
  expect(saved!.samples).toBeGreaterThan(0);
  expect(await rows(pool(), "SELECT tries + 0e0 AS tries FROM task WHERE run_id = ?", [timedRun])).toEqual([
    { tries: 0 },
  ]);
  await takeRunBack(timedRun, null);
  await stopRun(timedRun, "now");
  const large = await stage.addShot("C7", LONG);
  const largeRun = await start(large);
  await sendRun(largeRun, { memoryMb: 64 }, null);
  await until("it is set aside after two", async () => (await runCounts(pool(), largeRun)).failed === 1);
  expect((await attemptsOf(largeRun)).map((a) => a.code)).toEqual(["cluster-memory", "cluster-memory"]);
});

test("a run that waits for its time is sent, whatever the batch system refuses of another one", async () => {
  const [other, own] = [await stage.addShot("C10"), await stage.addShot("C11")];
  const otherRun = await start(other);
  // As where a partition was taken out after the run was sent.
  await insertDispatch(
    pool(),
    otherRun,
    { frames: null, partition: "gone", minutes: null, memoryMb: null },
    null,
  );
  const runId = await start(own);
  await changeRun(runId, { startAt: Date.now() + 3_600_000 });
  await sendRun(runId, {}, null);
  expect(await dispatchOfRun(pool(), runId)).toMatchObject({ jobs: [], fault: null });
  expect(await dispatchOfRun(pool(), otherRun)).toMatchObject({
    fault: expect.stringMatching(/invalid partition/i),
  });
  for (const id of [otherRun, runId]) {
    await takeRunBack(id, null);
    await stopRun(id, "now");
  }
});

test("what it refuses is said in its words, and the run is not with it", async () => {
  const shot = await stage.addShot("C9");
  const runId = await start(shot);
  await expect(sendRun(runId, { partition: "nowhere" }, null)).rejects.toThrow(/invalid partition/i);
  expect(await dispatchOfRun(pool(), runId)).toBeNull();
  await expect(sendRun(runId, { frames: "1-99" }, null)).rejects.toThrow("9-99");
  const told = await stage.cli("cluster", "send", String(runId), "--frames", "2-3", "--json");
  expect([told.code, told.stderr]).toEqual([0, ""]);
  expect(JSON.parse(told.stdout)).toMatchObject({ frames: "2-3", waits: 2 });
  expect((await stage.cli("cluster", "send", String(runId))).code).toBe(2);
  expect((await stage.cli("cluster", "list")).stdout).toContain(`${runId}  arrays`);
  expect((await stage.cli("cluster", "back", String(runId))).stdout).toContain("not with the batch system");
});

test("nodes that stay and tasks of an array make one run of 200 frames together, and no frame twice", async () => {
  const shot = await stage.addShot("C8", { frames: "1-200", samples: 16 });
  const runId = await start(shot);
  await sendRun(runId, {}, null);
  await until("a task has made one", async () => (await runCounts(pool(), runId)).done > 0);
  await stage.startNode("quay-1");
  await stage.startNode("quay-2");
  await inState(runId, "done");
  const attempts = await attemptsOf(runId);
  expect(attempts.map((a) => a.frame).sort((a, b) => a - b)).toEqual(
    Array.from({ length: 200 }, (_, i) => i + 1),
  );
  expect(attempts.filter((a) => a.outcome !== "done")).toEqual([]);
  const makers = new Set(attempts.map((a) => a.node));
  expect([...makers].some((m) => m.endsWith("-array")) && [...makers].some((m) => m.startsWith("quay"))).toBe(
    true,
  );
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 200 });
});
