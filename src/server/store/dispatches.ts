/** Runs that a batch system hands to its machines, and the arrays that were submitted for them. */
import type { ClusterWish, DispatchView } from "@/contract/cluster";
import type { Who } from "@/contract/who";
import type { RunState } from "@/core/run/run-life";
import type { TaskKind } from "@/core/run/task-life";
import { type Db, marks, row, rows, write } from "../db/rows";
import type { Priority } from "@/contract/run-manner";

export interface DispatchRow extends ClusterWish {
  readonly runId: number;
  readonly state: RunState;
  readonly priority: Priority;
  /** Tasks before this position alone may be begun; null: all. */
  readonly litUntil: number | null;
  /** Whether what came back may be submitted again by now. */
  readonly isDue: boolean;
  /** At the last look. */
  readonly fault: string | null;
}

/** Those of runs that go on, and those with arrays that are not over. */
export const openDispatches = async (db: Db): Promise<DispatchRow[]> =>
  (
    await rows<Omit<DispatchRow, "isDue"> & { readonly due: number }>(
      db,
      `SELECT d.run_id AS runId, d.frames, d.part AS \`partition\`, d.minutes, d.memory_mb AS memoryMb, d.fault,
          r.state, r.priority, r.lit_until AS litUntil, d.again_at IS NULL OR d.again_at <= NOW(3) AS due
        FROM dispatch d
        JOIN run r ON r.id = d.run_id
        WHERE r.state IN ('active', 'stopping', 'halting')
          OR EXISTS (SELECT 1 FROM array_job a WHERE a.run_id = d.run_id AND a.ended = 0)
        ORDER BY d.run_id`,
    )
  ).map(({ due, ...rest }) => ({ ...rest, isDue: due === 1 }));

/** False where it is with the batch system already. */
export const insertDispatch = async (db: Db, runId: number, wish: ClusterWish, who: Who): Promise<boolean> =>
  (
    await write(
      db,
      `INSERT IGNORE INTO dispatch (run_id, frames, part, minutes, memory_mb, sent_by) VALUES (?, ?, ?, ?, ?, ?)`,
      [runId, wish.frames, wish.partition, wish.minutes, wish.memoryMb, who],
    )
  ).matched === 1;

export const deleteDispatch = async (db: Db, runId: number): Promise<void> => {
  await write(db, "DELETE FROM dispatch WHERE run_id = ?", [runId]);
};

/** Null: it takes what it is given. */
export const saveDispatchFault = async (db: Db, runId: number, fault: string | null): Promise<void> => {
  await write(db, "UPDATE dispatch SET fault = ? WHERE run_id = ?", [fault, runId]);
};

/** What comes back from now on waits so long before it is submitted again. */
export const noteSubmission = async (db: Db, runId: number, againSeconds: number): Promise<void> => {
  await write(db, "UPDATE dispatch SET again_at = NOW(3) + INTERVAL ? SECOND WHERE run_id = ?", [
    againSeconds,
    runId,
  ]);
};

export interface ArrayRow {
  readonly id: number;
  readonly runId: number;
  readonly leadId: number;
  readonly kind: TaskKind;
  /** Null: the batch system has not answered. */
  readonly job: number | null;
  /** A frame less its index. */
  readonly shift: number;
}

const COLUMNS = "id, run_id AS runId, sequence_id AS leadId, kind, job, shift";

/** Arrays that are not over, the oldest first. */
export const openArrays = (db: Db): Promise<ArrayRow[]> =>
  rows<ArrayRow>(db, `SELECT ${COLUMNS} FROM array_job WHERE ended = 0 ORDER BY id`);

export const openArraysOfRun = (db: Db, runId: number): Promise<ArrayRow[]> =>
  rows<ArrayRow>(db, `SELECT ${COLUMNS} FROM array_job WHERE run_id = ? AND ended = 0 ORDER BY id`, [runId]);

/** Before it is submitted: what was submitted is found again by this number, whatever happens in between. */
export const insertArray = async (db: Db, array: Omit<ArrayRow, "id" | "job">): Promise<number> =>
  (
    await write(db, "INSERT INTO array_job (run_id, sequence_id, kind, shift) VALUES (?, ?, ?, ?)", [
      array.runId,
      array.leadId,
      array.kind,
      array.shift,
    ])
  ).id;

export async function saveArrayJob(db: Db, id: number, job: number): Promise<void> {
  await write(db, "UPDATE array_job SET job = ? WHERE id = ?", [job, id]);
}

/** What the batch system did not take. */
export async function deleteArray(db: Db, id: number): Promise<void> {
  await write(db, "DELETE FROM array_job WHERE id = ?", [id]);
}

