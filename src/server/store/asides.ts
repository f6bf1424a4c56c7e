/**
 * Nodes that are set aside: for one run, or for all of them.
 * A node is set aside by a row that is open until somebody, or the node itself, lets it in; rows that were
 * closed stay, so that it can be read later. Who may be set aside, and why, is judged elsewhere
 * (queue/judgement).
 */
import type { AsideReason } from "@/contract/hold";
import { type Db, fromJson, row, rows, write } from "../db/rows";

export interface AsideRow {
  readonly id: number;
  /** The same for as long as the name is used. */
  readonly nodeId: number;
  /** Its name. */
  readonly node: string;
  /** null: for every run. */
  readonly runId: number | null;
  /** Code of the run's shot; null where no run is named. */
  readonly shot: string | null;
  readonly reason: AsideReason;
  /** When it was set aside. */
  readonly at: Date;
}

/** Rows of before nodes proved their renderers say nothing of them. */
function readReason(stored: unknown): AsideReason {
  const reason = fromJson<AsideReason>(stored);
  return reason.code === "not-ready" ? { ...reason, renderers: reason.renderers ?? [] } : reason;
}

/**
 * Nodes that are set aside now, for one run (`runId`, `shot`) or for all of them (both null), newest last.
 */
export async function openAsides(db: Db): Promise<AsideRow[]> {
  const found = await rows<Omit<AsideRow, "reason"> & { readonly reason: unknown }>(
    db,
    `SELECT x.id, x.node_id AS nodeId, n.name AS node, x.run_id AS runId, s.code AS shot, x.reason,
        x.at
      FROM node_aside x
      JOIN node n ON n.id = x.node_id
      LEFT JOIN run r ON r.id = x.run_id
      LEFT JOIN sequence q ON q.id = r.sequence_id
      LEFT JOIN version v ON v.id = q.version_id
      LEFT JOIN shot s ON s.id = v.shot_id
      WHERE x.let_in_at IS NULL
      ORDER BY x.id`,
  );
  return found.map((r) => ({ ...r, reason: readReason(r.reason) }));
}

/** Sets a node aside; what it was set aside for before, in the same place, is replaced. */
export async function setNodeAside(
  db: Db,
  nodeId: number,
  runId: number | null,
  reason: AsideReason,
): Promise<void> {
  await write(
    db,
    `UPDATE node_aside
      SET let_in_at = NOW(3)
      WHERE node_id = ? AND run_id <=> ? AND let_in_at IS NULL`,
    [nodeId, runId],
  );
  await write(db, "INSERT INTO node_aside (node_id, run_id, reason) VALUES (?, ?, ?)", [
    nodeId,
    runId,
    JSON.stringify(reason),
  ]);
}

/** Lets a node in again. @returns the node; null when it was let in already */
export async function letIn(db: Db, id: number): Promise<number | null> {
  const { matched } = await write(
    db,
    "UPDATE node_aside SET let_in_at = NOW(3) WHERE id = ? AND let_in_at IS NULL",
    [id],
  );
  if (matched !== 1) return null;
  return (await row<{ nodeId: number }>(db, "SELECT node_id AS nodeId FROM node_aside WHERE id = ?", [id]))!
    .nodeId;
}

/** When somebody last let a node in again, or told a run to go on; seconds since 1970, long ago for never. */
export const forgivenAt = async (db: Db, nodeId: number): Promise<number> =>
  (await row<{ at: number }>(
    db,
    `SELECT UNIX_TIMESTAMP(
        GREATEST(
          COALESCE((SELECT MAX(let_in_at) FROM node_aside WHERE node_id = ?), '2000-01-01'),
            COALESCE((SELECT MAX(judged_from) FROM run WHERE state = 'active'), '2000-01-01')
        )
      ) + 0e0 AS at`,
    [nodeId],
  ))!.at;
