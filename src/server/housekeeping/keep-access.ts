/**
 * Sessions that are over and lines of the audit that are old go. The server does it: nodes see neither of the two.
 */
import type { Pool } from "../db/pool";
import { pruneAudit } from "../store/audit";
import { deleteEndedSessions } from "../store/sessions";

const EVERY_MS = 3_600_000;

export async function keepAccess(pool: Pool): Promise<void> {
  await deleteEndedSessions(pool);
  await pruneAudit(pool);
}

/** Now and each hour. @param say hears what went wrong; the next hour is another try. @returns ends it */
export function keepAccessByTheClock(pool: () => Pool, say: (error: unknown) => void): () => void {
  const go = (): void => void keepAccess(pool()).catch(say);
  go();
  const timer = setInterval(go, EVERY_MS);
  timer.unref();
  return () => clearInterval(timer);
}
