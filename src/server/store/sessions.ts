/** Who has signed in: what a browser has, as a hash, and whose it is. */
import type { Role } from "@/core/access/roles";
import { type Db, row, write } from "../db/rows";

/** After so long without a word, and so long in any case, people sign in anew. */
const IDLE_HOURS = 14;
const MOST_DAYS = 14;
/** Not with each picture. */
const SEEN_SECONDS = 60;

export interface SignedIn {
  readonly personId: number;
  readonly name: string;
  readonly role: Role;
}

const IS_GOOD = `s.seen_at > NOW(3) - INTERVAL ${IDLE_HOURS} HOUR AND s.began_at > NOW(3) - INTERVAL ${MOST_DAYS} DAY`;

/** Null: it is over, or there is none. */
export const signedIn = (db: Db, tokenHash: string): Promise<SignedIn | null> =>
  row<SignedIn>(
    db,
    `SELECT p.id AS personId, p.name, p.role
      FROM session s
      JOIN person p ON p.id = s.person_id
      WHERE s.token_hash = ? AND ${IS_GOOD}`,
    [tokenHash],
  );

export async function beginSession(db: Db, tokenHash: string, personId: number): Promise<void> {
  await write(db, "INSERT INTO session (token_hash, person_id) VALUES (?, ?)", [tokenHash, personId]);
}

/** Notes that it is in use. */
export async function touchSession(db: Db, tokenHash: string): Promise<void> {
  await write(
    db,
    `UPDATE session SET seen_at = NOW(3) WHERE token_hash = ? AND seen_at < NOW(3) - INTERVAL ${SEEN_SECONDS} SECOND`,
    [tokenHash],
  );
}

export async function endSession(db: Db, tokenHash: string): Promise<void> {
  await write(db, "DELETE FROM session WHERE token_hash = ?", [tokenHash]);
}

/** Those that are over. */
export async function deleteEndedSessions(db: Db): Promise<number> {
  return (await write(db, `DELETE s FROM session s WHERE NOT (${IS_GOOD})`)).matched;
}
