import { formatPhrase } from "@/core/frames/phrase";
import { closePool, makePool, type Pool, pool, transact } from "@/server/db/pool";
import { row } from "@/server/db/rows";
import { LeaseLost } from "@/server/errors";
import { finish, freeExpiredLeases, giveBack, holdLease, type Lease, renew } from "@/server/queue/lease";
import { fail } from "@/server/queue/failures";
import { settleRuns } from "@/server/queue/settle";
import { saveNode } from "@/server/store/nodes";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { NOTHING } from "../support/measures";
import { openStage, type Stage, until } from "../support/stage";
import { runCounts } from "@/server/store/tasks";
import { claim, claimOfRun } from "@/server/queue/claim";
import { describeLease } from "@/server/queue/leased-frame";
import { resumeRun, stopRun } from "@/server/actions/stop-run";

let stage: Stage;
let second: Pool;
let node: { id: number; name: string };
let other: { id: number; name: string };

beforeAll(async () => {
  stage = await openStage();
  second = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 8);
  const make = async (name: string) => ({
    id: await saveNode(pool(), { name, host: "here", processors: 2, pid: 1, session: name }),
    name,
  });
  node = await make("quay-1");
  other = await make("quay-2");
});
afterAll(async () => {
  await second.end();
  await stage.strike();
  await closePool();
});

const complete = (lease: Lease): Promise<void> =>
  transact(async (tx) => {
    await holdLease(tx, lease);
    await finish(tx, lease, NOTHING);
  });

async function newRun(
  code: string,
  frames: string,
  nodes: string[] | null = null,
): Promise<{ runId: number; sequenceId: number }> {
  const { sequenceId } = await stage.addShot(code, { frames });
  const { runId } = await startRun({ sequenceId, phrase: "all", policy: "fill", nodes, scope: "version" });
  return { runId, sequenceId };
}

test("eight clients lease and complete every frame exactly once", async () => {
  const { runId } = await newRun("Q1", "1-120");
  const first = (await claimOfRun(pool(), runId, node.id))!;
  expect(first.frame).toBe(1);
  await complete(first);
  const taken = [first.frame];
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      for (;;) {
        const lease = await claimOfRun(second, runId, node.id);
        if (lease === null) return;
        taken.push(lease.frame);
        await complete(lease);
      }
    }),
  );
  expect(taken).toHaveLength(120);
  expect(new Set(taken).size).toBe(120);
  expect(await runCounts(pool(), runId)).toMatchObject({ done: 120, waiting: 0, leased: 0 });
  await settleRuns(pool());
  expect((await runById(pool(), runId))?.state).toBe("done");
});

test("an expired lease goes to another node, and its first holder can neither renew nor finish", async () => {
  const { runId } = await newRun("Q2", "1");
  const first = (await claimOfRun(pool(), runId, node.id, 0))!;
  const successor = await until("the lease is free again", () => claim(second, other));
  expect([successor.frame, successor.token === first.token]).toEqual([first.frame, false]);
  await expect(renew(pool(), first, 0.5)).rejects.toThrow(LeaseLost);
  await expect(complete(first)).rejects.toThrow(LeaseLost);
  await expect(fail(pool(), first, { code: "x", message: "x", isOfPlace: false })).rejects.toThrow(LeaseLost);
  await giveBack(pool(), first);
  await complete(successor);
  expect(await runCounts(pool(), runId)).toMatchObject({ done: 1 });
});

/** Frames on leases that ran out, freed by the clock: their node was the only one that might take them. */
async function freed(
  code: string,
  frames: string,
): Promise<{ leases: Lease[]; runId: number; sequenceId: number }> {
  const { runId, sequenceId } = await newRun(code, frames, ["quay-1"]);
  const leases: Lease[] = [];
  for (let lease = await take(); lease !== null; lease = await take()) leases.push(lease);
  expect(await claim(second, other)).toBeNull();
  await until("whoever looks frees them", async () => {
    await freeExpiredLeases(second);
    return (await runCounts(second, runId)).waiting === leases.length;
  });
  return { leases, runId, sequenceId };

  function take(): Promise<Lease | null> {
    return claimOfRun(pool(), runId, node.id, 0);
  }
}
const outcomeOf = async ({ attemptId }: Lease): Promise<string> =>
  (await row<{ outcome: string }>(pool(), "SELECT outcome FROM attempt WHERE id = ?", [attemptId]))!.outcome;

