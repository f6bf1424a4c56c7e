/**
 * The only module that writes a task's state. Which event makes what of which state is
 * core/run/task-life; each statement repeats the states that its event may meet, and says by the rows
 * it matched whether it happened. Whoever holds a lease names its token, too.
 */
import { nextTaskState, statesBeforeTask, type TaskEvent, type TaskState } from "@/core/run/task-life";
import type { Tx } from "../db/pool";
import { type Db, marks, write } from "../db/rows";
import type { StoppedBy } from "@/render/render-frame";
import type { GatherWork } from "@/core/run/gathered-light";

/** The state that an event leads to, and the states it may meet, as SQL. Events of one target only. */
function sqlOf(event: TaskEvent): { readonly to: string; readonly from: string } {
  const before = statesBeforeTask(event);
  const to = new Set(before.map((state) => nextTaskState(state, event)!));
  if (to.size !== 1) throw new Error(`"${event}" leads to ${[...to].join(" and ")}.`);
  const quoted = (state: TaskState): string => `'${state}'`;
  return { to: quoted([...to][0]!), from: `(${before.map(quoted).join(", ")})` };
}

const LEASE = sqlOf("lease");
const FINISH = sqlOf("finish");
const FAIL = sqlOf("fail");
const GIVE_BACK = sqlOf("give-back");
const SET_ASIDE = sqlOf("set-aside");
const RETRY = sqlOf("retry");
const DROP = sqlOf("drop");
const TAKE_IN = sqlOf("take-in");
const COME_BACK = sqlOf("come-back");

/** What a task holds while it is leased, and no longer. */
const NOBODYS = "token = NULL, node_id = NULL, attempt_id = NULL, lease_until = NULL, progress = NULL";

/** A task's row is held by the claim's locking read. */
export async function leaseTask(
  tx: Tx,
  task: { readonly id: number; readonly attemptId: number },
  nodeId: number,
  token: string,
  leaseSeconds: number,
): Promise<boolean> {
  const { matched } = await write(
    tx,
    `UPDATE task
      SET state = ${LEASE.to}, token = ?, node_id = ?, attempt_id = ?,
        lease_until = NOW(6) + INTERVAL ? SECOND, progress = NULL, put_back = 0,
        reserved_node_id = NULL, not_before = NOW(6)
      WHERE id = ? AND state IN ${LEASE.from}`,
    [token, nodeId, task.attemptId, leaseSeconds, task.id],
  );
  return matched === 1;
}

/** What an attempt that made its work was measured at. */
export interface AttemptMeasures {
  /** From the job to the first sample. */
  readonly startupSeconds: number;
  /** Light that it had to gather itself, and what that took. */
  readonly light: GatherWork;
  /** Sampling alone. */
  readonly renderSeconds: number;
  readonly denoiseSeconds: number;
  /** Of all its passes, to the end of the flush. */
  readonly writeSeconds: number;
  /** A pixel, with those that were saved before. */
  readonly samples: number;
  /** A pixel, of this attempt alone. */
  readonly samplesAdded: number;
  /** What ended the sampling; null where the renderer does not say. */
  readonly stoppedBy: StoppedBy | null;
  /** Share of the machine that other programs used meanwhile; null where it is not known. */
  readonly otherLoad: number | null;
  /** Processor seconds of the renderer for each second by the clock; null where they could not be told. */
  readonly cpuShare: number | null;
}

/** Closes task and attempt in one statement; who made it stays on the row. */
export async function finishTask(
  tx: Tx,
  lease: { readonly taskId: number; readonly token: string; readonly attemptId: number },
  m: AttemptMeasures,
): Promise<boolean> {
  const { matched } = await write(
    tx,
    `UPDATE task t
      JOIN attempt a ON a.id = ?
      SET t.state = ${FINISH.to}, t.token = NULL, t.lease_until = NULL, t.progress = NULL,
        a.outcome = 'done', a.ended_at = NOW(3), a.startup_seconds = ?, a.light_seconds = ?,
        a.light_made = ?, a.render_seconds = ?, a.denoise_seconds = ?, a.write_seconds = ?,
        a.samples = ?, a.samples_added = ?, a.stopped_by = ?, a.other_load = ?,
        a.cpu_share = ?
      WHERE t.id = ? AND t.token = ? AND t.state IN ${FINISH.from}`,
    [
      lease.attemptId,
      m.startupSeconds,
      m.light.seconds,
      m.light.made,
      m.renderSeconds,
      m.denoiseSeconds,
      m.writeSeconds,
      m.samples,
      m.samplesAdded,
      m.stoppedBy,
      m.otherLoad,
      m.cpuShare,
      lease.taskId,
      lease.token,
    ],
  );
  return matched > 0;
}

/** For another try, after a pause.
 * @param avoid node that the next try leaves it to others on; null: as before
 */