export interface ArrayCounts {
  readonly waits: number;
  readonly held: number;
  readonly works: number;
  readonly reason: string | null;
}

/** @returns whether anything has changed */
export const saveArrayCounts = async (db: Db, id: number, counts: ArrayCounts): Promise<boolean> => {
  const { waits, held, works, reason } = counts;
  const isEnded = waits + held + works === 0;
  return (
    (
      await write(
        db,
        `UPDATE array_job
          SET waits = ?, held = ?, works = ?, reason = ?, ended = ?
          WHERE id = ? AND NOT (waits <=> ? AND held <=> ? AND works <=> ? AND reason <=> ? AND ended <=> ?)`,
        [waits, held, works, reason, isEnded, id, waits, held, works, reason, isEnded],
      )
    ).matched > 0
  );
};

/** How a run stands with the batch system; null: it does not. */
export async function dispatchOfRun(db: Db, runId: number): Promise<DispatchView | null> {
  const found = await row<ClusterWish & { fault: string | null; sentBy: Who; sentAt: Date }>(
    db,
    `SELECT frames, part AS \`partition\`, minutes, memory_mb AS memoryMb, fault, sent_by AS sentBy, sent_at AS sentAt
      FROM dispatch
      WHERE run_id = ?`,
    [runId],
  );
  if (found === null) return null;
  const arrays = await rows<Omit<ArrayCounts, "reason"> & { job: number | null; reason: string | null }>(
    db,
    "SELECT job, waits, held, works, reason FROM array_job WHERE run_id = ? AND ended = 0 ORDER BY id",
    [runId],
  );
  const sum = (of: (a: ArrayCounts) => number): number => arrays.reduce((all, a) => all + of(a), 0);
  return {
    ...found,
    sentAt: found.sentAt.getTime(),
    jobs: arrays.flatMap(({ job }) => (job === null ? [] : [job])),
    waits: sum((a) => a.waits),
    held: sum((a) => a.held),
    works: sum((a) => a.works),
    reason: arrays.find((a) => a.reason !== null)?.reason ?? null,
  };
}

/** A task that waits for whoever may take it now. */
export interface WaitingTask {
  readonly kind: TaskKind;
  readonly leadId: number;
  readonly frame: number;
}

/** @param until positions from here on are not begun yet; null: all are */
export const waitingTasks = (db: Db, runId: number, until: number | null): Promise<WaitingTask[]> =>
  rows<WaitingTask>(
    db,
    `SELECT kind, sequence_id AS leadId, frame
      FROM task
      WHERE run_id = ? AND state = 'waiting' AND not_before <= NOW(6) AND (? IS NULL OR position < ?)
      ORDER BY position`,
    [runId, until, until],
  );

/** One that a task of an array has in work. */
export interface ArrayLease {
  readonly taskId: number;
  readonly token: string;
  readonly attemptId: number;
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
  /** `array_index`, as the batch system names it. */
  readonly arrayTask: string;
}

/** Leases of tasks of arrays of some runs. */
export const arrayLeases = (db: Db, runIds: readonly number[]): Promise<ArrayLease[]> =>
  runIds.length === 0
    ? Promise.resolve([])
    : rows<ArrayLease>(
        db,
        `SELECT t.id AS taskId, t.token, t.attempt_id AS attemptId, t.run_id AS runId, t.sequence_id AS sequenceId,
            t.frame, a.array_task AS arrayTask
          FROM task t
          JOIN attempt a ON a.id = t.attempt_id
          WHERE t.state = 'leased' AND a.array_task IS NOT NULL AND t.run_id IN ${marks(runIds)}`,
        [...runIds],
      );

export async function saveArrayTask(db: Db, attemptId: number, arrayTask: string): Promise<void> {
  await write(db, "UPDATE attempt SET array_task = ? WHERE id = ?", [arrayTask, attemptId]);
}

/** Machines whose node is paused, or set aside, from one run or from all: no task of the run is worth a start there. */
export const machinesAside = async (db: Db, runId: number): Promise<string[]> =>
  (
    await rows<{ machine: string }>(
      db,
      `SELECT n.machine
        FROM node n
        WHERE n.machine IS NOT NULL
          AND (
            n.pause <> 'no'
            OR EXISTS (
              SELECT 1
              FROM node_aside x
              WHERE x.node_id = n.id AND x.let_in_at IS NULL AND (x.run_id IS NULL OR x.run_id = ?)
            )
          )
        ORDER BY n.machine`,
      [runId],
    )
  ).map(({ machine }) => machine);
