/** What was asked for, by whom, and what came of it. Lines are added and never changed but for their answer. */
import type { AuditLine } from "@/contract/people";
import type { Who } from "@/contract/who";
import type { Role } from "@/core/access/roles";
import { type Db, row, rows, write } from "../db/rows";

export interface AuditEntry {
  readonly who: Who;
  /** Null: the name was only given. */
  readonly role: Role | null;
  readonly did: string;
  readonly what: string;
  readonly status?: number;
}

const MOST_WHAT = 500;
const MOST_DID = 120;

/** @returns its number, for the answer */
export const noteAudit = async (db: Db, { who, role, did, what, status }: AuditEntry): Promise<number> =>
  (
    await write(db, "INSERT INTO audit (who, role, did, what, status) VALUES (?, ?, ?, ?, ?)", [
      who,
      role,
      did.slice(0, MOST_DID),
      what.slice(0, MOST_WHAT),
      status ?? null,
    ])
  ).id;

export async function noteAnswer(db: Db, id: number, status: number): Promise<void> {
  await write(db, "UPDATE audit SET status = ? WHERE id = ? AND status IS NULL", [status, id]);
}

export async function noteWhat(db: Db, id: number, what: string): Promise<void> {
  await write(db, "UPDATE audit SET what = ? WHERE id = ?", [what.slice(0, MOST_WHAT), id]);
}

/** The newest first. @param before only older ones than this line's number; null: from the newest on */
export const auditLines = async (db: Db, most: number, before: number | null = null): Promise<AuditLine[]> =>
  (
    await rows<Omit<AuditLine, "at"> & { readonly at: Date }>(
      db,
      `SELECT id, at, who, role, did, what, status
        FROM audit
        WHERE ? IS NULL OR id < ?
        ORDER BY id DESC
        LIMIT ?`,
      [before, before, most],
    )
  ).map(({ at, ...line }) => ({ ...line, at: at.getTime() }));

/** How often a name was not let in lately. */
export const refusalsOf = async (db: Db, name: string, minutes: number): Promise<number> =>
  (await row<{ n: number }>(
    db,
    `SELECT COUNT(*) AS n
      FROM audit
      WHERE did = 'was not let in' AND who = ? AND at > NOW(3) - INTERVAL ? MINUTE`,
    [name, minutes],
  ))!.n;

/** How long lines are kept. */
const DAYS = 400;
const MOST_AT_ONCE = 10_000;

export const pruneAudit = async (db: Db): Promise<number> =>
  (
    await write(
      db,
      `DELETE FROM audit WHERE at < NOW(3) - INTERVAL ${DAYS} DAY ORDER BY id LIMIT ${MOST_AT_ONCE}`,
    )
  ).matched;
