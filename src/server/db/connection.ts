/**
 * Connections with an end to every wait. A database that hangs, or a link that swallows what is sent, says
 * nothing at all: after a time that is the same as an answer that it is away. The connection is thrown away
 * then, for an answer that comes late would be taken for that of the next question.
 */
import { setTimeout as pause } from "node:timers/promises";
import type { Socket } from "node:net";
import type mysql from "mysql2/promise";
import { DatabaseAway, isDatabaseAway, toldByDatabase } from "./away";

/** Above a lock wait (5 s) and the largest statement of ours on a slow machine. */
const ANSWER_MS = 12_000;
/** A free one of the pool, or a new one. */
const CONNECT_MS = 12_000;

/** What was undone by a deadlock or waited for a lock in vain is run again for so long. */
const AGAIN_MS = 15_000;
const LEAST_PAUSE_MS = 10;

/**
 * Ends a connection at once. The driver's own way says goodbye and waits for the other side, which is what
 * does not answer.
 */
function cut(connection: mysql.PoolConnection): void {
  connection.destroy();
  // The raw connection and its socket are there, and not in the types of the promise interface.
  (connection as unknown as { connection: { stream: Socket } }).connection.stream.destroy();
}

/**
 * The answer, or DatabaseAway when there is none in time.
 * @param answerMs how long it is waited for
 */
export async function answerOf<T>(
  connection: mysql.PoolConnection,
  asked: Promise<T>,
  answerMs = ANSWER_MS,
): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  let late: NodeJS.Immediate | undefined;
  const silence = new Promise<never>((_, reject) => {
    const giveUp = (): void => {
      cut(connection);
      reject(new DatabaseAway(`The database has not answered for ${answerMs / 1000} s.`));
    };
    // Where this program itself was held up, the answer may be there and unread: it is read first.
    timer = setTimeout(() => (late = setImmediate(giveUp)), answerMs);
  });
  try {
    return await Promise.race([asked, silence]);
  } catch (error) {
    throw toldByDatabase(error);
  } finally {
    clearTimeout(timer);
    clearImmediate(late);
  }
}

/** A connection of the pool. One that comes too late goes back by itself. */
export async function connect(pool: mysql.Pool, connectMs = CONNECT_MS): Promise<mysql.PoolConnection> {
  let timer: NodeJS.Timeout | undefined;
  let isLate = false;
  const coming = pool.getConnection();
  void coming.then((connection) => isLate && connection.release()).catch(() => undefined);
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      isLate = true;
      reject(new DatabaseAway(`There was no connection to the database for ${connectMs / 1000} s.`));
    }, connectMs);
  });
  try {
    return await Promise.race([coming, silence]);
  } catch (error) {
    throw toldByDatabase(error);
  } finally {
    clearTimeout(timer);
  }
}

/** Runs work again that others kept from being done (deadlock, lock wait), with jitter, for a while. */
export async function whileBusy<T>(work: () => Promise<T>): Promise<T> {
  const began = performance.now();
  for (let pauseMs = LEAST_PAUSE_MS; ; pauseMs *= 2) {
    try {
      return await work();
    } catch (error) {
      if (!isDatabaseAway(error) || !error.isBusy || performance.now() - began > AGAIN_MS) throw error;
      await pause(Math.random() * pauseMs);
    }
  }
}
