/** A run is given to the batch system, or taken back from it. What follows from that is the follower's (server/cluster). */
import type { ClusterView, ClusterWish } from "@/contract/cluster";
import type { Who } from "@/contract/who";
import { difference, setOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase, shorten } from "@/core/frames/phrase";
import { lookAtCluster, withoutLooks } from "../cluster/follow-cluster";
import { cancelArray, listPartitions } from "../cluster/slurm";
import { readConfiguration } from "../configuration";
import { pool, transact } from "../db/pool";
import { phraseError, TallyError } from "../errors";
import { noteDeed } from "../store/deeds";
import {
  deleteDispatch,
  dispatchOfRun,
  insertDispatch,
  openArraysOfRun,
  saveArrayCounts,
} from "../store/dispatches";
import { runById, type RunRow } from "../store/runs";
import { appendRunEvent } from "../store/run-versions";
import { tasksOfRun } from "../store/tasks";

/** How long another look is waited for, in seconds: it may be submitting ten thousand frames. */
const PATIENCE_SECONDS = 60;

async function requireSendable(id: number): Promise<RunRow> {
  const run = await runById(pool(), id);
  if (run === null || run.kind !== "sequence") throw new TallyError("run-unknown");
  if (run.handout !== null) throw new TallyError("run-handed-out");
  if (run.state !== "active") throw new TallyError("run-not-active");
  return run;
}

/** Numbers alone, and each a frame of the run. */
async function partOf(runId: number, phrase: string): Promise<string> {
  const read = parsePhrase(phrase);
  if (!read.ok) throw phraseError(read.error);
  const frames = setOf((await tasksOfRun(pool(), runId)).map((t) => t.frame));
  const outside = difference(read.set, frames);
  if (read.set.count === 0 || outside.count > 0)
    throw new TallyError("run-frames-not-in", { frames: shorten(formatPhrase(outside)) }).at("frames");
  return formatPhrase(read.set);
}

/**
 * Gives a run, or a part of it, to the batch system: when this settles it has taken the arrays.
 * @throws TallyError what it refuses; then the run is not with it
 */
export async function sendRun(id: number, wish: Partial<ClusterWish>, who: Who): Promise<void> {
  if (readConfiguration().cluster === undefined) throw new TallyError("cluster-not-declared");
  await requireSendable(id);
  const frames = wish.frames == null ? null : await partOf(id, wish.frames);
  await transact(async (tx) => {
    const { partition = null, minutes = null, memoryMb = null } = wish;
    if (!(await insertDispatch(tx, id, { frames, partition, minutes, memoryMb }, who)))
      throw new TallyError("run-sent");
    await noteDeed(tx, who, "send", { runId: id });
    await appendRunEvent(tx, id);
  });
  const refused = (await lookAtCluster(pool(), PATIENCE_SECONDS)).get(id);
  // Of several arrays some may have been taken: then the run is there, and says what is missing.
  if (refused !== undefined && (await openArraysOfRun(pool(), id)).length === 0) {
    await forgetDispatch(id);
    throw refused;
  }
}

async function forgetDispatch(id: number): Promise<void> {
  await transact(async (tx) => {
    await deleteDispatch(tx, id);
    await appendRunEvent(tx, id);
  });
}

/** Takes a run back: what waits there goes, what is in work is saved and given back. Its frames go to whoever takes them. */
export async function takeRunBack(id: number, who: Who): Promise<void> {
  if ((await runById(pool(), id)) === null) throw new TallyError("run-unknown");
  // A look that is submitting would give back what was just taken.
  const isBack = await withoutLooks(pool(), PATIENCE_SECONDS, async () => {
    if ((await dispatchOfRun(pool(), id)) === null) throw new TallyError("run-not-sent");
    // First: while the batch system is silent the run stays with it, and may be taken back once it answers.
    for (const { id: array, job } of await openArraysOfRun(pool(), id)) {
      if (job !== null)
        await cancelArray(job, false).catch((error: unknown) => {
          // It is over there already.
          if (!(error instanceof TallyError && error.code === "cluster-refused")) throw error;
        });
      await saveArrayCounts(pool(), array, { waits: 0, held: 0, works: 0, reason: null });
    }
    await forgetDispatch(id);
    await transact((tx) => noteDeed(tx, who, "send-back", { runId: id }));
    return true;
  });
  if (isBack === null) throw new TallyError("cluster-silent", { why: "a look at it has not ended yet" });
}

/** What can be chosen; asked when somebody wants to choose. */
export async function viewCluster(): Promise<ClusterView> {
  if (readConfiguration().cluster === undefined) return { isDeclared: false, partitions: [], fault: null };
  try {
    return { isDeclared: true, partitions: await listPartitions(), fault: null };
  } catch (error) {
    if (!(error instanceof TallyError)) throw error;
    return { isDeclared: true, partitions: [], fault: error.message };
  }
}