describe("a lease that ran out, which nobody else may take, is freed by the clock", () => {
  let placed: Lease;
  let renewed: Lease;
  let tried: Lease;
  let runId: number;
  beforeAll(async () => {
    const found = await freed("Q30", "1-3");
    ({ runId } = found);
    [placed, renewed, tried] = found.leases as [Lease, Lease, Lease];
  });
  afterAll(() => stopRun(runId, "now"));

  test("who comes back with the picture places it", async () => {
    expect(await outcomeOf(placed)).toBe("lost");
    await complete(placed);
    expect([await outcomeOf(placed), (await runCounts(pool(), runId)).done]).toEqual(["done", 1]);
  });

  test("a holder that was out of reach renews it, and goes on", async () => {
    expect(await renew(pool(), renewed, 0.5)).toBe("active");
    expect([await outcomeOf(renewed), (await runCounts(pool(), runId)).leased]).toEqual(["running", 1]);
    await complete(renewed);
  });

  test("who comes back after another has tried the frame has lost it", async () => {
    await giveBack(pool(), (await claimOfRun(pool(), runId, node.id))!);
    await expect(complete(tried)).rejects.toThrow(LeaseLost);
  });

  test("so has who comes back after the run has ended, or after another run has made the frame", async () => {
    const ended = await freed("Q31", "1-2");
    const [first, again] = ended.leases as [Lease, Lease];
    await stopRun(ended.runId, "now");
    await expect(complete(first)).rejects.toThrow(LeaseLost);
    const next = await startRun({
      sequenceId: ended.sequenceId,
      phrase: "2",
      policy: "all",
      nodes: null,
      scope: "version",
    });
    await complete((await claimOfRun(pool(), next.runId, other.id))!);
    await resumeRun(ended.runId);
    await expect(complete(again)).rejects.toThrow(LeaseLost);
    await stopRun(ended.runId, "now");
  });
});

test("a lease that only ran out is still its holder's: nobody has taken the frame", async () => {
  const { runId } = await newRun("Q32", "1");
  const lease = (await claimOfRun(pool(), runId, node.id, 0))!;
  await complete(lease);
  expect((await runCounts(pool(), runId)).done).toBe(1);
});

test("while a holder has its lease locked, nobody takes it over, however long ago it ran out; another that ran out is taken", async () => {
  const { runId } = await newRun("Q3", "1-2");
  const held = (await claimOfRun(pool(), runId, node.id, 1))!;
  const left = (await claimOfRun(pool(), runId, node.id, 1))!;
  await transact(async (tx) => {
    await holdLease(tx, held);
    // By the clock, and seen by everybody: nothing of this transaction has to do with it.
    await until("both leases have run out", async () => {
      const found = await row<{ n: number }>(
        second,
        "SELECT COUNT(*) AS n FROM task WHERE run_id = ? AND state = 'leased' AND lease_until < NOW(6)",
        [runId],
      );
      return found!.n === 2;
    });
    const taken = await until("what ran out is taken over", () => claim(second, other));
    expect(taken.frame).toBe(left.frame);
    expect(await claim(second, other)).toBeNull();
    await finish(tx, held, NOTHING);
  });
  expect(await runCounts(pool(), runId)).toMatchObject({ done: 1, leased: 1 });
  // What is left must not wait for the tests behind.
  await stopRun(runId, "now");
});

test("giving a frame back is no failure: it waits, with its tries as before", async () => {
  const { runId } = await newRun("Q5", "1");
  const lease = (await claimOfRun(pool(), runId, node.id))!;
  await giveBack(pool(), lease);
  const again = (await claimOfRun(pool(), runId, other.id))!;
  expect(again.frame).toBe(lease.frame);
  await complete(again);
  const [rows] = await pool().query("SELECT tries FROM task WHERE id = ?", [lease.taskId]);
  expect(rows).toEqual([{ tries: 0 }]);
});

