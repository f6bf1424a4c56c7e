/**
 * Keeps what the batch system has to do equal to what the queue wants: one look asks it one question, whatever the number of
 * frames. A run is submitted as arrays of its waiting frames; what comes back is submitted again; a run that is held, ordered
 * or ended is so there, too; and a task that was ended without a word is told as a failed attempt. Nothing depends on it but
 * that: tasks lease their frames themselves, and nothing is rendered twice for a look that comes late.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { CLUSTER_ENDS } from "@/contract/cluster-faults";
import { sayFault } from "@/contract/faults";
import type { Priority } from "@/contract/run-manner";
import { arrayChunks } from "@/core/cluster/array-chunks";
import type { ArrayLine, ArrayPhase } from "@/core/cluster/array-listing";
import { ordersFor, type SentArray, type Submission } from "@/core/cluster/orders";
import { endOfTask } from "@/core/cluster/task-end";
import { type FrameSet, has } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { readConfiguration } from "../configuration";
import { isDatabaseAway } from "../db/away";
import { withHouseLock } from "../db/house-lock";
import { type Pool, transact } from "../db/pool";
import { LeaseLost, TallyError } from "../errors";
import { arrayOutputFolder, versionPlace } from "../files/layout";
import { tailOfFile } from "../files/tail-of-file";
import { fail } from "../queue/failures";
import { forgetOpenQueue, openQueue } from "../queue/open-runs";
import {
  type ArrayLease,
  arrayLeases,
  type ArrayRow,
  deleteArray,
  type DispatchRow,
  insertArray,
  machinesAside,
  noteSubmission,
  openArrays,
  openDispatches,
  saveArrayCounts,
  saveArrayJob,
  saveDispatchFault,
  waitingTasks,
} from "../store/dispatches";
import { housePause } from "../store/nodes";
import { appendRunEvent } from "../store/run-versions";
import { requireSequence } from "../store/shots";
import { beginNow, cancelArray, holdArray, largestIndex, listArrays, setNice, submitArray } from "./slurm";

/** Between two looks. */
const EVERY_MS = 3_000;
/** What came back is submitted again after so long: a machine that gives everything back must not be started without end. */
const AGAIN_SECONDS = 10;

/** Of a run, in the batch system: from 0 on, where less goes first. */
const NICE: Readonly<Record<Priority, number>> = { 1: 0, 0: 100, [-1]: 200 };

const nameOf = (arrayId: number): string => `tally-${arrayId}`;

/** Saved by us: always one that can be read. */
function framesOf(phrase: string): FrameSet {
  const read = parsePhrase(phrase);
  if (!read.ok) throw new Error(read.error.message);
  return read.set;
}

/** An array with its lines. One that was submitted while the server went away is found by its name; null: it never was. */
function sentArray(row: ArrayRow, listing: readonly ArrayLine[]): SentArray | null {
  const job = row.job ?? listing.find((line) => line.name === nameOf(row.id))?.job ?? null;
  if (job === null) return null;
  const lines = listing.filter((line) => line.job === job);
  return { id: row.id, leadId: row.leadId, kind: row.kind, shift: row.shift, job, lines };
}

/** Notes how an array stands. @returns whether that is news */
function noteArray(pool: Pool, { id, lines }: SentArray): Promise<boolean> {
  const count = (phase: ArrayPhase): number =>
    lines.reduce((sum, line) => sum + (line.phase === phase ? line.indices.count : 0), 0);
  return saveArrayCounts(pool, id, {
    ...{ waits: count("waits"), held: count("held"), works: count("works") },
    reason: lines.find((line) => line.phase === "waits" || line.phase === "held")?.reason ?? null,
  });
}

/** Those that the batch system knows, with how they stand noted. @returns with whether that is news */
async function noteArrays(
  pool: Pool,
  rows: readonly ArrayRow[],
  listing: readonly ArrayLine[],
): Promise<{ readonly arrays: readonly SentArray[]; readonly isNews: boolean }> {
  const arrays: SentArray[] = [];
  let isNews = false;
  for (const row of rows) {
    const array = sentArray(row, listing);
    if (array === null) await deleteArray(pool, row.id);
    else {
      if (row.job === null) await saveArrayJob(pool, row.id, array.job);
      isNews = (await noteArray(pool, array)) || isNews;
      arrays.push(array);
    }
  }
  return { arrays, isNews };
}

/** Closes the attempt of a task that the batch system ended, and that could not say so itself. */
async function tellSilentEnd(pool: Pool, lease: ArrayLease, listing: readonly ArrayLine[]): Promise<void> {
  const [job, index] = lease.arrayTask.split("_").map(Number) as [number, number];
  const line = listing.find((l) => l.job === job && has(l.indices, index));
  if (line?.phase === "works") return;
  const output = arrayOutputFolder(versionPlace(await requireSequence(lease.sequenceId, pool)));
  const said = await tailOfFile(path.join(output, `${lease.arrayTask}.txt`));
  // One that waits again was taken from its machine.
  const why =
    line === undefined ? null : (endOfTask(line.state, said) ?? (line.phase === "over" ? null : "node"));
  if (why === null) return;
  const code = CLUSTER_ENDS[why];
  const failure = { code, message: sayFault(code), isOfPlace: why === "node" || why === "preempted" };
  await fail(pool, lease, failure).catch((error: unknown) => {
    // Its lease ran out meanwhile, or it made the frame after all.
    if (!(error instanceof LeaseLost)) throw error;
  });
}

