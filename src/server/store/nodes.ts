/**
 * Nodes as they last showed themselves.
 * A row for each name. The session tells which process holds the name now: every write of a node names it,
 * so that one that was replaced writes nothing more.
 */
import type { NodeSettings } from "@/contract/node-settings";
import type { Pause } from "@/contract/run-manner";
import type { PlannedNode } from "@/core/estimate/node-slots";
import type { GroupedNode } from "@/core/run/who-takes";
import type { Hours } from "@/core/timing/hours";
import { type Db, fromJson, row, rows, write } from "../db/rows";

/** Nodes of a batch system are in it from the start: a run for it alone is for this group. */
export const ARRAY_GROUP = "cluster";

export interface NodeRow {
  readonly id: number;
  /** Unique; what runs and people call it by. */
  readonly name: string;
  /** Of the machine that it registered from. */
  readonly host: string;
  /** That the machine has; null: an older node that did not say. */
  readonly processors: number | null;
  /** On that host: means nothing anywhere else. */
  readonly pid: number;
  /** Made anew by each process. */
  readonly session: string;
  /** It ended by itself. */
  readonly stopped: boolean;
  /** By its own word: not paused, and within its hours. */
  readonly takes: boolean;
  /** By the database's clock. */
  readonly secondsSinceSeen: number;
  /** That it is in. */
  readonly groups: readonly string[];
  /** As a batch system calls it, whose tasks work under the name; null: a node that stays. */
  readonly machine: string | null;
}

const COLUMNS = `id, name, host, processors, pid, session, stopped_at IS NOT NULL AS stopped, takes,
      TIMESTAMPDIFF(MICROSECOND, seen_at, NOW(3)) / 1e6 + 0e0 AS secondsSinceSeen, in_groups AS inGroups, machine`;
type RawNode = Omit<NodeRow, "stopped" | "takes" | "groups"> & {
  stopped: number;
  takes: number;
  inGroups: unknown;
};
const readNode = ({ inGroups, ...r }: RawNode): NodeRow => ({
  ...r,
  stopped: r.stopped === 1,
  takes: r.takes === 1,
  groups: readGroups(inGroups),
});

/** Every node that ever worked here, by name; `seenAgoMs` tells which of them live. */
export const listNodes = async (db: Db): Promise<NodeRow[]> =>
  (await rows<RawNode>(db, `SELECT ${COLUMNS} FROM node ORDER BY name`)).map(readNode);

/** When the last process of each node began, by its name. */
export const startsOfNodes = async (db: Db): Promise<ReadonlyMap<string, Date>> =>
  new Map(
    (await rows<{ name: string; startedAt: Date }>(db, "SELECT name, started_at AS startedAt FROM node")).map(
      ({ name, startedAt }) => [name, startedAt],
    ),
  );

/** Nodes as an estimate plans with them, also such as are away. */
export const plannedNodes = async (db: Db): Promise<readonly (PlannedNode & GroupedNode)[]> =>
  (
    await rows<PlannedNode & { readonly inGroups: unknown }>(
      db,
      "SELECT name, cores, host, processors, in_groups AS inGroups FROM node",
    )
  ).map(({ inGroups, ...node }) => ({ ...node, groups: readGroups(inGroups) }));

/**
 * Reads and locks a node by name: of two processes that want one name, the second sees what the first has
 * written.
 */
export async function lockNode(db: Db, name: string): Promise<NodeRow | null> {
  const found = await row<RawNode>(db, `SELECT ${COLUMNS} FROM node WHERE name = ? FOR UPDATE`, [name]);
  return found === null ? null : readNode(found);
}

/**
 * Enters a process under a node's name, new or again. Another session than the row's own is how an earlier
 * process learns that it was replaced.
 * @returns id of the node, the same one for as long as the name is used
 */
