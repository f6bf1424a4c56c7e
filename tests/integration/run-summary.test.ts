/** What a run came to, and what is called at its end. */
import fs from "node:fs/promises";
import path from "node:path";
import { closePool, pool } from "@/server/db/pool";
import { runById } from "@/server/store/runs";
import { summarizeRun } from "@/server/views/run-summary";
import { startRun } from "@/server/actions/start-run";
import { openStage, type Stage, until } from "../support/stage";
import { runCounts } from "@/server/store/tasks";
import { stopRun } from "@/server/actions/stop-run";

let stage: Stage;
/** Where the called program writes what it was told, a line a call. */
const told = path.join(process.env.TMPDIR ?? "/tmp", `plain-tally-told-${process.pid}`);
beforeAll(async () => {
  await fs.rm(told, { force: true });
  const script = "require('fs').appendFileSync(process.argv[1], process.argv.slice(2).join(' ') + '\\n')";
  stage = await openStage(undefined, {
    whenRunEnds: {
      program: process.execPath,
      arguments: [
        "-e",
        script,
        told,
        "{shot}",
        "{version}",
        "{state}",
        "{made}",
        "{failed}",
        "{left}",
        "{folder}",
      ],
    },
  });
});
afterAll(async () => {
  await stage.strike();
  await closePool();
  await fs.rm(told, { force: true });
});
const calls = async (): Promise<string[]> =>
  (await fs.readFile(told, "utf8").catch(() => "")).split("\n").filter((line) => line !== "");
const state = async (runId: number) => (await runById(pool(), runId))?.state;

test("a run's end is told once, with what it made, kept and left, its time against the estimate, and where it lies", async () => {
  const shot = await stage.addShot("E1", { frames: "1-6" });
  const start = (phrase: string) =>
    startRun({ sequenceId: shot.sequenceId, phrase, policy: "fill", nodes: null, scope: "version" });
  await stage.startNode("quay-1");
  const first = await start("1-2");
  await until("the first run is done", async () => (await state(first.runId)) === "done");
  expect(await summarizeRun(first.runId)).toMatchObject({
    made: 2,
    kept: 0,
    left: 0,
    setAside: { count: 0, frames: "" },
    estimatedSeconds: null,
    folders: [shot.folder],
    nodes: [{ node: "quay-1", made: 2, failed: 0, lost: 0 }],
  });
  const second = await start("all");
  await until("the second run is done", async () => (await state(second.runId)) === "done");
  const summary = await summarizeRun(second.runId);
  expect(summary).toMatchObject({ made: 4, kept: 2, left: 0 });
  // What the first two frames took says how long four more would take.
  expect(summary.estimatedSeconds).toBeGreaterThan(0);
  expect(summary.seconds).toBeGreaterThan(0);
  expect(summary.workSeconds).toBeLessThanOrEqual(summary.seconds! + 0.01);
  expect(
    await until("both ends were told", async () =>
      ((lines) => (lines.length === 2 ? lines : null))(await calls()),
    ),
  ).toEqual([`E1 v001 done 2 0 0 ${shot.folder}`, `E1 v001 done 4 0 0 ${shot.folder}`]);
});

test("a run that is stopped tells what is left", async () => {
  const shot = await stage.addShot("E2", { frames: "1-3" });
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["nobody"],
    scope: "version",
  });
  await stopRun(runId, "now");
  expect(await summarizeRun(runId)).toMatchObject({
    state: "stopped",
    made: 0,
    left: 3,
    seconds: null,
    workSeconds: 0,
    nodes: [],
  });
  expect(await until("its end was told", async () => (await calls())[2])).toBe(
    `E2 v001 stopped 0 0 3 ${shot.folder}`,
  );
});

test("an end is told at once, though every node is busy with another run by then and no server is awake", async () => {
  const short = await stage.addShot("E3", { frames: "1" });
  const long = await stage.addShot("E4", { frames: "1", width: 320, height: 180, samples: 60_000 });
  const start = (shot: typeof short, priority: 0 | 1) =>
    startRun({
      sequenceId: shot.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
      priority,
    });
  const [first, then] = [await start(short, 1), await start(long, 0)];
  await until("its end was told", async () => (await calls()).includes(`E3 v001 done 1 0 0 ${short.folder}`));
  expect(await state(first.runId)).toBe("done");
  // The end may be told a moment before the node takes the next frame; it must not wait for that frame's end.
  await until("the node took the next run", async () => (await runCounts(pool(), then.runId)).leased === 1);
  expect(await runCounts(pool(), then.runId)).toMatchObject({ done: 0 });
  await stopRun(then.runId, "now");
});

test("hours in which a run stood still are no work of it", async () => {
  const shot = await stage.addShot("E7", { frames: "1-4" });
  await stage.startNode("quay-7");
  const { runId } = await startRun({
    ...{ sequenceId: shot.sequenceId, phrase: "all", policy: "fill", nodes: ["quay-7"], scope: "version" },
  });
  await until("the run is done", async () => (await state(runId)) === "done");
  const through = await summarizeRun(runId);
  expect(through.stoodStillSeconds).toBe(0);
  // Its first two frames were made before a night in which it was paused.
  await pool().query(
    `UPDATE attempt
      SET started_at = started_at - INTERVAL 8 HOUR, ended_at = ended_at - INTERVAL 8 HOUR
      WHERE run_id = ? AND frame <= 2`,
    [runId],
  );
  const summary = await summarizeRun(runId);
  expect(summary.stoodStillSeconds).toBeGreaterThan(7.9 * 3600);
  expect(summary.seconds!).toBeLessThanOrEqual(through.seconds!);
});
