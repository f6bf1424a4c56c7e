/**
 * Attempts: what was tried, by whom, what it came to and what it took.
 * An attempt is one try of one task on one node. It is opened by a lease and closed once: made, failed,
 * lost (its lease ran out) or stopped. Attempts are the history that estimates, summaries and judgements
 * are made from.
 */
import type { MadeFrame } from "@/core/estimate/expected";
import type { EndedFrame } from "@/core/estimate/finish";
import { type Pass, passBits } from "@/core/plan/passes";
import { type Db, marks, row, rows, write } from "../db/rows";

/**
 * Frames that failed at a pass: their last finished attempt at it ended in an error.
 * @param which frames x, as SQL
 */
const failedAmong = (which: string): string =>
  `SELECT a.frame
    FROM (
      SELECT x.frame, MAX(x.id) AS id
      FROM attempt x
      JOIN run r ON r.id = x.run_id AND r.kind = 'sequence'
      WHERE x.sequence_id = ? AND ${which} AND (x.passes & ?) > 0 AND x.outcome IN ('done', 'failed')
      GROUP BY x.frame
    ) newest
    JOIN attempt a ON a.id = newest.id
    WHERE a.outcome = 'failed'`;

/** @param leadId beauty sequence of the camera */
export const failedFrames = (db: Db, leadId: number, pass: Pass): Promise<{ frame: number }[]> =>
  rows(db, failedAmong("TRUE"), [leadId, passBits([pass])]);

/**
 * Which of `frames` have a last attempt that failed, in one pass of a camera (`leadId` is its beauty
 * sequence, which attempts are kept by).
 */
export const failedOfFrames = (
  db: Db,
  leadId: number,
  pass: Pass,
  frames: readonly number[],
): Promise<{ frame: number }[]> =>
  rows(db, failedAmong(`x.frame IN ${marks(frames)}`), [leadId, ...frames, passBits([pass])]);

/** One that has ended, of a camera (its beauty sequence) and a frame. */
export interface EndedAttempt {
  readonly id: number;
  readonly leadId: number;
  readonly frame: number;
}

/** Those of some attempts that have ended: what they left behind nobody writes any more. */
export const endedAmong = async (db: Db, ids: readonly number[]): Promise<EndedAttempt[]> =>
  ids.length === 0
    ? []
    : rows<EndedAttempt>(
        db,
        `SELECT id, sequence_id AS leadId, frame
          FROM attempt
          WHERE id IN ${marks(ids)} AND outcome <> 'running'`,
        [...ids],
      );

/** Locks one that has ended: until the transaction is over nobody goes on with it. False where it goes on. */
export const lockEnded = async (tx: Db, id: number): Promise<boolean> =>
  (await row(tx, "SELECT id FROM attempt WHERE id = ? AND outcome <> 'running' FOR UPDATE", [id])) !== null;

/**
 * By the database's clock; null before the first frame. The newest attempts are asked from the end of the
 * key: no scan.
 */
export async function secondsSinceLastFrame(db: Db): Promise<number | null> {
  return (
    (
      await row<{ seconds: number }>(
        db,
        `SELECT TIMESTAMPDIFF(MICROSECOND, ended_at, NOW(3)) / 1e6 + 0e0 AS seconds
          FROM attempt
          WHERE outcome = 'done'
          ORDER BY id DESC
          LIMIT 1`,
      )
    )?.seconds ?? null
  );
}

/** Attempts of each node since midnight, by the database's clock. */
export const attemptsOfNodesToday = (db: Db): Promise<{ nodeId: number; made: number; failed: number }[]> =>
  rows(
    db,
    `SELECT node_id AS nodeId, SUM(outcome = 'done' AND kind = 'frame') + 0e0 AS made,
        SUM(outcome IN ('failed', 'lost')) + 0e0 AS failed
      FROM attempt
      WHERE started_at >= CURRENT_DATE
      GROUP BY node_id`,
  );

/** Attempts of a run by node; seconds are those of all of them. */
export const attemptsByNode = (
  db: Db,
  runId: number,
): Promise<{ node: string; made: number; failed: number; lost: number; seconds: number }[]> =>
  rows(
    db,
    `SELECT n.name AS node, SUM(a.outcome = 'done' AND a.kind = 'frame') + 0e0 AS made,
        SUM(a.outcome = 'failed') + 0e0 AS failed, SUM(a.outcome = 'lost') + 0e0 AS lost,
        COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, a.started_at, a.ended_at)), 0) / 1e6 + 0e0 AS seconds
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      WHERE a.run_id = ?
      GROUP BY n.name
      ORDER BY n.name`,
    [runId],
  );

/** Between two frames a run hardly rests longer: what lies between is a standstill. */
const STANDSTILL_SECONDS = 30;

/** What each node spent on frames of a camera, in attempts that made one and in those that did not. */
export const attemptsOfLead = (
  db: Db,
  leadId: number,
): Promise<
  {
    readonly node: string;
    readonly madeSeconds: number;
    readonly lostSeconds: number;
    readonly failed: number;
  }[]
> =>
  rows(
    db,
    `SELECT n.name AS node,
        COALESCE(SUM(IF(a.outcome = 'done', TIMESTAMPDIFF(MICROSECOND, a.started_at, a.ended_at), 0)), 0) / 1e6 + 0e0
          AS madeSeconds,
        COALESCE(SUM(IF(a.outcome = 'done', 0, TIMESTAMPDIFF(MICROSECOND, a.started_at, a.ended_at))), 0) / 1e6 + 0e0
          AS lostSeconds,
        SUM(a.outcome IN ('failed', 'lost')) + 0e0 AS failed
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      JOIN task t ON t.id = a.task_id
      WHERE a.sequence_id = ? AND t.is_proof = 0 AND a.ended_at IS NOT NULL
      GROUP BY n.name
      ORDER BY n.name`,
    [leadId],
  );

