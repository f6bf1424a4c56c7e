/** Runs that are for a group of nodes, and renderers of which only so many frames may be in work at once. */
import { STAND_IN } from "@/core/plan/renderer";
import { groupMark } from "@/core/run/who-takes";
import { directNode, limitRenderer } from "@/server/actions/nodes";
import { preflightRun } from "@/server/actions/preflight";
import { startRun } from "@/server/actions/start-run";
import { stopRun } from "@/server/actions/stop-run";
import { closePool, makePool, type Pool, pool, transact } from "@/server/db/pool";
import { row, write } from "@/server/db/rows";
import { claim, type Claimer } from "@/server/queue/claim";
import { finish, holdLease, type Lease } from "@/server/queue/lease";
import { forgetOpenQueue } from "@/server/queue/open-runs";
import { saveNode } from "@/server/store/nodes";
import { runById } from "@/server/store/runs";
import { viewRun } from "@/server/views/runs";
import { NOTHING } from "../support/measures";
import { openStage, type Stage } from "../support/stage";

let stage: Stage;
/** As of several machines: each remembers the queue for itself. */
let pools: readonly Pool[];
let quay: Claimer;
let desk: Claimer;

beforeAll(async () => {
  stage = await openStage();
  pools = [1, 2, 3, 4].map(() => makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 4));
  const make = async (name: string): Promise<Claimer> => ({
    id: await saveNode(pool(), { name, host: name, processors: 2, pid: 1, session: name }),
    name,
  });
  quay = await make("quay-1");
  desk = await make("desk");
});
afterAll(async () => {
  for (const one of pools) await one.end();
  await stage.strike();
  await closePool();
});

/** As if they had just been heard of. */
const awake = (): Promise<unknown> => write(pool(), "UPDATE node SET seen_at = NOW(3)");
const ask = async (node: Claimer, on: Pool = pool()): Promise<Lease | null> => {
  forgetOpenQueue(on);
  return claim(on, node, 30);
};
const complete = (lease: Lease): Promise<void> =>
  transact(async (tx) => {
    await holdLease(tx, lease);
    await finish(tx, lease, NOTHING);
  });
const begin = async (code: string, frames: string, nodes: readonly string[] | null): Promise<number> => {
  const { sequenceId } = await stage.addShot(code, { frames });
  return (await startRun({ sequenceId, phrase: "all", policy: "fill", nodes, scope: "version" })).runId;
};

test("a run for a group is for whoever is in it when a frame is taken", async () => {
  await directNode("quay-1", { groups: ["farm", "night"] }, "Mara");
  const runId = await begin("NG1", "1-6", [groupMark("farm")]);
  await awake();
  expect(await ask(desk)).toBeNull();
  await complete((await ask(quay))!);
  await directNode("desk", { groups: ["farm"] });
  await complete((await ask(desk))!);
  await directNode("quay-1", { groups: [] });
  expect(await ask(quay)).toBeNull();
  expect((await viewRun((await runById(pool(), runId))!)).nodes).toEqual(["group:farm"]);
  await stopRun(runId, "now");
});

test("what is decided of a node else leaves its groups as they are, and they are told from a shell", async () => {
  await directNode("desk", { cores: 2 });
  const told = await stage.cli("group", "--json");
  expect(JSON.parse(told.stdout)).toEqual([
    { node: "desk", groups: ["farm"] },
    { node: "quay-1", groups: [] },
  ]);
  expect((await stage.cli("group", "quay-1", "--in", "night, farm")).stdout).toBe("quay-1  night, farm\n");
  expect((await stage.cli("group", "quay-1", "--none")).stdout).toBe("quay-1  in no group\n");
  for (const wrong of [
    ["quay-1", "--in", "a b"],
    ["quay-1", "--in", "a".repeat(33)],
    ["--in", "farm"],
    ["crane", "--in", "farm"],
    ["quay-1", "--in", "farm", "--none"],
  ])
    expect((await stage.cli("group", ...wrong)).code).toBe(2);
});

test("before the start nodes of the group are asked, and no others", async () => {
  const { sequenceId } = await stage.addShot("NG2", { frames: "1-2" });
  const points = await preflightRun({
    sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: [groupMark("farm")],
    scope: "version",
  });
  const told = JSON.stringify(points);
  expect(told).toContain("desk");
  expect(told).not.toContain("quay-1");
  expect(told).not.toContain("group:");
  const nobody = await preflightRun({
    sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: [groupMark("crane"), "desk"],
    scope: "version",
  });
  expect(nobody).toContainEqual(expect.objectContaining({ code: "node-silent", node: "group:crane" }));
});

test("of a renderer no more frames are in work than may be, however many ask at one moment", async () => {
  await limitRenderer(STAND_IN, 2, "Mara");
  const first = await begin("NG3", "1-10", null);
  const second = await begin("NG4", "1-10", null);
  await awake();
  const asked = await Promise.all(
    [quay, desk, quay, desk].flatMap((node, i) => [ask(node, pools[i]), ask(node, pools[(i + 1) % 4])]),
  );
  const leases = asked.filter((lease) => lease !== null);
  expect(leases).toHaveLength(2);
  const views = await Promise.all(
    [first, second].map(async (id) => (await viewRun((await runById(pool(), id))!)).limit),
  );
  expect(views).toEqual([
    { renderer: STAND_IN, atOnce: 2, inWork: 2 },
    { renderer: STAND_IN, atOnce: 2, inWork: 2 },
  ]);
  await complete(leases[0]!);
  const next = await ask(desk);
  expect(next).not.toBeNull();
  expect(await ask(quay)).toBeNull();

  // A lease that has run out holds no licence.
  await write(pool(), "UPDATE task SET lease_until = NOW(6) - INTERVAL 1 SECOND WHERE id = ?", [
    next!.taskId,
  ]);
  const taken = await ask(quay);
  expect(taken?.taskId).toBe(next!.taskId);

  await limitRenderer(STAND_IN, 3);
  expect(await ask(quay)).not.toBeNull();
  expect(await ask(quay)).toBeNull();
  await limitRenderer(STAND_IN, null);
  for (let i = 0; i < 4; i++) expect(await ask(quay)).not.toBeNull();
  expect((await viewRun((await runById(pool(), first))!)).limit).toBeNull();
  for (const id of [first, second]) await stopRun(id, "now");
});

test("a limit is said and told from a shell; of what nothing declares there is none", async () => {
  expect((await stage.cli("limit")).stdout).toBe("As many frames as nodes take.\n");
  expect((await stage.cli("limit", "stand-in", "--at-once", "4")).stdout).toBe("stand-in  4 at once\n");
  expect(JSON.parse((await stage.cli("limit", "--json")).stdout)).toEqual([
    { renderer: "stand-in", atOnce: 4 },
  ]);
  for (const wrong of [
    ["stand-in", "--at-once", "0"],
    ["stand-in", "--at-once", "1.5"],
    ["stand-in", "--at-once", "1000000"],
    ["--at-once", "4"],
    ["stand-in", "--at-once", "4", "--none"],
  ])
    expect((await stage.cli("limit", ...wrong)).code).toBe(2);
  expect((await stage.cli("limit", "ray", "--at-once", "4")).code).not.toBe(0);
  expect((await stage.cli("limit", "stand-in", "--none")).code).toBe(0);
  expect(await row(pool(), "SELECT 1 FROM setting WHERE name LIKE 'at-once:%'")).toBeNull();
});
