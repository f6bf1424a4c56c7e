/** What a person decides of a node while it works: heard by a real process, in the middle of its frame. */
import os from "node:os";
import type { ChildProcess } from "node:child_process";
import fs from "node:fs/promises";
import type { Plan } from "@/core/plan/plan";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { listCheckpoints } from "@/server/store/checkpoints";
import { runById } from "@/server/store/runs";
import { directNode, pauseAll, putBack } from "@/server/actions/nodes";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { openStage, type Stage, until } from "../support/stage";
import { viewNodes } from "@/server/views/nodes";
import { listRendering } from "@/server/store/tasks";
import { attemptsOfFrame } from "@/server/store/attempts";

let stage: Stage;
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  await stage.strike();
  await closePool();
});

/** Long enough that a frame can be caught in the middle. */
const LONG: Partial<Plan> = { width: 160, height: 90, samples: 120 };
const begin = async (code: string, plan: Partial<Plan>) => {
  const shot = await stage.addShot(code, { ...LONG, ...plan });
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  return { ...shot, runId };
};
const inTheMiddle = () =>
  until("a frame is in the middle", async () =>
    (await listRendering(pool())).find((r) => (r.progress ?? 0) > 0.05),
  );
const inWork = async (): Promise<number> => (await listRendering(pool())).length;
const nothingInWork = () => until("nothing is in work", async () => (await inWork()) === 0);
const done = (runId: number) =>
  until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");

async function childrenOf(node: ChildProcess): Promise<number[]> {
  const text = await fs.readFile(`/proc/${node.pid}/task/${node.pid}/children`, "utf8");
  return text
    .trim()
    .split(" ")
    .filter((pid) => pid !== "")
    .map(Number);
}

test("paused now, its frame is saved and given back, and goes on from there once it may work again", async () => {
  await stage.startNode("quay-1");
  const { sequenceId, runId } = await begin("W1", { frames: "1" });
  await inTheMiddle();
  await directNode("quay-1", { pause: "now" });
  await nothingInWork();
  expect(countsOf((await loadSequence(sequenceId)).tally)).toMatchObject({
    results: { partial: 1 },
    activity: { waiting: 1, rendering: 0 },
  });
  expect((await runById(pool(), runId))?.state).toBe("active");
  expect((await viewNodes()).nodes[0]).toMatchObject({
    name: "quay-1",
    state: "paused",
    pause: "now",
    host: os.hostname(),
  });
  await directNode("quay-1", { pause: "no" });
  await done(runId);
  expect((await attemptsOfFrame(pool(), sequenceId, 1)).map((a) => a.outcome)).toEqual(["done", "stopped"]);
});

test("paused after its frame it finishes that one and takes no other; everything can be paused at once, also nodes that come later", async () => {
  await stage.startNode("quay-1");
  const { sequenceId, runId } = await begin("W2", { frames: "1-3", samples: 40 });
  await inTheMiddle();
  await pauseAll("after-frame");
  await nothingInWork();
  const made = countsOf((await loadSequence(sequenceId)).tally).results;
  expect([made.good >= 1, made.partial]).toEqual([true, 0]);
  await stage.startNode("quay-2");
  expect((await viewNodes()).nodes.map((n) => n.state)).toEqual(["paused", "paused"]);
  await pauseAll("no");
  await done(runId);
});

test("out of its hours a node saves its frame and takes none", async () => {
  await stage.startNode("quay-1");
  const { sequenceId } = await begin("W3", { frames: "1" });
  await inTheMiddle();
  const at = (minutes: number): string => {
    const then = new Date(Date.now() + minutes * 60_000);
    return `${String(then.getHours()).padStart(2, "0")}:${String(then.getMinutes()).padStart(2, "0")}`;
  };
  await directNode("quay-1", { hours: { from: at(120), to: at(180) } });
  await nothingInWork();
  expect((await listCheckpoints(pool(), sequenceId))[0]!.samples).toBeGreaterThan(0);
  await directNode("quay-1", { hours: null });
  await inTheMiddle();
});

test("with more cores a node renders as many frames at once, each in a process of its own and as polite as it is asked to be", async () => {
  const node = await stage.startNode("quay-1");
  const { runId } = await begin("W4", { frames: "1-4" });
  await inTheMiddle();
  await directNode("quay-1", { cores: 2, nice: 10 });
  await until("two frames are in work", async () => (await inWork()) === 2);
  const children = await until("both children are polite", async () => {
    const pids = await childrenOf(node);
    return pids.length === 2 && pids.every((pid) => os.getPriority(pid) === 10) && pids;
  });
  expect(new Set(children).size).toBe(2);
  await directNode("quay-1", { cores: 1 });
  await done(runId);
});

test("a frame that is put back is saved, and waits behind the others of its run", async () => {
  await stage.startNode("quay-1");
  const { sequenceId, runId } = await begin("W5", { frames: "1-2" });
  await inTheMiddle();
  await putBack(runId, sequenceId, 1);
  await until("the other frame is in work", async () =>
    (await listRendering(pool())).some((r) => r.frame === 2),
  );
  expect((await listCheckpoints(pool(), sequenceId)).map((c) => c.frame)).toEqual([1]);
  await done(runId);
  expect((await attemptsOfFrame(pool(), sequenceId, 1)).map((a) => a.outcome)).toEqual(["done", "stopped"]);
  await expect(putBack(runId, sequenceId, 1)).rejects.toMatchObject({ code: "frame-not-in-work" });
  await expect(directNode("nobody", { cores: 2 })).rejects.toMatchObject({ code: "node-unknown" });
});