export async function failTask(
  tx: Tx,
  { taskId, token }: { readonly taskId: number; readonly token: string },
  tries: number,
  pauseSeconds: number,
  avoid: number | null,
): Promise<boolean> {
  const { matched } = await write(
    tx,
    `UPDATE task
      SET avoid_node_id = COALESCE(?, avoid_node_id), state = ${FAIL.to}, tries = ?,
        not_before = NOW(6) + INTERVAL ? SECOND, ${NOBODYS}
      WHERE id = ? AND token = ? AND state IN ${FAIL.from}`,
    [avoid, tries, pauseSeconds, taskId, token],
  );
  return matched === 1;
}

/** One that was put back by a person goes to the place `last`. */
export async function giveBackTask(
  tx: Tx,
  { taskId, token }: { readonly taskId: number; readonly token: string },
  last: number,
): Promise<boolean> {
  const { matched } = await write(
    tx,
    `UPDATE task
      SET position = IF(put_back = 1, ?, position), put_back = 0, state = ${GIVE_BACK.to}, ${NOBODYS}
      WHERE id = ? AND token = ? AND state IN ${GIVE_BACK.from}`,
    [last, taskId, token],
  );
  return matched === 1;
}

/** What a run that has ended still had on lease, with the leases run out. */
export async function giveBackAllOfRun(tx: Tx, runId: number): Promise<void> {
  await write(
    tx,
    `UPDATE task
      SET state = ${GIVE_BACK.to}, ${NOBODYS}
      WHERE run_id = ? AND state IN ${GIVE_BACK.from}`,
    [runId],
  );
}

/** Takes a task out after too many failures. It counts as failed until a person puts it back. */
export async function setTaskAside(tx: Tx, id: number): Promise<void> {
  await write(
    tx,
    `UPDATE task
      SET state = ${SET_ASIDE.to}
      WHERE id = ? AND state IN ${SET_ASIDE.from}`,
    [id],
  );
}

/**
 * Tasks that were set aside on the word of a node that is set aside now: they wait again, with one try behind
 * them.
 */
export async function retryTasksFailedOn(tx: Tx, runId: number, nodeId: number): Promise<void> {
  await write(
    tx,
    `UPDATE task t
      SET t.state = ${RETRY.to}, t.tries = 1, t.not_before = NOW(6)
      WHERE t.run_id = ?
        AND t.state IN ${RETRY.from}
        AND EXISTS (
          SELECT 1
          FROM attempt a
          WHERE a.task_id = t.id AND a.node_id = ? AND a.outcome = 'failed'
        )`,
    [runId, nodeId],
  );
}

/** Somebody pressed Resume: what was set aside of a run waits again, with its tries forgotten. */
export async function retryTasksOfRun(db: Db, runId: number): Promise<void> {
  await write(
    db,
    `UPDATE task
      SET state = ${RETRY.to}, tries = 0, avoid_node_id = NULL, not_before = NOW(6)
      WHERE run_id = ? AND state IN ${RETRY.from}`,
    [runId],
  );
}

/** Ids a statement; keeps it well under the packet limit. */
const IDS_AT_ONCE = 2_000;

/** Takes frames out of a run. Those that a node has leased meanwhile stay. */
export async function dropTasks(db: Db, ids: readonly number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += IDS_AT_ONCE) {
    const some = ids.slice(i, i + IDS_AT_ONCE);
    await write(
      db,
      `UPDATE task
        SET state = ${DROP.to}
        WHERE state IN ${DROP.from} AND id IN ${marks(some)}`,
      some,
    );
  }
}

/** Takes what waits, or is set aside, of a version out of every run. @returns how many frames that were */
export const dropTasksOfVersion = async (db: Db, versionId: number): Promise<number> =>
  (
    await write(
      db,
      `UPDATE task t
        JOIN sequence q ON q.id = t.sequence_id
        JOIN run r ON r.id = t.run_id
        SET t.state = ${DROP.to}
        WHERE q.version_id = ? AND r.kind = 'sequence' AND t.state IN ${DROP.from}`,
      [versionId],
    )
  ).matched;

/** Takes dropped frames in again. */
export async function takeInTasks(
  db: Db,
  tasks: readonly { readonly id: number; readonly passes: number }[],
): Promise<void> {
  for (const { id, passes } of tasks)
    await write(
      db,
      `UPDATE task
        SET state = ${TAKE_IN.to}, tries = 0, avoid_node_id = NULL, passes = ?, not_before = NOW(6)
        WHERE id = ? AND state IN ${TAKE_IN.from}`,
      [passes, id],
    );
}

/** A frame that was handed out is back. False when it waits no more. */
export const closeOutTask = async (db: Db, id: number): Promise<boolean> =>
  (
    await write(
      db,
      `UPDATE task
        SET state = ${COME_BACK.to}
        WHERE id = ? AND state IN ${COME_BACK.from}`,
      [id],
    )
  ).matched === 1;
