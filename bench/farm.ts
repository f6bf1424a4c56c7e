/**
 * A farm that is played: so many nodes ask the real queue what real nodes ask, with the same statements at the same times; only
 * their frames are nothing but time. Told of each size: leases a second against what is due, how long a lease takes, waits for
 * locks, what the database costs, also while nobody has anything to do.
 */
import fs from "node:fs";
import { setTimeout as pause } from "node:timers/promises";
import path from "node:path";
import { median } from "@/core/many";
import { migrate } from "@/server/db/migrate";
import { makePool, type Pool, transact } from "@/server/db/pool";
import { row, rows } from "@/server/db/rows";
import { beatMs } from "@/server/node/beat";
import { finish, holdLease, LEASE_SECONDS, renew } from "@/server/queue/lease";
import { NodeQueue } from "@/server/queue/node-queue";
import { ordersOfNode, saveNode, touchNode } from "@/server/store/nodes";
import { cpuSeconds } from "./cpu";
import { type Measured, rounded } from "./measured";
import { endRun, newRun, NOTHING } from "./queue-tools";

const SIZES = [10, 100, 300, 1_000] as const;
/** Mean of a frame; each takes between half and one and a half of it. */
const FRAME_SECONDS = 30;
const SETTLE_SECONDS = 20;
const WATCH_SECONDS = 60;
const IDLE_SECONDS = 30;
/** Of each node: as many as one keeps that waits. */
const CONNECTIONS = 2;
/** Of a real node: `render-node.ts`. */
const SIGN_MS = 2_000;
const UNWOKEN_MS = 3_000;
/** Of what is due. */
const LEAST = 0.9;

/** What was counted of a farm of one size. */
interface Counted {
  readonly nodes: number;
  readonly leasesASecond: number;
  /** Frames that so many nodes can make in a second. */
  readonly due: number;
  /** Milliseconds: median and worst of 20. */
  readonly leaseMs: readonly [number, number];
  readonly statementsASecond: number;
  /** A minute. */
  readonly lockWaits: number;
  /** Of one processor, of the database alone. */
  readonly cores: number;
  readonly idleCores: number;
  readonly idleStatements: number;
}

/** Number of the database's process, by the file that it keeps. */
async function databasePid(pool: Pool): Promise<number> {
  const file = (await row<{ file: string }>(pool, "SELECT @@pid_file AS file"))!.file;
  const data = (await row<{ folder: string }>(pool, "SELECT @@datadir AS folder"))!.folder;
  return Number(fs.readFileSync(path.resolve(data, file), "utf8").trim());
}

async function statusOf(pool: Pool): Promise<ReadonlyMap<string, number>> {
  const found = await rows<{ Variable_name: string; Value: string }>(
    pool,
    "SHOW GLOBAL STATUS WHERE Variable_name IN ('Questions', 'Innodb_row_lock_waits')",
  );
  return new Map(found.map(({ Variable_name: name, Value: value }) => [name, Number(value)]));
}

interface Seen {
  readonly at: number;
  readonly cpu: number;
  readonly questions: number;
  readonly lockWaits: number;
}

async function look(pool: Pool, pid: number): Promise<Seen> {
  const status = await statusOf(pool);
  return {
    at: performance.now(),
    cpu: cpuSeconds(pid),
    questions: status.get("Questions")!,
    lockWaits: status.get("Innodb_row_lock_waits")!,
  };
}

/** A node as it asks; it works until `end`. */
async function playNode(
  databaseUrl: string,
  name: string,
  nodes: number,
  told: { leases: number[] },
  end: AbortSignal,
): Promise<void> {
  // What a process remembers of the queue hangs on its pool: each has its own.
  const pool = makePool(databaseUrl, CONNECTIONS);
  const session = name;
  const id = await transact(
    (tx) => saveNode(tx, { name, host: name, processors: 16, pid: 1, session }),
    pool,
  );
  const queue = new NodeQueue(
    pool,
    { id, name },
    {
      leaseSeconds: LEASE_SECONDS,
      isReady: () => Promise.resolve(true),
      paceOf: () => ({ startupSeconds: 0, frameSeconds: FRAME_SECONDS }),
      takesSeveral: () => Promise.resolve(false),
    },
  );
  const beat = beatMs(nodes);
  const rest = (ms: number): Promise<void> => pause(ms, undefined, { signal: end }).catch(() => undefined);
  let lastEvent = 0;
  const beats = (async (): Promise<void> => {
    // Nodes of a farm do not start in the same moment.
    await rest(Math.random() * beat);
    for (let signed = 0; !end.aborted; await rest(beat)) {
      if (performance.now() - signed >= SIGN_MS) {
        await touchNode(pool, id, session, true);
        signed = performance.now();
      }
      lastEvent = (await ordersOfNode(pool, id, session))?.lastEvent ?? lastEvent;
    }
  })();
  await rest(Math.random() * Math.max(UNWOKEN_MS, beat));
  while (!end.aborted) {
    const [before, began] = [lastEvent, performance.now()];
    const lease = await queue.claim();
    if (lease === null) {
      const until = performance.now() + Math.max(UNWOKEN_MS, beat);
      while (!end.aborted && performance.now() < until && lastEvent === before) await rest(beat);
      continue;
    }
    told.leases.push(performance.now() - began);
    const until = performance.now() + FRAME_SECONDS * 1000 * (0.5 + Math.random());
    while (!end.aborted && performance.now() < until) {
      await rest(Math.min(beat, until - performance.now()));
      if (!end.aborted) await renew(pool, lease, 0.5);
    }
    if (end.aborted) break;
    await transact(async (tx) => {
      await holdLease(tx, lease);
      await finish(tx, lease, NOTHING);
    }, pool);
  }
  await beats;
  await pool.end();
}

