/** Locks of the database that one process of a house holds at a time, for work that is more than a transaction. */
import type { Tx } from "./pool";
import { row } from "./rows";

/** Of this schema alone: locks are the whole server's, and it may serve several houses. */
const LOCK = "CONCAT('plain_tally_', ?, '_', MD5(DATABASE()))";

/**
 * Does work that no other process of the house does meanwhile; the lock goes with its connection.
 * @param name of the work; no more than some 20 characters, as MariaDB takes 64 in all
 * @param patience how long another one that is at it is waited for, in seconds
 * @returns null where it was still at it
 */
export async function withHouseLock<T>(
  connection: Tx,
  name: string,
  patience: number,
  work: () => Promise<T>,
): Promise<T | null> {
  const lock = await row<{ held: number | null }>(connection, `SELECT GET_LOCK(${LOCK}, ?) AS held`, [
    name,
    patience,
  ]);
  if (lock?.held !== 1) return null;
  try {
    return await work();
  } finally {
    await row(connection, `SELECT RELEASE_LOCK(${LOCK})`, [name]);
  }
}
