/**
 * Stopping a run, going on with it, and what ends with it. States are decided by core/run/run-life; here they
 * are asked for under the run's lock.
 */
import type { Who } from "@/contract/who";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { noteDeed } from "../store/deeds";
import { lockRun, releaseRun, runById } from "../store/runs";
import { appendRunEvent } from "../store/run-versions";
import { closeEndedRuns } from "../queue/run-end";
import { runCounts } from "../store/tasks";
import { moveRun } from "../store/run-state";
import { retryTasksOfRun } from "../store/task-state";
/** Told as unknown, and not as a stop that did nothing. */
async function requireRun(id: number): Promise<void> {
  if ((await runById(pool(), id)) === null) throw new TallyError("run-unknown");
}

/** After the frames in work, or at once with the samples saved. */
export type StopHow = "after-frames" | "now";

/**
 * Stops a run after the running frames, or at once: then the nodes save the samples of what is in work and
 * give it back.
 */
export async function stopRun(id: number, how: StopHow, who: Who = null): Promise<void> {
  await requireRun(id);
  await transact(async (tx) => {
    if ((await moveRun(tx, id, how === "now" ? "stop-now" : "stop-after-these")) === null)
      throw new TallyError("run-not-active");
    await noteDeed(tx, who, how === "now" ? "stop-now" : "stop", { runId: id });
  });
  // With nothing in work it has stopped already.
  await closeEndedRuns(pool());
}

/**
 * Goes on with what the run has left, also when it is held; what was set aside waits again, whatever the
 * tally says by now: Resume never asks the policy again.
 */
export async function resumeRun(id: number, who: Who = null): Promise<void> {
  await requireRun(id);
  await transact(async (tx) => {
    const counts = await runCounts(tx, id);
    const { held } = (await lockRun(tx, id))!;
    if (counts.waiting + counts.leased + counts.failed === 0) throw new TallyError("run-finished");
    const moved = await moveRun(tx, id, "go-on");
    if (moved === null && held === null && counts.failed === 0) throw new TallyError("run-active");
    await noteDeed(tx, who, "go-on", { runId: id });
    await releaseRun(tx, id);
    await retryTasksOfRun(tx, id);
    await appendRunEvent(tx, id);
  });
}