export async function saveNode(
  db: Db,
  node: Pick<NodeRow, "name" | "host" | "processors" | "pid" | "session"> & { readonly firstCores?: number },
): Promise<number> {
  await write(
    db,
    `INSERT INTO node (name, host, processors, pid, session, cores, started_at, seen_at)
      VALUES (?, ?, ?, ?, ?, ?, NOW(3), NOW(3))
      ON DUPLICATE KEY UPDATE host = VALUES(host), processors = VALUES(processors), pid = VALUES(pid),
        session = VALUES(session), started_at = NOW(3), seen_at = NOW(3), stopped_at = NULL, takes = 1, encodes = NULL`,
    [node.name, node.host, node.processors, node.pid, node.session, node.firstCores ?? 1],
  );
  return (await row<{ id: number }>(db, "SELECT id FROM node WHERE name = ?", [node.name]))!.id;
}

/** Of every task that works under a machine's name: none of them replaces another. */
const ARRAY_SESSION = "array";

/**
 * Enters a task of a batch system under its machine's name, beside others of the same machine. They take no frames of the queue.
 * @param machine as the batch system calls it
 * @returns id and session of the node; null where a node that stays has the name
 */
export async function saveArrayNode(
  db: Db,
  node: Pick<NodeRow, "name" | "host" | "processors" | "pid">,
  machine: string,
): Promise<{ readonly id: number; readonly session: string } | null> {
  await write(
    db,
    `INSERT INTO node (name, host, processors, pid, session, cores, machine, takes, in_groups, started_at, seen_at)
      VALUES (?, ?, ?, ?, ?, 1, ?, 0, ?, NOW(3), NOW(3))
      ON DUPLICATE KEY UPDATE host = VALUES(host), processors = VALUES(processors), seen_at = NOW(3), stopped_at = NULL`,
    [node.name, node.host, node.processors, node.pid, ARRAY_SESSION, machine, JSON.stringify([ARRAY_GROUP])],
  );
  const saved = (await row<{ id: number; machine: string | null }>(
    db,
    "SELECT id, machine FROM node WHERE name = ?",
    [node.name],
  ))!;
  return saved.machine === null ? null : { id: saved.id, session: ARRAY_SESSION };
}

/** What is decided of a node, and of all of them. */
export interface NodeOrders extends NodeSettings {
  /** How the whole house pauses. */
  readonly housePause: Pause;
  /** Of the program that the house runs; null: nobody has written it. */
  readonly houseVersion: string | null;
  /** Number of the last event: another one, and there may be work. */
  readonly lastEvent: number;
  /** Whether it was asked something that it has not answered. */
  readonly isAsked: boolean;
}

interface RawSettings {
  readonly pause: Pause;
  readonly cores: number;
  readonly nice: number;
  readonly memoryMb: number | null;
  readonly hours: unknown;
  readonly inGroups: unknown;
  readonly housePause: Pause | null;
  readonly houseVersion: string | null;
  readonly lastEvent: number | null;
  readonly isAsked: number;
}

/** Names of the groups that a node is in, as its row has them. */
export const readGroups = (inGroups: unknown): readonly string[] =>
  inGroups === null ? [] : fromJson<string[]>(inGroups);

const readSettings = ({
  pause,
  cores,
  nice,
  memoryMb,
  hours,
  inGroups,
  housePause,
  houseVersion,
  lastEvent,
  isAsked,
}: RawSettings): NodeOrders => ({
  pause,
  cores,
  nice,
  memoryMb,
  hours: hours === null ? null : fromJson<Hours>(hours),
  groups: readGroups(inGroups),
  housePause: housePause ?? "no",
  houseVersion,
  lastEvent: lastEvent ?? 0,
  isAsked: isAsked === 1,
});

const ORDERS = `pause, cores, nice, memory_mb AS memoryMb, hours, in_groups AS inGroups,
      (SELECT value FROM setting WHERE name = 'pause') AS housePause,
      (SELECT version FROM installed) AS houseVersion,
      (SELECT MAX(id) FROM event) AS lastEvent,
      EXISTS (SELECT 1 FROM node_request q WHERE q.node_id = node.id AND q.answered_at IS NULL) AS isAsked`;

