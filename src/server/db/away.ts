/**
 * Telling a database that cannot answer now from a statement that is wrong, and from a file that cannot be
 * read. Only what came through the doors of this room is the database's: a share fails with ETIMEDOUT and
 * EPIPE, too. Loads nothing of the database itself.
 */

/** Codes of a way to the database that is cut. */
const CUT = new Set([
  "ECONNREFUSED",
  "ECONNRESET",
  "EPIPE",
  "ETIMEDOUT",
  "ENOTFOUND",
  "EHOSTUNREACH",
  "ENETUNREACH",
  "EAI_AGAIN",
  "PROTOCOL_CONNECTION_LOST",
]);

/** The server shuts down, killed the connection, or has too many. */
const TURNED_AWAY = new Set([1053, 1927, 1040]);

/**
 * The account is gone, its key is another's, or it is locked: the same will be said again. (1045 access denied, 1698 of the
 * kind without a password, 4151 locked.)
 */
const TURNED_OUT = new Set([1045, 1698, 4151]);
export const isTurnedOut = (error: unknown): boolean =>
  TURNED_OUT.has((error as { errno?: number } | null)?.errno ?? 0);

/** A deadlock undid the transaction; a lock was waited for in vain. Run again, the same may go through. */
const BUSY = new Set([1213, 1205]);

/**
 * The database cannot answer now: it is away, says nothing, or holds back. What was asked may be asked again,
 * whole; whether it was done already is not known.
 */
export class DatabaseAway extends Error {
  override readonly name = "DatabaseAway";
  /** It is there, and others hold what is wanted. */
  readonly isBusy: boolean;

  constructor(message: string, isBusy = false, cause?: unknown) {
    super(message, { cause });
    this.isBusy = isBusy;
  }
}

/** What the database said, for the rest of the house: a wrong statement stays the error that it is. */
export function toldByDatabase(error: unknown): unknown {
  if (error instanceof DatabaseAway) return error;
  const { code, fatal, errno, message } = error as {
    code?: string;
    fatal?: boolean;
    errno?: number;
    message?: string;
  };
  if (TURNED_OUT.has(errno ?? 0)) return error;
  if (BUSY.has(errno ?? 0)) return new DatabaseAway(message ?? "busy", true, error);
  const isAway =
    CUT.has(code ?? "") ||
    // Its socket is not there.
    code === "ENOENT" ||
    fatal === true ||
    TURNED_AWAY.has(errno ?? 0);
  return isAway ? new DatabaseAway(message ?? "away", false, error) : error;
}

/** By name: the pages' server may load this module twice. */
export const isDatabaseAway = (error: unknown): error is DatabaseAway =>
  error instanceof Error && error.name === "DatabaseAway";