export interface RunSpan {
  /** In which frames were made, their short rests with them; null before the first has ended. */
  readonly worked: number | null;
  /** From the first frame's start to the last one's end. */
  readonly all: number | null;
}

/** Stretches of attempts that follow one another are put together; what lies between them was no work. */
export async function runSpan(db: Db, runId: number): Promise<RunSpan> {
  return (await row<RunSpan>(
    db,
    `SELECT SUM(TIMESTAMPDIFF(MICROSECOND, begins, ends)) / 1e6 + 0e0 AS worked,
        TIMESTAMPDIFF(MICROSECOND, MIN(begins), MAX(ends)) / 1e6 + 0e0 AS \`all\`
      FROM (
        SELECT MIN(started_at) AS begins, MAX(ended_at) AS ends
        FROM (
          SELECT started_at, ended_at, SUM(is_new) OVER (ORDER BY started_at, id) AS stretch
          FROM (
            SELECT id, started_at, ended_at,
                COALESCE(
                  started_at > MAX(ended_at) OVER (
                    ORDER BY started_at, id
                    ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING
                  ) + INTERVAL ? SECOND,
                  1
                ) AS is_new
            FROM attempt
            WHERE run_id = ? AND ended_at IS NOT NULL
          ) marked
        ) counted
        GROUP BY stretch
      ) stretches`,
    [STANDSTILL_SECONDS, runId],
  ))!;
}

/** Enough to stand beside any frame that comes next. */
const MADE_FRAMES = 32;

/** The newest finished attempts of a run, newest first. */
export const endedFrames = (db: Db, runId: number, limit: number): Promise<EndedFrame[]> =>
  rows(
    db,
    `SELECT TIMESTAMPDIFF(MICROSECOND, started_at, ended_at) / 1e6 + 0e0 AS seconds,
        TIMESTAMPDIFF(MICROSECOND, ended_at, NOW(3)) / 1e6 + 0e0 AS ago
      FROM attempt
      WHERE run_id = ? AND kind = 'frame' AND outcome = 'done'
      ORDER BY id DESC
      LIMIT ?`,
    [runId, limit],
  );

/** Newest frames that a run has made of a camera, with what they took. */
export const madeFrames = (db: Db, runId: number, leadId: number): Promise<MadeFrame[]> =>
  rows(
    db,
    `SELECT frame,
        COALESCE(startup_seconds, 0) + COALESCE(denoise_seconds, 0) + COALESCE(write_seconds, 0) AS fixedSeconds,
        COALESCE(render_seconds, 0) AS renderSeconds,
        COALESCE(samples_added, samples, 0) + 0e0 AS samplesAdded,
        COALESCE(samples, 0) + 0e0 AS samples
      FROM attempt
      WHERE run_id = ? AND sequence_id = ? AND kind = 'frame' AND outcome = 'done'
      ORDER BY id DESC
      LIMIT ${MADE_FRAMES}`,
    [runId, leadId],
  );

export interface AttemptRow {
  readonly id: number;
  /** The run that it was made for. */
  readonly runId: number;
  readonly frame: number;
  /** Its name. */
  readonly node: string;
  readonly startedAt: Date;
  /** Null while it is under way. */
  readonly endedAt: Date | null;
  /** `lost`: the lease ran out; `stopped`: given back without a fault. */
  readonly outcome: "running" | "done" | "failed" | "lost" | "stopped";
  /** Of the fault, where it failed. */
  readonly code: string | null;
  /** The fault's sentence. */
  readonly message: string | null;
}

/** The last attempts of one frame, newest first, with those that are still under way (`endedAt` null). */
export const attemptsOfFrame = (db: Db, sequenceId: number, frame: number): Promise<AttemptRow[]> =>
  rows(
    db,
    `SELECT a.id, a.run_id AS runId, a.frame, n.name AS node, a.started_at AS startedAt,
        a.ended_at AS endedAt, a.outcome, a.code, a.message
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      WHERE a.sequence_id = ? AND a.frame = ? AND a.kind = 'frame'
      ORDER BY a.id DESC
      LIMIT 20`,
    [sequenceId, frame],
  );

/** More than this house will ever make: a file that says so is not believed. */
const LARGEST_ATTEMPT = 1e12;

/** Attempts to come get numbers that no file says of itself, as of those that a lost database has made. */
export async function skipAttemptNumbers(db: Db): Promise<void> {
  const said = await row<{ last: number | null }>(
    db,
    "SELECT MAX(attempt_id) AS last FROM frame_file WHERE attempt_id < ?",
    [LARGEST_ATTEMPT],
  );
  // A number that is taken already is left as it is by the database.
  if (said?.last != null) await write(db, `ALTER TABLE attempt AUTO_INCREMENT = ${Number(said.last) + 1}`);
}

/** One that failed, as others are told of it. */
export interface FailedAttempt {
  readonly run: number;
  readonly sequenceId: number;
  readonly frame: number;
  /** Name. */
  readonly node: string;
  readonly code: string;
  readonly message: string;
}

/** Null: it is gone. */
export const failedAttempt = (db: Db, id: number): Promise<FailedAttempt | null> =>
  row<FailedAttempt>(
    db,
    `SELECT a.run_id AS run, a.sequence_id AS sequenceId, a.frame, n.name AS node, a.code, a.message
      FROM attempt a
      JOIN node n ON n.id = a.node_id
      WHERE a.id = ?`,
    [id],
  );
