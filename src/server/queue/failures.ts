/**
 * A failed attempt, and what follows from it. The frame waits for another try, on another node if
 * there is one, until the judgement (core/review/blame) finds who is to blame: then the frame or the
 * node is set aside, or the run is held.
 */
import { retryPause } from "@/core/review/blame";
import { type Pool, transact } from "../db/pool";
import { row, write } from "../db/rows";
import { LeaseLost } from "../errors";
import { appendFrameEvent } from "../store/events";
import type { Lease } from "./lease";
import { forgetOpenQueue } from "./open-runs";
import { applyJudgement } from "./judgement";
import { failTask } from "../store/task-state";
import { noteForWebhooks } from "../store/webhooks";

export interface Failure {
  /** Of the fault. */
  readonly code: string;
  /** The fault's sentence. */
  readonly message: string;
  /** It lies in what the node sees of the files, not in frame or scene: costs no try, and blames nobody. */
  readonly isOfPlace: boolean;
}

/** Closes an attempt as failed, and judges the run. */
export async function fail(
  pool: Pool,
  lease: Omit<Lease, "taskKind" | "passes" | "failures">,
  failure: Failure,
): Promise<void> {
  await transact(async (tx) => {
    const task = await row<{ tries: number; nodeId: number }>(
      tx,
      "SELECT tries, node_id AS nodeId FROM task WHERE id = ? AND token = ? AND state = 'leased' FOR UPDATE",
      [lease.taskId, lease.token],
    );
    if (task === null) throw new LeaseLost();
    const tries = task.tries + (failure.isOfPlace ? 0 : 1);
    const pause = retryPause(Math.max(1, tries), Math.random());
    if (!(await failTask(tx, lease, tries, pause, failure.isOfPlace ? null : task.nodeId)))
      throw new LeaseLost();
    await write(
      tx,
      `UPDATE attempt
        SET outcome = 'failed', ended_at = NOW(3), code = ?, message = ?, of_place = ?
        WHERE id = ?`,
      [failure.code, failure.message.slice(0, 500), failure.isOfPlace, lease.attemptId],
    );
    await noteForWebhooks(tx, "frame.failed", [{ attempt: lease.attemptId }]);
    if (!failure.isOfPlace) await applyJudgement(tx, lease.runId);
    await appendFrameEvent(tx, "task", lease, lease.frame);
  }, pool);
  forgetOpenQueue(pool);
}
