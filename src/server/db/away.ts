/** Telling a database that is away from a statement that is wrong. Loads nothing of the database itself. */
/** Codes of a way to the database that is cut. */
const CUT = new Set([
  "ECONNREFUSED",
  "ECONNRESET",
  "EPIPE",
  "ETIMEDOUT",
  "ENOTFOUND",
  "PROTOCOL_CONNECTION_LOST",
]);

/** The server shuts down, killed the connection, or has too many. */
const TURNED_AWAY = new Set([1053, 1927, 1040]);

/**
 * True for failures of the database or the way to it, as opposed to a wrong statement or a file that is not
 * there (a socket that is not there has `syscall` connect).
 */
export function isDatabaseAway(error: unknown): boolean {
  const { code, fatal, errno, syscall } = error as {
    code?: string;
    fatal?: boolean;
    errno?: number;
    syscall?: string;
  };
  return (
    CUT.has(code ?? "") ||
    (code === "ENOENT" && syscall === "connect") ||
    fatal === true ||
    TURNED_AWAY.has(errno ?? 0)
  );
}
