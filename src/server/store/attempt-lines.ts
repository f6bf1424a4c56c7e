/**
 * Logs of attempts, line by line.
 * What a renderer said, and what the node says of it. The file of lines beside the frames holds more; here
 * is what pages and the command line search in. Lines go with their attempt and are never changed.
 */
import { type Db, rows, write } from "../db/rows";
import type { LogLevel } from "@/contract/log";

export interface LogRow {
  /** Ascending in the order in which lines were told. */
  readonly id: number;
  /** By the database's clock. */
  readonly at: Date;
  /** Number of the run. */
  readonly run: number;
  /** Name of the node. */
  readonly node: string;
  readonly frame: number;
  readonly level: LogLevel;
  readonly text: string;
}

/** Which lines of a log. */
export interface LogFilter {
  /** Lines of this node alone, by name. */
  readonly node?: string;
  /** Text that a line holds; case does not matter. */
  readonly search?: string;
}

const LOG_LINE = `SELECT l.id, l.at, a.run_id AS run, n.name AS node, a.frame, l.level, l.text
    FROM attempt a
    JOIN attempt_line l ON l.attempt_id = a.id
    JOIN node n ON n.id = a.node_id`;

/** Newest log lines of all attempts at a frame, newest first. */
export const logOfFrame = (
  db: Db,
  leadId: number,
  frame: number,
  limit: number,
  search = "",
): Promise<LogRow[]> =>
  rows(
    db,
    `${LOG_LINE}
      WHERE a.sequence_id = ? AND a.frame = ? AND LOCATE(LOWER(?), LOWER(l.text)) > 0
      ORDER BY l.id DESC
      LIMIT ?`,
    [leadId, frame, search, limit],
  );

/** Newest log lines of a run, newest first. */
export const logOfRun = (
  db: Db,
  runId: number,
  limit: number,
  { node = "", search = "" }: LogFilter = {},
): Promise<LogRow[]> =>
  rows(
    db,
    `${LOG_LINE}
      WHERE a.run_id = ?
        AND (? = '' OR n.name = ?)
        AND LOCATE(LOWER(?), LOWER(CONCAT(a.frame, ' ', l.text))) > 0
      ORDER BY l.id DESC
      LIMIT ?`,
    [runId, node, node, search, limit],
  );

/**
 * Adds lines to an attempt's log in the order in which they were said, each at the time at which it was, by the
 * database's clock. A line is cut at the width of its column.
 */
export async function appendLines(
  db: Db,
  attemptId: number,
  lines: readonly { readonly level: LogLevel; readonly text: string; readonly agoMs: number }[],
): Promise<void> {
  if (lines.length === 0) return;
  await write(
    db,
    `INSERT INTO attempt_line (attempt_id, level, text, at)
      VALUES ${lines.map(() => "(?, ?, ?, NOW(3) - INTERVAL ? MICROSECOND)").join(", ")}`,
    lines.flatMap((line) => [attemptId, line.level, line.text.slice(0, 1000), Math.round(line.agoMs * 1000)]),
  );
}
