/** Going on with work once the database is back. */
import { setTimeout as pause } from "node:timers/promises";
import type { LogLevel } from "@/contract/log";
import { isDatabaseAway } from "../db/away";

/** Before the database is tried again after it went away. */
const AWAY_MS = 1_000;

/** Tries again and again while the database is away, until `end`. @throws what else goes wrong, or that at the end */
export async function whileDatabaseAway(
  work: () => Promise<void>,
  log: (level: LogLevel, text: string) => void,
  end: AbortSignal,
): Promise<void> {
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (!isDatabaseAway(error) || end.aborted) throw error;
      log("warning", `the database is away (${(error as Error).message}); trying again`);
      await pause(AWAY_MS, undefined, { signal: end }).catch(() => undefined);
    }
  }
}
