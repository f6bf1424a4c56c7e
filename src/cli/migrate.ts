/**
 * `plain-tally migrate`: brings the database up to date.
 * Runs what is missing and says what it ran; a second call does nothing. The server and the demo call the
 * same.
 */
import path from "node:path";
import { home } from "@/server/configuration";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { renewNodeRights } from "@/server/actions/invite-node";
import { installation } from "@/server/installation";
import { noteInstalled } from "@/server/store/installed";
import { EXIT, type ExitCode, print } from "./command";

/** Safe to call at any time, and by two at once. */
export async function migrateCommand(): Promise<ExitCode> {
  const done = await migrate(pool(), path.join(home(), "db"));
  await noteInstalled(pool(), installation().version);
  // New tables are closed to accounts that were made before them.
  if (done.length > 0) await renewNodeRights(pool());
  print(done.length === 0 ? "The database is up to date." : `Applied ${done.join(", ")}.`);
  return EXIT.fine;
}