/** Gives frames of one camera to the batch system, in as many arrays as it needs. */
async function submit(pool: Pool, run: DispatchRow, { leadId, kind, frames }: Submission): Promise<void> {
  const output = arrayOutputFolder(versionPlace(await requireSequence(leadId, pool)));
  await fs.mkdir(output, { recursive: true });
  const without = await machinesAside(pool, run.runId);
  for (const chunk of arrayChunks(frames, await largestIndex())) {
    const { shift, indices } = chunk;
    const id = await insertArray(pool, { runId: run.runId, leadId, kind, shift });
    try {
      const job = await submitArray({
        ...{ name: nameOf(id), indices, shift, output, without },
        arguments: [
          "--run",
          String(run.runId),
          "--sequence",
          String(leadId),
          ...(kind === "light" ? ["--light"] : []),
        ],
        ...{ partition: run.partition, minutes: run.minutes, memoryMb: run.memoryMb },
        nice: NICE[run.priority],
        isHeld: false,
      });
      await saveArrayJob(pool, id, job);
      await saveArrayCounts(pool, id, { waits: chunk.frames.count, held: 0, works: 0, reason: null });
    } catch (error) {
      // One that did not answer may have taken it: the next look finds it by its name.
      if (error instanceof TallyError && error.code === "cluster-refused") await deleteArray(pool, id);
      throw error;
    }
  }
}

/** Brings one run to where the queue wants it. @returns whether pages have news of it */
async function lookAfter(
  pool: Pool,
  run: DispatchRow,
  rows: readonly ArrayRow[],
  listing: readonly ArrayLine[],
  mayBegin: boolean,
): Promise<boolean> {
  const { arrays, isNews } = await noteArrays(pool, rows, listing);
  const orders = ordersFor(
    { ...run, mayBegin, nice: NICE[run.priority], part: run.frames === null ? null : framesOf(run.frames) },
    arrays,
    run.isDue ? await waitingTasks(pool, run.runId, run.litUntil) : [],
  );
  for (const job of orders.cancel) await cancelArray(job, true);
  for (const job of orders.hold) await holdArray(job, true);
  for (const job of orders.release) await holdArray(job, false);
  for (const job of orders.setNice) await setNice(job, NICE[run.priority]);
  for (const task of orders.hurry) await beginNow(task);
  if (orders.submit.length === 0) return isNews;
  for (const some of orders.submit) await submit(pool, run, some);
  await noteSubmission(pool, run.runId, AGAIN_SECONDS);
  return true;
}

/** What the batch system did not take, by run. */
export type Refusals = ReadonlyMap<number, TallyError>;

/** What goes wrong with a run is told with it, and the next one is looked after. */
async function lookAfterAll(pool: Pool): Promise<Refusals> {
  const runs = await openDispatches(pool);
  const refusals = new Map<number, TallyError>();
  if (runs.length === 0) return refusals;
  // Before the listing: what is in work now and does not work there has ended.
  const leases = await arrayLeases(
    pool,
    runs.map((r) => r.runId),
  );
  const rows = await openArrays(pool);
  const heard = async <T>(run: DispatchRow, work: () => Promise<T>): Promise<T | null> => {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof TallyError)) throw error;
      refusals.set(run.runId, error);
      if (error.message !== run.fault) await tell(pool, run.runId, error.message);
      return null;
    }
  };
  const asked = await listArrays().catch((error: unknown) => {
    if (!(error instanceof TallyError)) throw error;
    return error;
  });
  if (asked instanceof TallyError) {
    for (const run of runs) await heard(run, () => Promise.reject(asked));
    return refusals;
  }
  for (const lease of leases) await tellSilentEnd(pool, lease, asked);
  const isPaused = (await housePause(pool)) !== "no";
  // A run that was started a moment ago is in no memory of the queue yet.
  forgetOpenQueue(pool);
  const open = await openQueue(pool);
  for (const run of runs) {
    const own = rows.filter((row) => row.runId === run.runId);
    const mayBegin = !isPaused && open.runs.some((r) => r.id === run.runId);
    const isNews = await heard(run, () => lookAfter(pool, run, own, asked, mayBegin));
    if (isNews !== null && run.fault !== null) await tell(pool, run.runId, null);
    else if (isNews === true) await transact((tx) => appendRunEvent(tx, run.runId), pool);
  }
  return refusals;
}

async function tell(pool: Pool, runId: number, fault: string | null): Promise<void> {
  await transact(async (tx) => {
    await saveDispatchFault(tx, runId, fault);
    await appendRunEvent(tx, runId);
  }, pool);
}

/**
 * Does what no look may come in between of.
 * @param patience how long a look is waited for, in seconds
 * @returns null where it was still going on
 */
export async function withoutLooks<T>(
  pool: Pool,
  patience: number,
  work: () => Promise<T>,
): Promise<T | null> {
  const connection = await pool.getConnection();
  try {
    return await withHouseLock(connection, "cluster", patience, work);
  } finally {
    connection.release();
  }
}

/**
 * One look. Of several processes that look at one moment one does it, and the others leave it at that.
 * @param patience how long another one is waited for, in seconds
 */
export const lookAtCluster = async (pool: Pool, patience = 0): Promise<Refusals> =>
  (await withoutLooks(pool, patience, () => lookAfterAll(pool))) ?? new Map();

/**
 * Looks again and again, where a batch system is named in the configuration.
 * @param pool asked each time: it may be another one after the database was away
 */
export function followClusterByTheClock(pool: () => Pool, onError: (error: unknown) => void): () => void {
  let isAt: Promise<unknown> | null = null;
  const look = async (): Promise<void> => {
    if (readConfiguration().cluster !== undefined) await lookAtCluster(pool());
  };
  const timer = setInterval(() => {
    isAt ??= look()
      .catch((error: unknown) => isDatabaseAway(error) || onError(error))
      .finally(() => (isAt = null));
  }, EVERY_MS);
  timer.unref();
  return () => clearInterval(timer);
}