test("two runs on one frame never have it in work at the same time", async () => {
  const { runId, sequenceId } = await newRun("Q6", "1");
  const [copied] = await pool().query(
    `INSERT INTO run (sequence_id, policy, wanted)
      SELECT sequence_id, 'all', wanted
      FROM run
      WHERE id = ?`,
    [runId],
  );
  const secondRun = (copied as { insertId: number }).insertId;
  await pool().query(
    `INSERT INTO run_version (run_id, version_id, revision_id, scene_folder, sources)
      SELECT ?, version_id, revision_id, scene_folder, sources
      FROM run_version
      WHERE run_id = ?`,
    [secondRun, runId],
  );
  await pool().query("INSERT INTO task (run_id, sequence_id, frame, position) VALUES (?, ?, 1, 0)", [
    secondRun,
    sequenceId,
  ]);
  const lease = (await claimOfRun(pool(), runId, node.id))!;
  expect(await claimOfRun(second, secondRun, other.id)).toBeNull();
  await complete(lease);
  const later = await until("the other run's frame is free", () => claimOfRun(second, secondRun, other.id));
  await complete(later);
});

test("a run for chosen nodes is not for the others", async () => {
  await newRun("Q7", "1", ["quay-2"]);
  const lease = await until("the other node sees the run", () => claim(pool(), other));
  expect(await claim(pool(), node)).toBeNull();
  expect(await describeLease(pool(), lease)).toMatchObject({
    shot: "Q7",
    camera: "main",
    version: 1,
    plan: { samples: 4 },
  });
  await complete(lease);
});

test("what waits and what renders is told as sets, whatever the step and however many runs ask for a frame", async () => {
  const { sequenceId } = await stage.addShot("Q10", { frames: "-4-20" });
  await startRun({
    sequenceId,
    phrase: "-4-2,6-14/2,19",
    policy: "fill",
    nodes: ["nobody"],
    scope: "version",
  });
  await startRun({ sequenceId, phrase: "3", policy: "fill", nodes: ["quay-1"], scope: "version" });
  const lease = await until("the second run is seen", () => claim(pool(), node));
  const { activities } = (await loadSequence(sequenceId)).tally;
  expect([formatPhrase(activities.waiting), formatPhrase(activities.rendering)]).toEqual([
    "-4-2,6-14/2,19",
    "3",
  ]);
  await complete(lease);
});

test("Stop after the running frames leases nothing more and ends when they are done; Resume goes on with the rest", async () => {
  const { runId } = await newRun("Q8", "1-3");
  const lease = (await claimOfRun(pool(), runId, node.id))!;
  await stopRun(runId, "after-frames");
  expect(await claim(pool(), node)).toBeNull();
  await settleRuns(pool());
  expect((await runById(pool(), runId))?.state).toBe("stopping");
  await complete(lease);
  await settleRuns(pool());
  expect((await runById(pool(), runId))?.state).toBe("stopped");
  await resumeRun(runId);
  expect((await until("the run is seen again", () => claim(pool(), node))).frame).toBe(2);
});

test("Stop at once lets the holder save what it has: the run has stopped once the frame is back", async () => {
  const { runId } = await newRun("Q9", "1-3");
  const lease = (await claimOfRun(pool(), runId, node.id))!;
  await stopRun(runId, "now");
  expect(await renew(pool(), lease, 0.9)).toBe("halting");
  await settleRuns(pool());
  expect([(await runById(pool(), runId))?.state, await claimOfRun(pool(), runId, node.id)]).toEqual([
    "halting",
    null,
  ]);
  await giveBack(pool(), lease);
  await settleRuns(pool());
  await expect(renew(pool(), lease, 0.9)).rejects.toThrow(LeaseLost);
  expect([(await runById(pool(), runId))?.state, (await runCounts(pool(), runId)).waiting]).toEqual([
    "stopped",
    3,
  ]);
  await expect(stopRun(runId, "now")).rejects.toMatchObject({ code: "run-not-active" });
});
