/**
 * Runs that come to their end: nothing left, stopped with nothing in work any more, or over by their time.
 */
import { type Pool, transact } from "../db/pool";
import { row, rows, write } from "../db/rows";
import { forgetOpenQueue } from "./open-runs";
import { appendRunEvent } from "../store/run-versions";
import { deleteOldPreviews } from "../store/previews";
import type { RunState } from "@/core/run/run-life";
import { moveRun } from "../store/run-state";
import { giveBackAllOfRun } from "../store/task-state";

/**
 * Runs that were to finish by themselves at a time stop: what is in work is saved, or finished where a plan
 * of the run never saves anything.
 */
export async function stopRunsOnTime(pool: Pool): Promise<void> {
  const due = await rows<{ id: number; losesWork: number | null }>(
    pool,
    `SELECT r.id,
        MAX(
          COALESCE(JSON_VALUE(COALESCE(r.plan, e.plan), '$.renderer'), 'stand-in') <> 'stand-in'
            OR JSON_VALUE(COALESCE(r.plan, e.plan), '$.checkpoints.kind') = 'never'
        ) AS losesWork
      FROM run r
      JOIN run_version c ON c.run_id = r.id
      JOIN plan_revision e ON e.id = c.revision_id
      WHERE r.state = 'active' AND r.stop_at <= NOW(3)
      GROUP BY r.id`,
  );
  for (const run of due) {
    await transact(async (tx) => {
      // Under the run's lock: somebody may have put the time off.
      const due = await row(
        tx,
        "SELECT id FROM run WHERE id = ? AND state = 'active' AND stop_at <= NOW(3) FOR UPDATE",
        [run.id],
      );
      if (due !== null) await moveRun(tx, run.id, run.losesWork === 1 ? "stop-after-these" : "stop-now");
    }, pool);
  }
}

/**
 * Runs whose gathered light is made, as far as it can be: their frames are leased from now on. What failed is
 * made by the frames that miss it, or fails with them.
 */
export async function beginSecondParts(pool: Pool): Promise<void> {
  const ready = await rows<{ id: number }>(
    pool,
    `SELECT r.id
      FROM run r
      WHERE r.lit_until IS NOT NULL
        AND r.state = 'active'
        AND NOT EXISTS (
          SELECT 1
          FROM task t
          WHERE t.run_id = r.id
            AND t.state IN ('waiting', 'leased')
            AND t.position < r.lit_until
            AND t.kind = 'light'
        )`,
  );
  for (const { id } of ready) {
    await transact(async (tx) => {
      const { matched } = await write(
        tx,
        "UPDATE run SET lit_until = NULL WHERE id = ? AND lit_until IS NOT NULL",
        [id],
      );
      if (matched === 1) await appendRunEvent(tx, id);
    }, pool);
    forgetOpenQueue(pool);
  }
}

/**
 * Closes runs that have nothing left, or that stop and have nothing in work. Called by idle nodes and by the
 * server.
 * @returns runs that this call closed
 */
export async function settleRuns(pool: Pool): Promise<number[]> {
  await stopRunsOnTime(pool);
  await beginSecondParts(pool);
  await deleteOldPreviews(pool);
  const over = await rows<{ id: number; state: RunState }>(
    pool,
    `SELECT r.id, r.state
      FROM run r
      WHERE (
        r.state = 'active'
          AND NOT EXISTS (
            SELECT 1
            FROM task t
            WHERE t.run_id = r.id AND t.state IN ('waiting', 'leased')
          )
      )
        OR (
          r.state IN ('stopping', 'halting')
            AND NOT EXISTS (
              SELECT 1
              FROM task t
              WHERE t.run_id = r.id AND t.state = 'leased' AND t.lease_until > NOW(6)
            )
        )`,
  );
  const closed: number[] = [];
  for (const run of over) {
    const isClosed = await transact(async (tx) => {
      // Under the run's lock: a Resume in between keeps it alive.
      const now = await row<{ state: RunState }>(tx, "SELECT state FROM run WHERE id = ? FOR UPDATE", [
        run.id,
      ]);
      if (now?.state !== run.state) return false;
      const left = await row<{ n: number }>(
        tx,
        "SELECT COUNT(*) AS n FROM task WHERE run_id = ? AND state IN ('waiting', 'leased')",
        [run.id],
      );
      if (run.state === "active" && left!.n > 0) return false;
      await moveRun(tx, run.id, left!.n > 0 ? "nothing-in-work" : "nothing-left");
      await write(
        tx,
        `UPDATE attempt a
          JOIN task t ON t.attempt_id = a.id
          SET a.outcome = 'lost', a.ended_at = NOW(3)
          WHERE t.run_id = ? AND t.state = 'leased' AND a.outcome = 'running'`,
        [run.id],
      );
      await giveBackAllOfRun(tx, run.id);
      return true;
    }, pool);
    if (isClosed) closed.push(run.id);
  }
  return closed;
}
