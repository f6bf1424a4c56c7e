/**
 * One pool a process (Next may load a module twice, so it hangs on globalThis), and transactions that are
 * tried again after a deadlock.
 */
import mysql from "mysql2/promise";
import { settings } from "../configuration";
import { answerOf, connect, whileBusy } from "./connection";

export type Tx = mysql.PoolConnection;
export type Pool = mysql.Pool;

/**
 * A connection that holds a transaction open longer than this is cut: its node sleeps, and its locks must
 * not.
 */
const IDLE_TRANSACTION_SECONDS = 10;
/** After which a connection that nobody uses is closed, where there are others. */
const IDLE_MS = 30_000;
/** Connections of a process: pages ask several things at once, nodes few. */
const POOL_SIZE = 10;

/**
 * A pool of its own, for a process that wants another size. More than `idle` connections are closed when nobody uses them. Every session is in UTC, reads what is committed,
 * and gives up a lock and a forgotten transaction after seconds.
 */
export function makePool(url: string, size = POOL_SIZE, idle = size): Pool {
  const pool = mysql.createPool({
    uri: url,
    connectionLimit: size,
    maxIdle: idle,
    idleTimeout: IDLE_MS,
    timezone: "Z",
    dateStrings: false,
    supportBigNumbers: true,
    connectTimeout: 5_000,
    charset: "utf8mb4",
  });
  pool.on("connection", (connection) => {
    // The callback interface of the raw connection: statements queue up before the first of ours.
    const raw = connection as unknown as { query: (sql: string) => void };
    raw.query(
      `SET SESSION time_zone = '+00:00', idle_transaction_timeout = ${IDLE_TRANSACTION_SECONDS}, idle_write_transaction_timeout = ${IDLE_TRANSACTION_SECONDS}, innodb_lock_wait_timeout = 5, tx_isolation = 'READ-COMMITTED'`,
    );
  });
  return pool;
}

const shared = globalThis as { plainTallyPool?: Pool };

/** The process's pool, made when it is first asked for. */
export const pool = (): Pool => (shared.plainTallyPool ??= makePool(settings().databaseUrl));

/** Ends it, so that a program or a test can end. The next `pool()` makes another. */
export async function closePool(): Promise<void> {
  const open = shared.plainTallyPool;
  delete shared.plainTallyPool;
  await open?.end();
}

/**
 * Runs `work` in one transaction; commits what it returns, rolls back what it throws. After a deadlock or a
 * lock wait all of it is run again, so `work` must be able to.
 * @throws DatabaseAway where the database does not answer; then it is not known whether it was committed
 */
export function transact<T>(work: (tx: Tx) => Promise<T>, on: Pool = pool()): Promise<T> {
  return whileBusy(async () => {
    const connection = await connect(on);
    try {
      await answerOf(connection, connection.beginTransaction());
      const result = await work(connection);
      await answerOf(connection, connection.commit());
      connection.release();
      return result;
    } catch (error) {
      // A connection whose rollback fails is dead: it must not go back into the pool.
      await answerOf(connection, connection.rollback()).then(
        () => connection.release(),
        () => connection.destroy(),
      );
      throw error;
    }
  });
}
