/**
 * Order, priority and times of runs, and changing them while they go; the queue itself stands in for the
 * nodes.
 */
import { formatPhrase } from "@/core/frames/phrase";
import type { Plan } from "@/core/plan/plan";
import { closePool, pool, transact } from "@/server/db/pool";
import { finish, giveBack, holdLease, type Lease, renew } from "@/server/queue/lease";
import { settleRuns } from "@/server/queue/settle";
import { saveNode } from "@/server/store/nodes";
import { runById } from "@/server/store/runs";
import { versionsOfRun } from "@/server/store/run-versions";
import { latestRevision } from "@/server/store/shots";
import { changeRun } from "@/server/actions/change-run";
import { saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { NOTHING } from "../support/measures";
import { openStage, type Stage, until } from "../support/stage";
import { runCounts, tasksOfRun } from "@/server/store/tasks";
import { claim } from "@/server/queue/claim";
import { clearFlags } from "@/server/actions/flags";
import { insertFindings } from "@/server/store/findings";
import { placeRuns } from "@/server/actions/order-runs";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { forgetOpenQueue } from "@/server/queue/open-runs";
import { closeEndedRuns } from "@/server/queue/run-end";
import { viewHouseRuns } from "@/server/views/house-runs";
import { viewRun } from "@/server/views/runs";
import type { RunRequest } from "@/server/actions/run-request";

let stage: Stage;
let node: { id: number; name: string };
beforeAll(async () => {
  stage = await openStage();
  node = {
    id: await saveNode(pool(), { name: "quay-1", host: "here", processors: 2, pid: 1, session: "s" }),
    name: "quay-1",
  };
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const complete = (lease: Lease): Promise<void> =>
  transact(async (tx) => {
    await holdLease(tx, lease);
    await finish(tx, lease, NOTHING);
  });

async function begin(
  code: string,
  plan: Partial<Plan>,
  request: Partial<RunRequest> = {},
): Promise<{ runId: number; sequenceId: number; versionId: number }> {
  const { sequenceId, versionId } = await stage.addShot(code, plan);
  const { runId } = await startRun({
    sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
    ...request,
  });
  return { runId, sequenceId, versionId };
}

/**
 * Leases and completes frames until there is none; their numbers in the order they came. What a process
 * remembers of the queue fades within a moment.
 */
async function drain(runId: number, limit = Infinity): Promise<number[]> {
  const frames: number[] = [];
  while (frames.length < limit) {
    const counts = await runCounts(pool(), runId);
    if (counts.waiting === 0) break;
    const lease = await until("a frame can be leased", () => claim(pool(), node));
    expect(lease.runId).toBe(runId);
    frames.push(lease.frame);
    await complete(lease);
  }
  return frames;
}

const waiting = async (runId: number): Promise<number[]> =>
  (await tasksOfRun(pool(), runId)).filter((t) => t.state === "waiting").map((t) => t.frame);

test("a run hands its frames out coarse to fine, from both ends, or as they were written", async () => {
  const { runId } = await begin("O1", { frames: "1-20" }, { order: "coarse-to-fine" });
  expect(await drain(runId)).toEqual([1, 17, 20, 9, 5, 13, 3, 7, 11, 15, 19, 2, 4, 6, 8, 10, 12, 14, 16, 18]);
  const ends = await begin("O2", { frames: "1-5" }, { order: "ends-first" });
  expect(await drain(ends.runId)).toEqual([1, 5, 2, 4, 3]);
  const written = await begin(
    "O3",
    { frames: "1-9" },
    { order: "as-written", phrase: "8-9, first, 1-3, !2" },
  );
  expect((await runById(pool(), written.runId))?.wanted).toBe("8-9,1,1,3");
  expect(await drain(written.runId)).toEqual([8, 9, 1, 3]);
});

test("the order of what still waits can be changed on the way", async () => {
  const { runId } = await begin("O4", { frames: "1-6" });
  expect(await drain(runId, 2)).toEqual([1, 2]);
  await changeRun(runId, { order: "ends-first" });
  expect(await drain(runId)).toEqual([3, 6, 4, 5]);
});

test("runs go one after another as they were moved, and before what nobody moved; a new one comes last", async () => {
  const [a, b, c] = [
    await begin("Q5", { frames: "1-2" }),
    await begin("Q6", { frames: "1-2" }),
    await begin("Q7", { frames: "1-2" }),
  ] as const;
  await closeEndedRuns(pool());
  await placeRuns([c.runId, b.runId], a.runId, "Mara");
  expect((await viewHouseRuns()).open.map(({ run }) => run.id)).toEqual([b.runId, c.runId, a.runId]);
  const late = await begin("Q8", { frames: "1" });
  for (const { runId } of [b, c, a, late])
    expect(await drain(runId)).toHaveLength(runId === late.runId ? 1 : 2);
  await closeEndedRuns(pool());
  await expect(placeRuns([a.runId], null)).rejects.toMatchObject({ code: "run-not-active" });
  expect((await viewRun((await runById(pool(), c.runId))!)).deeds[0]).toMatchObject({
    who: "Mara",
    did: "change",
  });
});

test("a run that waits for another begins once every frame of that one is good, and says meanwhile why not", async () => {
  const first = await begin("W1", { frames: "1-2" });
  const second = await begin("W2", { frames: "1" }, { after: first.runId, priority: 1 });
  const awaits = async () => (await viewRun((await runById(pool(), second.runId))!)).awaits;
  expect(await awaits()).toEqual({ run: first.runId, shot: "W1", why: { code: "goes" } });
  expect(await drain(first.runId, 1)).toEqual([1]);
  await stopRun(first.runId, "after-frames");
  expect((await awaits())?.why).toEqual({ code: "stopped" });
  await resumeRun(first.runId);
  expect(await drain(first.runId)).toEqual([2]);
  await closeEndedRuns(pool());
  // Done, and one of its frames does not look right.
  const flag = [{ frame: 2, text: "a gull too many" }];
  await transact((tx) => insertFindings(tx, first.sequenceId, "person", "by-hand", flag));
  expect((await awaits())?.why).toEqual({ code: "not-good", setAside: 0, findings: 1 });
  // What it waits for was decided a moment ago: longer than a process remembers of the queue.
  for (let i = 0; i < 5; i++) {
    forgetOpenQueue(pool());
    expect(await claim(pool(), node)).toBeNull();
  }
  await clearFlags(first.sequenceId, "2");
  expect(await awaits()).toBeNull();
  expect(await drain(second.runId)).toEqual([1]);
});

test("of runs that wait for one another none would ever begin: that is refused, and so is a run that is not there", async () => {
  const a = await begin("W3", { frames: "1" }, { startAt: Date.now() + 3_600_000 });
  const b = await begin("W4", { frames: "1" }, { after: a.runId });
  await expect(changeRun(a.runId, { after: b.runId })).rejects.toMatchObject({
    code: "run-waits-round",
    faults: [{ field: "after" }],
  });
  await expect(changeRun(a.runId, { after: a.runId })).rejects.toMatchObject({ code: "run-waits-round" });
  await expect(changeRun(a.runId, { after: 999_999 })).rejects.toMatchObject({ code: "run-unknown" });
  await changeRun(b.runId, { after: null });
  expect(await drain(b.runId)).toEqual([1]);
  await stopRun(a.runId, "now");
});

test("of two runs the one with priority gets every free node, and what waits for others comes last", async () => {
  const late = await begin("Q1", { frames: "1-2" }, { priority: -1 });
  const usual = await begin("Q2", { frames: "1-2" });
  const urgent = await begin("Q3", { frames: "1-2" });
  await changeRun(urgent.runId, { priority: 1 });
  expect(await drain(urgent.runId)).toEqual([1, 2]);
  expect(await drain(usual.runId)).toEqual([1, 2]);
  expect(await drain(late.runId)).toEqual([1, 2]);
  await settleRuns(pool());
});

test("frames are taken out and put in while it goes; what is in work or done is not touched", async () => {
  const { runId, sequenceId, versionId } = await begin("T1", { frames: "1-24" });
  expect(await drain(runId, 2)).toEqual([1, 2]);
  const lease = await until("a frame can be leased", () => claim(pool(), node));
  expect(await changeRun(runId, { phrase: "5-20" })).toEqual({ added: 0, droppedOut: 5 });
  expect([
    await runCounts(pool(), runId),
    formatPhrase((await loadSequence(sequenceId)).tally.activities.waiting),
  ]).toEqual([{ waiting: 16, leased: 1, done: 2, failed: 0 }, "5-20"]);
  await complete(lease);
  // Back in, and 20 at the head that the plan did not ask for before.
  const before = (await latestRevision(pool(), versionId))!;
  await saveRevision("T1", versionId, { ...before.plan, frames: "-19-24" }, before.number);
  expect(await changeRun(runId, { phrase: "-19-22" })).toEqual({ added: 25 - 2, droppedOut: 0 });
  expect((await waiting(runId)).slice(0, 3)).toEqual([-19, -18, -17]);
  expect(await runById(pool(), runId)).toMatchObject({ wanted: "-19-22" });
  expect(await versionsOfRun(pool(), runId)).toMatchObject([
    { versionId, revisionId: (await latestRevision(pool(), versionId))!.id },
  ]);
  // Frames 1 and 2 are done without a file: a scan would call them missing, the run does not make them twice.
  expect(await waiting(runId)).not.toContain(1);
  await stopRun(runId, "now");
});

test("a plan that changed the look meanwhile is not mixed into a run: frames of it need a run of their own", async () => {
  const { runId, versionId } = await begin("T2", { frames: "1-4" });
  const before = (await latestRevision(pool(), versionId))!;
  await saveRevision("T2", versionId, { ...before.plan, frames: "1-8", seed: 4 }, before.number);
  await expect(changeRun(runId, { phrase: "1-8" })).rejects.toMatchObject({ code: "run-other-plan" });
  await expect(changeRun(runId, { phrase: "1-x" })).rejects.toMatchObject({ code: "run-other-plan" });
  expect(await changeRun(runId, { priority: -1, nodes: ["mole-1"] })).toEqual({ added: 0, droppedOut: 0 });
  expect(await runById(pool(), runId)).toMatchObject({ priority: -1, nodes: ["mole-1"], wanted: "1-4" });
  await stopRun(runId, "now");
});

test("more frames are another stretch of the plan's camera move: they are not mixed into the run", async () => {
  const move = {
    kind: "turn",
    subject: [0, 0.5, 0],
    distance: 5,
    height: 1,
    direction: "clockwise",
    startAngle: 0,
    degrees: 360,
    isLoop: true,
    ease: "even",
  } as const;
  const { runId, versionId } = await begin("T4", { frames: "1-4", move });
  const before = (await latestRevision(pool(), versionId))!;
  await saveRevision("T4", versionId, { ...before.plan, frames: "1-8" }, before.number);
  await expect(changeRun(runId, { phrase: "1-8" })).rejects.toMatchObject({ code: "run-other-plan" });
  await stopRun(runId, "now");
});

test("a policy can be changed; a wrong phrase changes nothing; an unknown run is told", async () => {
  const { runId } = await begin("T3", { frames: "1-4" });
  expect(await changeRun(runId, { policy: "refine" })).toEqual({ added: 0, droppedOut: 0 });
  await expect(changeRun(runId, { phrase: "1-4,," })).rejects.toMatchObject({ code: "phrase-wrong" });
  await stopRun(runId, "now");
  await expect(changeRun(987_654, { priority: 1 })).rejects.toMatchObject({ code: "run-unknown" });
});

test("a run begins at its time and stops at its time by itself, with what is in work saved", async () => {
  const hour = 3_600_000;
  const { runId } = await begin(
    "C1",
    { frames: "1-3" },
    { startAt: Date.now() + hour, stopAt: Date.now() + 2 * hour },
  );
  await settleRuns(pool());
  expect([await claim(pool(), node), (await runById(pool(), runId))?.state]).toEqual([null, "active"]);
  await changeRun(runId, { startAt: null });
  const lease = await until("a frame can be leased", () => claim(pool(), node));
  await changeRun(runId, { stopAt: Date.now() - 1 });
  expect(await renew(pool(), lease, 0.5)).toBe("active");
  expect(await renew(pool(), lease, 0.5)).toBe("halting");
  await giveBack(pool(), lease);
  await settleRuns(pool());
  expect(await runById(pool(), runId)).toMatchObject({ state: "stopped", stopAt: null });
});

test("at its time a run that never saves samples finishes what is in work", async () => {
  const { runId } = await begin("C2", { frames: "1-3", checkpoints: { kind: "never" } });
  const lease = await until("a frame can be leased", () => claim(pool(), node));
  await changeRun(runId, { stopAt: Date.now() - 1 });
  await settleRuns(pool());
  expect(await renew(pool(), lease, 0.5)).toBe("stopping");
  await complete(lease);
  await settleRuns(pool());
  expect([(await runById(pool(), runId))?.state, await runCounts(pool(), runId)]).toEqual([
    "stopped",
    { waiting: 2, leased: 0, done: 1, failed: 0 },
  ]);
});
