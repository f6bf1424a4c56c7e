/** Runs once when the server starts: the folder watch, housekeeping and the records. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs") return;
  const { watchFolders } = await import("@/server/folder/folder-watch");
  watchFolders();
  const { keepHouseByTheClock } = await import("@/server/housekeeping/keep-house");
  const { pool } = await import("@/server/db/pool");
  keepHouseByTheClock(pool, (error) => process.stderr.write(`Housekeeping: ${String(error)}\n`));
  const { keepAccessByTheClock } = await import("@/server/housekeeping/keep-access");
  keepAccessByTheClock(pool, (error) => process.stderr.write(`Access: ${String(error)}\n`));
  const { writeRecordsByTheClock } = await import("@/server/record/recorder");
  writeRecordsByTheClock(pool, (error) => process.stderr.write(`Records: ${String(error)}\n`));
  const { followClusterByTheClock } = await import("@/server/cluster/follow-cluster");
  followClusterByTheClock(pool, (error) => process.stderr.write(`Cluster: ${String(error)}\n`));
  const { tellWebhooksByTheClock } = await import("@/server/webhooks/tell-webhooks");
  tellWebhooksByTheClock(pool, (error) => process.stderr.write(`Webhooks: ${String(error)}\n`));
}
