/**
 * Handovers: what somebody wants to give away, and what became of it. The only statements that set a handover's state;
 * what may become of which is drawn in core/handover/handover-life.
 */
import { checkFault, checkResult, checkWish, type HandoverResult, wishOf } from "@/contract/handover";
import type { Checked } from "@/contract/validate";
import type { Who } from "@/contract/who";
import { type HandoverState, statesBeforeHandover } from "@/core/handover/handover-life";
import type { HandoverKind, Wish } from "@/core/handover/wish";
import { type Db, fromJson, marks, type Params, row, rows, write } from "../db/rows";
import type { Tx } from "../db/pool";

export interface HandoverFault {
  readonly code: string;
  readonly message: string;
}

export interface HandoverRow {
  readonly id: number;
  readonly projectId: number;
  /** Null: the edit of its project. */
  readonly sequenceId: number | null;
  readonly runId: number | null;
  readonly wish: Wish;
  readonly name: string | null;
  readonly outside: string | null;
  readonly state: HandoverState;
  readonly held: string | null;
  readonly progress: number | null;
  readonly node: string | null;
  readonly madeFrom: string | null;
  readonly result: HandoverResult | null;
  readonly fault: HandoverFault | null;
  readonly who: Who;
  readonly createdAt: Date;
  readonly endedAt: Date | null;
}

const HANDOVER = `SELECT h.id, h.project_id AS projectId, h.sequence_id AS sequenceId, h.run_id AS runId, h.wish, h.name,
    h.outside, h.state, h.held, h.progress, n.name AS node, h.made_from AS madeFrom, h.result, h.fault, h.who,
    h.created_at AS createdAt, h.ended_at AS endedAt
  FROM handover h
  LEFT JOIN node n ON n.id = h.node_id`;

type Raw = Omit<HandoverRow, "wish" | "result" | "fault"> & {
  readonly wish: unknown;
  readonly result: unknown;
  readonly fault: unknown;
};
/** What does not fit any more, or was changed in a record, is none. */
const checkedOr = <T>(value: unknown, check: (value: unknown) => Checked<T>): T | null => {
  if (value === null) return null;
  const checked = check(fromJson(value));
  return checked.ok ? checked.value : null;
};
/** Null where nobody can tell what was wanted. */
function read(raw: Raw): HandoverRow | null {
  const wish = checkedOr(raw.wish, checkWish);
  return wish === null
    ? null
    : {
        ...raw,
        wish: wishOf(wish),
        result: checkedOr(raw.result, checkResult),
        fault: checkedOr(raw.fault, checkFault),
      };
}

const all = async (db: Db, where: string, params: Params): Promise<HandoverRow[]> =>
  (await rows<Raw>(db, `${HANDOVER} ${where}`, params)).map(read).filter((row) => row !== null);

export const handoverById = async (db: Db, id: number): Promise<HandoverRow | null> =>
  (await all(db, "WHERE h.id = ?", [id]))[0] ?? null;

/** The newest first. */
export const handoversOfSequences = async (
  db: Db,
  sequenceIds: readonly number[],
  most: number,
): Promise<HandoverRow[]> =>
  all(db, `WHERE h.sequence_id IN ${marks(sequenceIds)} ORDER BY h.id DESC LIMIT ?`, [...sequenceIds, most]);

/** Of a project's edits, the newest first. */
export const handoversOfEdit = (db: Db, projectId: number, most: number): Promise<HandoverRow[]> =>
  all(db, "WHERE h.project_id = ? AND h.sequence_id IS NULL ORDER BY h.id DESC LIMIT ?", [projectId, most]);

/** All that have come to an end since, over all projects, by their end. */
export const handoversSince = (db: Db, since: Date): Promise<HandoverRow[]> =>
  all(db, "WHERE h.ended_at > ? ORDER BY h.ended_at, h.id", [since]);

