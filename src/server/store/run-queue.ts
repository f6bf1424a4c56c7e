/** Which run goes before which, and which waits for which. How it is decided is core/run/queue-order. */
import type { RunState } from "@/core/run/run-life";
import type { QueuedRun } from "@/core/run/queue-order";
import type { Priority } from "@/contract/run-manner";
import { type Db, row, rows, write } from "../db/rows";

export interface PlacedRun extends QueuedRun {
  readonly priority: Priority;
}

/** Runs of sequences that go on, locked: two people who order at one moment do it one after the other. */
export const lockQueue = (db: Db): Promise<PlacedRun[]> =>
  rows<PlacedRun>(
    db,
    `SELECT id, priority, place
      FROM run
      WHERE kind = 'sequence' AND state IN ('active', 'stopping', 'halting')
      ORDER BY id
      FOR UPDATE`,
  );

export async function saveRunPlace(db: Db, { id, priority, place }: PlacedRun): Promise<void> {
  await write(db, "UPDATE run SET priority = ?, place = ? WHERE id = ?", [priority, place, id]);
}

/** Of each run that waits for another one, that other one. */
export const runsThatWait = async (db: Db): Promise<ReadonlyMap<number, number>> =>
  new Map(
    (
      await rows<{ id: number; other: number }>(
        db,
        "SELECT id, after_run_id AS other FROM run WHERE after_run_id IS NOT NULL",
      )
    ).map(({ id, other }) => [id, other]),
  );

/** Where a run stands that another one waits for. */
export interface AwaitedRun {
  readonly id: number;
  readonly state: RunState;
  /** Code. */
  readonly shot: string;
  readonly project: string;
  /** Frames that were set aside. */
  readonly setAside: number;
  /** Frames of its versions with an open finding. */
  readonly findings: number;
}

/**
 * Frames that keep a run from being good, as two counts: `FAILED` and `FOUND`, of a run under the name `a`. One
 * spelling for the queue, which only asks whether there are any, and for the pages, which say how many.
 */
const FAILED = "FROM task x WHERE x.run_id = a.id AND x.state = 'failed'";
const FOUND = `FROM run_version y
          JOIN sequence z ON z.version_id = y.version_id
          JOIN finding f ON f.sequence_id = z.id AND f.state = 'open'
          WHERE y.run_id = a.id`;

/** A condition on a run `r`: the one that it waits for is good, or it waits for none. */
export const MAY_BEGIN = `NOT EXISTS (
          SELECT 1
          FROM run a
          WHERE a.id = r.after_run_id
            AND (a.state <> 'done' OR EXISTS (SELECT 1 ${FAILED}) OR EXISTS (SELECT 1 ${FOUND}))
        )`;

export const awaitedRun = (db: Db, id: number): Promise<AwaitedRun | null> =>
  row<AwaitedRun>(
    db,
    `SELECT a.id, a.state, s.code AS shot, p.slug AS project,
        (SELECT COUNT(*) ${FAILED}) AS setAside,
        (SELECT COUNT(DISTINCT f.frame) ${FOUND}) AS findings
      FROM run a
      JOIN sequence q ON q.id = a.sequence_id
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      WHERE a.id = ?`,
    [id],
  );
