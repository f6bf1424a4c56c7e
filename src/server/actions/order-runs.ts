/** In which order runs get nodes, as somebody moved them, and which waits for which. */
import type { Who } from "@/contract/who";
import { mayWaitFor, movedBefore } from "@/core/run/queue-order";
import { transact, type Tx } from "../db/pool";
import { TallyError } from "../errors";
import { noteDeed } from "../store/deeds";
import { lockQueue, runsThatWait, saveRunPlace } from "../store/run-queue";
import { appendRunEvent } from "../store/run-versions";
import { runById } from "../store/runs";

/**
 * Puts runs before another one, or at the end.
 * @throws TallyError `run-not-active` where one of them does not go on (any more)
 */
export async function placeRuns(
  moved: readonly number[],
  before: number | null,
  who: Who = null,
): Promise<void> {
  await transact(async (tx) => {
    const queue = await lockQueue(tx);
    const goes = (id: number): boolean => queue.some((run) => run.id === id);
    if (!moved.every(goes) || (before !== null && !goes(before))) throw new TallyError("run-not-active");
    for (const run of movedBefore(queue, moved, before)) {
      await saveRunPlace(tx, run);
      await appendRunEvent(tx, run.id);
    }
    for (const runId of moved) await noteDeed(tx, who, "change", { runId });
  });
}

/** @throws TallyError at the field `after`: a run that is not there, or one that waits for this one itself */
export async function requireAwaitable(tx: Tx, id: number | null, after: number): Promise<void> {
  const other = await runById(tx, after);
  if (other === null || other.kind !== "sequence")
    throw new TallyError("run-unknown").at("after", `There is no run ${after}.`);
  if (id !== null && !mayWaitFor(id, after, await runsThatWait(tx)))
    throw new TallyError("run-waits-round", { id, after }).at("after", `Run ${after} waits for run ${id}.`);
}
