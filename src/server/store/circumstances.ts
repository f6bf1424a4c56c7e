/** How the files of a sequence came to be, as their attempts tell it. */
import type { MadeBy } from "@/core/odd/circumstances";
import { type Db, rows } from "../db/rows";

/** What a file says of its maker is believed where that attempt was at this frame of this version. */
const MAKER = `FROM frame_file f
      JOIN sequence own ON own.id = f.sequence_id
      JOIN attempt a ON a.id = f.attempt_id AND a.frame = f.frame
      JOIN sequence lead ON lead.id = a.sequence_id AND lead.version_id = own.version_id`;

/** In the order in which each node began them. */
export const makersOfFiles = async (db: Db, sequenceId: number): Promise<readonly MadeBy[]> =>
  (
    await rows<Omit<MadeBy, "isFirstOfCall"> & { readonly startupSeconds: number | null }>(
      db,
      `SELECT f.frame, n.name AS node, UNIX_TIMESTAMP(a.started_at) * 1000 + 0e0 AS startedMs,
        a.startup_seconds AS startupSeconds
      ${MAKER}
      JOIN node n ON n.id = a.node_id
      WHERE f.sequence_id = ?
      ORDER BY a.node_id, a.id`,
      [sequenceId],
    )
  ).map(({ startupSeconds, ...made }) => ({ ...made, isFirstOfCall: (startupSeconds ?? 0) > 0 }));

/** Warnings and errors that were said while the files that are there were made. */
export const warningsOfFiles = (
  db: Db,
  sequenceId: number,
  limit: number,
): Promise<readonly { readonly frame: number; readonly text: string }[]> =>
  rows(
    db,
    `SELECT f.frame, l.text
      ${MAKER}
      JOIN attempt_line l ON l.attempt_id = a.id
      WHERE f.sequence_id = ? AND l.level <> 'info'
      ORDER BY l.id DESC
      LIMIT ?`,
    [sequenceId, limit],
  );
