/** Nodes as they last showed themselves. */
import { type Db, row, rows, write } from "../db/rows";

export interface NodeRow {
  readonly id: number;
  readonly name: string;
  readonly host: string;
  readonly pid: number;
  readonly session: string;
  readonly stopped: boolean;
  /** By the database's clock. */
  readonly secondsSinceSeen: number;
}

const COLUMNS = "id, name, host, pid, session, stopped_at IS NOT NULL AS stopped, TIMESTAMPDIFF(MICROSECOND, seen_at, NOW(3)) / 1e6 + 0e0 AS secondsSinceSeen";
type RawNode = Omit<NodeRow, "stopped"> & { stopped: number };
const readNode = (r: RawNode): NodeRow => ({ ...r, stopped: r.stopped === 1 });

export const listNodes = async (db: Db): Promise<NodeRow[]> => (await rows<RawNode>(db, `SELECT ${COLUMNS} FROM node ORDER BY name`)).map(readNode);

export async function lockNode(db: Db, name: string): Promise<NodeRow | null> {
  const found = await row<RawNode>(db, `SELECT ${COLUMNS} FROM node WHERE name = ? FOR UPDATE`, [name]);
  return found === null ? null : readNode(found);
}

export async function saveNode(db: Db, node: { readonly name: string; readonly host: string; readonly pid: number; readonly session: string }): Promise<number> {
  await write(db, `INSERT INTO node (name, host, pid, session, started_at, seen_at) VALUES (?, ?, ?, ?, NOW(3), NOW(3))
    ON DUPLICATE KEY UPDATE host = VALUES(host), pid = VALUES(pid), session = VALUES(session), started_at = NOW(3), seen_at = NOW(3), stopped_at = NULL`, [node.name, node.host, node.pid, node.session]);
  return (await row<{ id: number }>(db, "SELECT id FROM node WHERE name = ?", [node.name]))!.id;
}

/** False when another process has taken the name. */
export async function touchNode(db: Db, id: number, session: string): Promise<boolean> {
  return (await write(db, "UPDATE node SET seen_at = NOW(3), stopped_at = NULL WHERE id = ? AND session = ?", [id, session])).matched === 1;
}

export async function markNodeStopped(db: Db, id: number, session: string): Promise<void> {
  await write(db, "UPDATE node SET stopped_at = NOW(3) WHERE id = ? AND session = ?", [id, session]);
}
