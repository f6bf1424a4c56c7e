/** Runs once when the server starts: the folder watch, housekeeping and the ledgers. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs") return;
  const { watchFolders } = await import("@/server/folder/folder-watch");
  watchFolders();
  const { keepHouseByTheClock } = await import("@/server/housekeeping/keep-house");
  const { pool } = await import("@/server/db/pool");
  keepHouseByTheClock(pool, (error) => process.stderr.write(`Housekeeping: ${String(error)}\n`));
  const { recordByTheClock } = await import("@/server/ledger/recorder");
  recordByTheClock(pool, (error) => process.stderr.write(`Ledgers: ${String(error)}\n`));
}