async function countFarm(databaseUrl: string, pool: Pool, pid: number, nodes: number): Promise<Counted> {
  const told = { leases: [] as number[] };
  const end = new AbortController();
  const playing = Promise.all(
    Array.from({ length: nodes }, (_, n) => playNode(databaseUrl, `farm-${n + 1}`, nodes, told, end.signal)),
  );
  playing.catch(() => undefined);
  await pause(SETTLE_SECONDS * 1000);
  const idleFrom = await look(pool, pid);
  await pause(IDLE_SECONDS * 1000);
  const idleTo = await look(pool, pid);
  const run = await newRun(
    pool,
    nodes * Math.ceil((SETTLE_SECONDS + FRAME_SECONDS + WATCH_SECONDS) / (FRAME_SECONDS / 3)),
  );
  // Until the first frames end, and nodes lease at different moments.
  await pause((SETTLE_SECONDS + FRAME_SECONDS) * 1000);
  told.leases.length = 0;
  const from = await look(pool, pid);
  await pause(WATCH_SECONDS * 1000);
  const to = await look(pool, pid);
  const leases = [...told.leases].sort((a, b) => a - b);
  end.abort();
  await playing;
  await endRun(pool, run);
  const seconds = (to.at - from.at) / 1000;
  const idleSeconds = (idleTo.at - idleFrom.at) / 1000;
  return {
    nodes,
    leasesASecond: leases.length / seconds,
    due: nodes / FRAME_SECONDS,
    leaseMs: [median(leases), leases[Math.floor(leases.length * 0.95)] ?? 0],
    statementsASecond: (to.questions - from.questions) / seconds,
    lockWaits: ((to.lockWaits - from.lockWaits) * 60) / seconds,
    cores: (to.cpu - from.cpu) / seconds,
    idleCores: (idleTo.cpu - idleFrom.cpu) / idleSeconds,
    idleStatements: (idleTo.questions - idleFrom.questions) / idleSeconds,
  };
}

const sentence = (c: Counted): string =>
  `${c.nodes} nodes: ${rounded(c.leasesASecond)} leases a second of ${rounded(c.due)} due, a lease takes ${rounded(c.leaseMs[0])} ms (19 of 20 under ${rounded(c.leaseMs[1])}), ${Math.round(c.statementsASecond)} statements a second, ${rounded(c.lockWaits)} waits for locks a minute, ${rounded(c.cores)} cores of the database; with nothing to do ${Math.round(c.idleStatements)} statements, ${rounded(c.idleCores)} cores`;

export async function farm(home: string, databaseUrl: string): Promise<Measured> {
  const pool = makePool(databaseUrl, CONNECTIONS);
  try {
    await migrate(pool, path.join(home, "db"));
    const pid = await databasePid(pool);
    const counted: Counted[] = [];
    for (const nodes of SIZES) counted.push(await countFarm(databaseUrl, pool, pid, nodes));
    const { bytes } = (await row<{ bytes: number }>(
      pool,
      "SELECT SUM(data_length + index_length) + 0e0 AS bytes FROM information_schema.tables WHERE table_schema = DATABASE()",
    ))!;
    const { tasks } = (await row<{ tasks: number }>(pool, "SELECT COUNT(*) + 0e0 AS tasks FROM task"))!;
    const last = counted.at(-1)!;
    return {
      name: "farm-1000",
      value: rounded(last.leasesASecond),
      unit: "leases/s",
      yardstick: rounded(last.due),
      ratio: rounded(last.leasesASecond / last.due),
      goal: `1,000 played nodes whose frames take ${FRAME_SECONDS} s lease at least ${LEAST} of what is due (the yardstick). ${counted.map(sentence).join(". ")}. The database holds ${Math.round(bytes / 1e6)} MB for ${tasks} frames`,
      holds: last.leasesASecond >= LEAST * last.due,
    };
  } finally {
    await pool.end();
  }
}
