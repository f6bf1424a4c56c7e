/** Who is set aside, and what is held, when frames fail: on the real queue, with nodes played by the test. */
import { closePool, pool, transact } from "@/server/db/pool";
import { fail } from "@/server/queue/failures";
import { finish, holdLease, type Lease } from "@/server/queue/lease";
import { openAsides } from "@/server/store/asides";
import { saveNode } from "@/server/store/nodes";
import { runById } from "@/server/store/runs";
import { letNodeIn } from "@/server/actions/nodes";
import { startRun } from "@/server/actions/start-run";
import { NOTHING } from "../support/measures";
import { openStage, type Stage, until } from "../support/stage";
import { viewNodes } from "@/server/views/nodes";
import { runCounts } from "@/server/store/tasks";
import { claim } from "@/server/queue/claim";
import { judgeRun } from "@/server/queue/judgement";
import { resumeRun } from "@/server/actions/stop-run";

let stage: Stage;
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  await stage.strike();
  await closePool();
});

interface Player {
  readonly id: number;
  readonly name: string;
}
const play = async (name: string): Promise<Player> => ({
  id: await saveNode(pool(), { name, host: "here", processors: 2, pid: 1, session: name }),
  name,
});
/** Waits out pauses and what a process remembers for a moment. */
const take = (player: Player): Promise<Lease> =>
  until(`${player.name} gets a frame`, () => claim(pool(), player));
const takeFrame = async (player: Player, frame: number): Promise<Lease> => {
  const lease = await take(player);
  expect(lease.frame).toBe(frame);
  return lease;
};
const make = async (lease: Lease): Promise<void> => {
  await transact(async (tx) => {
    await holdLease(tx, lease);
    await finish(tx, lease, NOTHING);
  });
  if (lease.failures > 0) await judgeRun(pool(), lease.runId);
};
const spoil = (lease: Lease, code = "engine-error"): Promise<void> =>
  fail(pool(), lease, { code, message: `the sea was too rough: ${code}`, isOfPlace: false });
const isIdle = async (player: Player): Promise<boolean> => (await claim(pool(), player)) === null;

async function begin(code: string, frames: string): Promise<number> {
  const { sequenceId } = await stage.addShot(code, { frames });
  // Players answer no preflight: none is awake while it asks.
  await pool().query("UPDATE node SET stopped_at = NOW(3)");
  const { runId } = await startRun({
    sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await pool().query("UPDATE node SET stopped_at = NULL, seen_at = NOW(3)");
  return runId;
}

test("a frame that failed on one node goes to another, and is set aside when it fails there too; the rest is rendered", async () => {
  const [a, b] = [await play("quay-1"), await play("quay-2")];
  const runId = await begin("F1", "1-2");
  const good = await takeFrame(a, 1);
  const bad = await takeFrame(b, 2);
  await make(good);
  await spoil(bad);
  const again = await takeFrame(a, 2);
  expect(again.failures).toBe(1);
  await spoil(again);
  expect(await runCounts(pool(), runId)).toMatchObject({ done: 1, failed: 1, waiting: 0 });
  await resumeRun(runId);
  await make(await takeFrame(b, 2));
  expect(await runCounts(pool(), runId)).toMatchObject({ done: 2, failed: 0 });
});

test("while another node may try it, a failed frame does not go back to the node that failed on it", async () => {
  const [a, b] = [await play("quay-1"), await play("quay-2")];
  await begin("F2", "1");
  await spoil(await takeFrame(a, 1), "engine-died");
  const lease = await takeFrame(b, 1);
  await make(lease);
  const [rows] = await pool().query("SELECT node_id AS node FROM attempt ORDER BY id");
  expect(rows).toEqual([{ node: a.id }, { node: b.id }]);
});

test("one node alone: a frame that fails twice is set aside, the others go on", async () => {
  const a = await play("quay-1");
  const runId = await begin("F3", "1-2");
  await make(await takeFrame(a, 1));
  await spoil(await takeFrame(a, 2));
  await spoil(await takeFrame(a, 2));
  expect(await runCounts(pool(), runId)).toMatchObject({ done: 1, failed: 1 });
  expect((await runById(pool(), runId))?.held).toBeNull();
});

test("a node that failed on three frames which others made is set aside from every run, says why, and comes back by one click", async () => {
  const [bad, good] = [await play("mole-1"), await play("quay-1")];
  const runId = await begin("F4", "1-8");
  await make(await takeFrame(good, 1));
  for (let n = 0; n < 3; n++) {
    await spoil(await take(bad), "engine-died");
    await make(await take(good));
  }
  // Three failed; the good one makes what is left of them.
  for (
    let left = await runCounts(pool(), runId);
    left.waiting > 0 && (await openAsides(pool())).length === 0;
    left = await runCounts(pool(), runId)
  )
    await make(await take(good));
  const [aside] = await openAsides(pool());
  expect(aside).toMatchObject({
    node: "mole-1",
    runId: null,
    reason: {
      code: "fails-alone",
      error: "engine-died",
      message: expect.stringContaining("too rough"),
      frames: { length: 3 },
    },
  });
  await begin("F5", "1-2");
  expect(await isIdle(bad)).toBe(true);
  expect((await viewNodes()).nodes.find((n) => n.name === "mole-1")).toMatchObject({
    state: "set-aside",
    asides: [{ id: aside!.id, runId: null }],
  });
  await letNodeIn(aside!.id);
  expect((await take(bad)).failures).toBe(0);
  // What it failed on before counts no more: one more failure does not set it aside again.
  await judgeRun(pool(), runId);
  expect(await openAsides(pool())).toEqual([]);
  await expect(letNodeIn(aside!.id)).rejects.toMatchObject({ code: "node-let-in" });
});

test("the same error from every node on its first frame holds the run: no frame is set aside, and Go on tries again", async () => {
  const players = [await play("quay-1"), await play("quay-2"), await play("mole-1")];
  const runId = await begin("F6", "1-9");
  const leases: Lease[] = [];
  for (const player of players) leases.push(await take(player));
  for (const lease of leases) {
    expect((await runById(pool(), runId))?.held).toBeNull();
    await spoil(lease, "scene-broken");
  }
  expect((await runById(pool(), runId))?.held).toEqual({
    code: "scene-fails",
    error: "scene-broken",
    message: "the sea was too rough: scene-broken",
    nodes: ["mole-1", "quay-1", "quay-2"],
    frames: [1, 2, 3],
  });
  expect(await runCounts(pool(), runId)).toMatchObject({ waiting: 9, failed: 0 });
  expect(await isIdle(players[0]!)).toBe(true);
  await resumeRun(runId);
  expect((await runById(pool(), runId))?.held).toBeNull();
  await make(await take(players[0]!));
});

test("a failure that lies in a node's files costs the frame no try and blames nobody", async () => {
  const a = await play("quay-1");
  const runId = await begin("F7", "1");
  for (let n = 0; n < 3; n++)
    await fail(pool(), await takeFrame(a, 1), {
      code: "file-eio",
      message: "the share is gone",
      isOfPlace: true,
    });
  const [rows] = await pool().query("SELECT tries, state FROM task WHERE run_id = ? ORDER BY frame", [runId]);
  expect(rows).toEqual([{ tries: 0, state: "waiting" }]);
  expect([(await runById(pool(), runId))?.held, await openAsides(pool())]).toEqual([null, []]);
});
