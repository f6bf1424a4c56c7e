/** Batches: frames that are kept for one node, and go to others when it does not come for them. */
import type { Pace } from "@/core/run/batch";
import { closePool, makePool, type Pool, pool, transact } from "@/server/db/pool";
import { row } from "@/server/db/rows";
import { finish, holdLease, type Lease, renew } from "@/server/queue/lease";
import { NodeQueue } from "@/server/queue/node-queue";
import { saveNode } from "@/server/store/nodes";
import { changeRun } from "@/server/actions/change-run";
import { startRun } from "@/server/actions/start-run";
import { NOTHING } from "../support/measures";
import { openStage, type Stage, until } from "../support/stage";
import { stopRun } from "@/server/actions/stop-run";

let stage: Stage;
const pools: Pool[] = [];
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  await Promise.all(pools.splice(0).map((p) => p.end()));
  await stage.strike();
  await closePool();
});

/** Start-up that asks for batches of ten. */
const PACE: Pace = { startupSeconds: 30, frameSeconds: 60 };

/** A slot of a node as a process of its own would have it. */
async function slot(
  name: string,
  options: {
    readonly leaseSeconds?: number;
    readonly pace?: Pace | null;
    readonly takesSeveral?: boolean;
  } = {},
): Promise<NodeQueue> {
  const own = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 3);
  pools.push(own);
  const node = {
    id: await saveNode(pool(), { name, host: "here", processors: 2, pid: 1, session: name }),
    name,
  };
  return new NodeQueue(own, node, {
    leaseSeconds: options.leaseSeconds ?? 25,
    isReady: () => Promise.resolve(true),
    takesSeveral: () => Promise.resolve(options.takesSeveral === true),
    paceOf: () => (options.pace === undefined ? PACE : options.pace),
  });
}
const take = async (queue: NodeQueue): Promise<Lease> => until("a frame is had", () => queue.claim());
const make = (lease: Lease): Promise<void> =>
  transact(async (tx) => {
    await holdLease(tx, lease);
    await finish(tx, lease, NOTHING);
  });
const makeNext = async (queue: NodeQueue): Promise<number> => {
  const lease = await take(queue);
  await make(lease);
  return lease.frame;
};
const begin = async (code: string, frames: string, batch: number | null = null): Promise<number> => {
  const { sequenceId } = await stage.addShot(code, { frames });
  return (await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version", batch }))
    .runId;
};

test("a node takes as many frames at once as its start-up asks for; another takes those behind them", async () => {
  await begin("B1", "1-100");
  const [a, b] = [await slot("quay-1"), await slot("quay-2")];
  const first = await take(a);
  expect([first.frame, a.upcoming.map((r) => r.frame)]).toEqual([1, [2, 3, 4, 5, 6, 7, 8, 9, 10]]);
  expect((await take(b)).frame).toBe(11);
  await make(first);
  expect([await makeNext(a), await makeNext(a)]).toEqual([2, 3]);
});

test("before anything was measured frames go one by one; a size that somebody chose is kept to", async () => {
  const runId = await begin("B2", "1-100");
  const a = await slot("quay-1", { pace: null });
  await makeNext(a);
  expect(a.upcoming).toEqual([]);
  await changeRun(runId, { batch: 4 });
  expect(
    await until(
      "the new size is seen",
      async () => (await makeNext(a), a.upcoming.length > 0 && a.upcoming.length),
    ),
  ).toBe(3);
});

test("towards the end a node takes less, so that the others have work", async () => {
  await begin("B3", "1-12");
  const [a, b] = [await slot("quay-1"), await slot("quay-2")];
  await take(a);
  expect(a.upcoming.map((r) => r.frame)).toEqual([2, 3]);
  expect((await take(b)).frame).toBe(4);
});

test("frames of a node that does not come for them go to others, once", async () => {
  await begin("B4", "1-4", 4);
  const [gone, b] = [await slot("quay-1", { leaseSeconds: 1 }), await slot("quay-2")];
  await make(await take(gone));
  const made = [await makeNext(b), await makeNext(b), await makeNext(b)];
  expect(made.sort()).toEqual([2, 3, 4]);
  expect(await gone.claim()).toBeNull();
});

test("a program that takes several is called for a few at first", async () => {
  await begin("B8", "1-100");
  const a = await slot("quay-1", { pace: null, takesSeveral: true });
  await take(a);
  expect(a.upcoming.map((r) => r.frame)).toEqual([2, 3, 4]);
});

test("a frame of the batch whose row is locked at this moment is waited for, and not forgotten", async () => {
  await begin("B9", "1-3", 3);
  const a = await slot("quay-1");
  await make(await take(a));
  const [next] = a.upcoming;
  let claimed: Promise<Lease | null> = Promise.resolve(null);
  // As the node's own renewal does it, which puts off when others may have the frame.
  await transact(async (tx) => {
    await row(tx, "SELECT id FROM task WHERE id = ? FOR UPDATE", [next!.id]);
    claimed = a.claim();
    await until("the claim waits for the row", async () =>
      row(
        pool(),
        `SELECT 1
          FROM information_schema.processlist
          WHERE info LIKE '%t.reserved_node_id = %' AND id <> CONNECTION_ID()`,
      ),
    );
  });
  expect((await claimed)?.frame).toBe(2);
  expect(a.upcoming.map((r) => r.frame)).toEqual([3]);
});

test("a batch that goes on is kept, however long its frames take: each renewal puts off when others may have it", async () => {
  await begin("B5", "1-3", 3);
  const [a, b] = [await slot("quay-1"), await slot("quay-2")];
  const lease = await take(a);
  const keptUntil = async (): Promise<number> =>
    (await row<{ at: Date }>(
      pool(),
      "SELECT MIN(not_before) AS at FROM task WHERE state = 'waiting'",
    ))!.at.getTime();
  const first = await keptUntil();
  await until("renewing puts it off by a second", async () => {
    await renew(pool(), lease, 0.5);
    await a.extend();
    return (await keptUntil()) >= first + 1_000;
  });
  expect(await b.claim()).toBeNull();
  expect(lease.frame).toBe(1);
  await a.release();
  expect((await take(b)).frame).toBe(2);
});

test("a stop lets go of the batch, and a run of a higher priority comes before its rest", async () => {
  const first = await begin("B6", "1-9", 4);
  const a = await slot("quay-1");
  await makeNext(a);
  const urgent = await begin("B7", "1-2");
  await changeRun(urgent, { priority: 1 });
  const lease = await until("the urgent run is seen", async () =>
    ((l) => (l !== null && l.runId === urgent ? l : null))(await a.claim()),
  );
  expect(a.upcoming).toEqual([]);
  await make(lease);
  await makeNext(a);
  await until("the first run is taken up again", async () => ((l) => l?.runId === first)(await a.claim()));
  await stopRun(first, "after-frames");
  await until("nothing more is had", async () => (await a.claim()) === null);
  expect(a.upcoming).toEqual([]);
});
