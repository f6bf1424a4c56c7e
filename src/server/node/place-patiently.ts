/**
 * Another program may hold the file that is to be replaced, or the share may not answer: then the node waits a
 * little and tries again.
 */
import { setTimeout as pause } from "node:timers/promises";
import { sayOfAttempt } from "./attempt-log";
import { type FinishedFrame, placeFrame } from "./place-frame";
import type { AttemptHost } from "./attempt-host";

/** Another program holds the file that is to be replaced, for a moment mostly. */
const HELD: ReadonlySet<string> = new Set(["EBUSY", "EPERM", "EACCES", "ETXTBSY"]);
/** The share did not answer, or lost what it had open. */
const UNANSWERED: ReadonlySet<string> = new Set([
  "ETIMEDOUT",
  "EPIPE",
  "ECONNRESET",
  "EAGAIN",
  "EINTR",
  "ESTALE",
  "EHOSTDOWN",
]);

/** Six seconds in all: what holds a file for longer is not a moment. */
const HELD_PAUSES_MS = [500, 1_500, 4_000];

/** Puts a frame in place; tries again a few times while another program holds the old file. */
export async function placePatiently(
  host: AttemptHost,
  finished: FinishedFrame,
  signal: AbortSignal,
): Promise<void> {
  for (const pauseMs of [...HELD_PAUSES_MS, null]) {
    try {
      return await host.whileAway(() => placeFrame(host.pool, finished));
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code ?? "";
      if (pauseMs === null || !(HELD.has(code) || UNANSWERED.has(code))) throw error;
      const why = HELD.has(code) ? "the old file is held by another program" : "the storage does not answer";
      const text = `${why} (${code}); trying again`;
      host.log("warning", `${finished.lease.shot} ${finished.lease.frame}: ${text}`);
      await sayOfAttempt(host.pool, finished.lease, host.name, finished.versionFolder, [
        { level: "warning", text },
      ]);
      await pause(pauseMs, undefined, { signal });
    }
  }
}