/** Those that follow runs and have not begun, the oldest first. */
export const awaitedHandovers = (db: Db): Promise<HandoverRow[]> =>
  all(db, "WHERE h.state = 'awaiting' ORDER BY h.id", []);

/** What was said while it was made; blank while nothing was. */
export const logOfHandover = async (db: Db, id: number): Promise<string> =>
  (await row<{ log: string | null }>(db, "SELECT log FROM handover WHERE id = ?", [id]))?.log ?? "";

/** Names of a project's handovers that begin with a text. */
export const namesOfHandovers = async (db: Db, projectId: number, stem: string): Promise<readonly string[]> =>
  (
    await rows<{ name: string }>(
      db,
      "SELECT name FROM handover WHERE project_id = ? AND name IS NOT NULL AND LEFT(name, CHAR_LENGTH(?)) = ?",
      [projectId, stem, stem],
    )
  ).map((r) => r.name);

export interface NewHandover {
  readonly projectId: number;
  readonly sequenceId: number | null;
  readonly runId: number | null;
  readonly wish: Wish;
  readonly name: string | null;
  readonly outside: string | null;
  readonly who: Who;
}

/** @returns its id. @throws a duplicate key where somebody took the name at the same moment */
export const insertHandover = async (tx: Tx, made: NewHandover): Promise<number> =>
  (
    await write(
      tx,
      `INSERT INTO handover (project_id, sequence_id, run_id, wish, name, outside, state, who)
        VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        made.projectId,
        made.sequenceId,
        made.runId,
        JSON.stringify(made.wish),
        made.name,
        made.outside,
        made.runId === null ? "waiting" : "awaiting",
        made.who,
      ],
    )
  ).id;

/** Right to make it, for a time. */
export interface HandoverLease {
  readonly id: number;
  /** Fresh for each lease. */
  readonly token: string;
  /** How often it was begun: names the temporary file. */
  readonly count: number;
}

const before = (event: Parameters<typeof statesBeforeHandover>[0]): readonly string[] =>
  statesBeforeHandover(event);

const OPEN = "(h.state = 'waiting' OR (h.state = 'leased' AND h.lease_until < NOW(6)))";

export interface OpenHandover {
  readonly id: number;
  readonly as: HandoverKind;
  /** Where its project lies. */
  readonly root: string;
  readonly folder: string;
}

/** Those that nobody makes; one whose maker is gone comes first. */
export const openHandovers = (db: Db): Promise<OpenHandover[]> =>
  rows(
    db,
    `SELECT h.id, JSON_VALUE(h.wish, '$.as') AS \`as\`, p.root, p.folder
      FROM handover h
      JOIN project p ON p.id = h.project_id
      WHERE ${OPEN}
      ORDER BY h.state = 'leased' DESC, h.id`,
  );

/** One that nobody makes, locked; null where somebody has it by now. */
export const lockOpenHandover = (tx: Tx, id: number): Promise<{ readonly leases: number } | null> =>
  row(tx, `SELECT h.leases FROM handover h WHERE h.id = ? AND ${OPEN} FOR UPDATE SKIP LOCKED`, [id]);

/** Inside the transaction that locked it. */
export async function leaseHandover(
  tx: Tx,
  lease: HandoverLease,
  nodeId: number | null,
  leaseSeconds: number,
): Promise<void> {
  await write(
    tx,
    `UPDATE handover
      SET state = 'leased', token = ?, lease_until = NOW(6) + INTERVAL ? SECOND, node_id = ?, leases = ?,
        progress = 0, log = NULL, started_at = COALESCE(started_at, NOW(3))
      WHERE id = ? AND state IN ${marks(before("lease"))}`,
    [lease.token, leaseSeconds, nodeId, lease.count, lease.id, ...before("lease")],
  );
}

/** @returns false where the lease is another's by now, or it was stopped */
export const renewHandover = async (
  db: Db,
  { id, token }: HandoverLease,
  progress: number,
  leaseSeconds: number,
): Promise<boolean> =>
  (
    await write(
      db,
      `UPDATE handover
        SET lease_until = NOW(6) + INTERVAL ? SECOND, progress = ?
        WHERE id = ? AND token = ? AND state = 'leased'`,
      [leaseSeconds, progress, id, token],
    )
  ).matched === 1;

/** Locks the row while a file gets its name. @returns whether it is still ours */
export const holdHandover = async (tx: Tx, { id, token }: HandoverLease): Promise<boolean> =>
  (await row(tx, "SELECT id FROM handover WHERE id = ? AND token = ? AND state = 'leased' FOR UPDATE", [
    id,
    token,
  ])) !== null;

export interface HandoverEnd {
  readonly madeFrom: string | null;
  readonly result: HandoverResult;
  readonly log: string;
}

const endedFrom = (event: "finish" | "fail" | "stop"): string => `state IN ${marks(before(event))}`;

export const finishHandover = async (
  tx: Tx,
  { id, token }: HandoverLease,
  end: HandoverEnd,
): Promise<boolean> =>
  (
    await write(
      tx,
      `UPDATE handover
        SET state = 'done', progress = 1, token = NULL, lease_until = NULL, made_from = ?, result = ?, log = ?,
          held = NULL, ended_at = NOW(3)
        WHERE id = ? AND token = ? AND ${endedFrom("finish")}`,
      [end.madeFrom, JSON.stringify(end.result), end.log, id, token, ...before("finish")],
    )
  ).matched === 1;

export const failHandover = async (
  db: Db,
  { id, token }: HandoverLease,
  fault: HandoverFault,
  log: string,
): Promise<boolean> =>
  (
    await write(
      db,
      `UPDATE handover
        SET state = 'failed', progress = NULL, token = NULL, lease_until = NULL, fault = ?, log = ?, ended_at = NOW(3)
        WHERE id = ? AND token = ? AND ${endedFrom("fail")}`,
      [JSON.stringify(fault), log, id, token, ...before("fail")],
    )
  ).matched === 1;

/** Waits again: its node is asked to end. */
export async function giveBackHandover(db: Db, { id, token }: HandoverLease): Promise<void> {
  const from = before("give-back");
  await write(
    db,
    `UPDATE handover
      SET state = 'waiting', progress = NULL, token = NULL, lease_until = NULL, node_id = NULL
      WHERE id = ? AND token = ? AND state IN ${marks(from)}`,
    [id, token, ...from],
  );
}

/** Whoever makes it hears of it with the next renewal. @returns false where it was over already */
export const stopHandover = async (db: Db, id: number): Promise<boolean> =>
  (
    await write(
      db,
      `UPDATE handover
        SET state = 'stopped', progress = NULL, token = NULL, lease_until = NULL, ended_at = NOW(3)
        WHERE id = ? AND ${endedFrom("stop")}`,
      [id, ...before("stop")],
    )
  ).matched === 1;

/** One that followed a run begins. @returns false where it has begun, or was stopped */
export const beginHandover = async (tx: Tx, id: number): Promise<boolean> =>
  (
    await write(
      tx,
      `UPDATE handover SET state = 'waiting', held = NULL WHERE id = ? AND state IN ${marks(before("begin"))}`,
      [id, ...before("begin")],
    )
  ).matched === 1;

/** Why it is still awaited; null: its run goes on. @returns false where somebody else has said so first */
export const holdBackHandover = async (
  db: Db,
  { id, held: before }: Pick<HandoverRow, "id" | "held">,
  held: string | null,
): Promise<boolean> =>
  (
    await write(db, "UPDATE handover SET held = ? WHERE id = ? AND state = 'awaiting' AND held <=> ?", [
      held,
      id,
      before,
    ])
  ).matched === 1;

/** Takes it off the list; its file stays where it is. Only what is over. */
export const deleteHandover = async (db: Db, id: number): Promise<boolean> =>
  (await write(db, "DELETE FROM handover WHERE id = ? AND state IN ('done', 'failed', 'stopped')", [id]))
    .matched === 1;