/** Null when another process works under the name. */
export async function ordersOfNode(db: Db, id: number, session: string): Promise<NodeOrders | null> {
  const found = await row<RawSettings>(db, `SELECT ${ORDERS} FROM node WHERE id = ? AND session = ?`, [
    id,
    session,
  ]);
  return found === null ? null : readSettings(found);
}

/** What a person decided of each node, by node id. */
export const settingsOfNodes = async (db: Db): Promise<ReadonlyMap<number, NodeOrders>> =>
  new Map(
    (await rows<RawSettings & { id: number }>(db, `SELECT id, ${ORDERS} FROM node`)).map((r) => [
      r.id,
      readSettings(r),
    ]),
  );

/** @returns its id; null for an unknown name */
export async function saveNodeSettings(
  db: Db,
  name: string,
  change: Partial<NodeSettings>,
): Promise<number | null> {
  const before = await row<RawSettings & { id: number }>(
    db,
    `SELECT id, ${ORDERS} FROM node WHERE name = ? FOR UPDATE`,
    [name],
  );
  if (before === null) return null;
  const next = { ...readSettings(before), ...change };
  await write(
    db,
    `UPDATE node
    SET pause = ?, cores = ?, nice = ?, memory_mb = ?, hours = ?, in_groups = ?
    WHERE name = ?`,
    [
      next.pause,
      next.cores,
      next.nice,
      next.memoryMb,
      next.hours === null ? null : JSON.stringify(next.hours),
      next.groups.length === 0 ? null : JSON.stringify(next.groups),
      name,
    ],
  );
  return before.id;
}

/** Keeps whether the whole house pauses; read by every node with its heartbeat. */
export async function saveHousePause(db: Db, pause: Pause): Promise<void> {
  await write(db, "REPLACE INTO setting (name, value) VALUES ('pause', ?)", [pause]);
}

export const housePause = async (db: Db): Promise<Pause> =>
  (await row<{ value: Pause }>(db, "SELECT value FROM setting WHERE name = 'pause'"))?.value ?? "no";

/** False when another process has taken the name.
 * @param takes whether the node would take a frame now
 */
export async function touchNode(db: Db, id: number, session: string, takes: boolean): Promise<boolean> {
  return (
    (
      await write(
        db,
        `UPDATE node
          SET seen_at = NOW(3), stopped_at = NULL, takes = ?
          WHERE id = ? AND session = ?`,
        [takes, id, session],
      )
    ).matched === 1
  );
}

/**
 * Says that a node ended of itself. The session guards it: the late goodbye of a process that was replaced
 * must not end its successor.
 */
export async function markNodeStopped(db: Db, id: number, session: string): Promise<void> {
  await write(db, "UPDATE node SET stopped_at = NOW(3) WHERE id = ? AND session = ?", [id, session]);
}

/** Whether ffmpeg is on its machine. */
export async function saveEncodes(db: Db, id: number, encodes: boolean): Promise<void> {
  await write(db, "UPDATE node SET encodes = ? WHERE id = ?", [encodes ? 1 : 0, id]);
}

/** How many are at work, or would be. @param awaySeconds not heard of for so long, one counts as away */
export const nodesAwake = async (db: Db, awaySeconds: number): Promise<number> =>
  (await row<{ n: number }>(
    db,
    "SELECT COUNT(*) AS n FROM node WHERE stopped_at IS NULL AND seen_at > NOW(3) - INTERVAL ? SECOND",
    [awaySeconds],
  ))!.n;

/**
 * Whether another node has ffmpeg, or was not asked yet.
 * @param awaySeconds not heard of for so long, it counts as away
 */
export const mayOthersEncode = async (db: Db, id: number, awaySeconds: number): Promise<boolean> =>
  (await row(
    db,
    `SELECT id FROM node
      WHERE id <> ? AND stopped_at IS NULL AND takes = 1 AND seen_at > NOW(3) - INTERVAL ? SECOND
        AND (encodes IS NULL OR encodes = 1)
      LIMIT 1`,
    [id, awaySeconds],
  )) !== null;
