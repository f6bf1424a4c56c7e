/**
 * The only module that writes a run's state. What an event makes of it is core/run/run-life; the
 * statement repeats the state that was read, so that of two at one moment one is refused.
 */
import type { RunHeld } from "@/contract/hold";
import { goesOn, nextRunState, type RunEvent, type RunState } from "@/core/run/run-life";
import type { Tx } from "../db/pool";
import { type Db, row, write } from "../db/rows";
import { appendRunEvent } from "./run-versions";
import type { RunKind } from "./runs";
import { noteForWebhooks } from "./webhooks";

/** @returns the state it is in now; null when the event is refused, or there is no such run */
export async function moveRun(tx: Tx, runId: number, event: RunEvent): Promise<RunState | null> {
  const found = await row<{ state: RunState; kind: RunKind }>(
    tx,
    "SELECT state, kind FROM run WHERE id = ? FOR UPDATE",
    [runId],
  );
  const to = found === null ? null : nextRunState(found.state, event);
  if (found === null || to === null) return null;
  const ended = goesOn(to) ? "NULL" : "NOW(3)";
  // What was due to stop has stopped: going on means to go on beyond that time.
  const dueNoMore =
    event === "stop-after-these" || event === "stop-now" ? "IF(stop_at <= NOW(3), NULL, stop_at)" : "stop_at";
  await write(
    tx,
    `UPDATE run
      SET state = ?, held = NULL, ended_at = ${ended}, stop_at = ${dueNoMore}
      WHERE id = ? AND state = ?`,
    [to, runId, found.state],
  );
  await appendRunEvent(tx, runId);
  if (!goesOn(to) && found.kind === "sequence") await noteForWebhooks(tx, "run.ended", [{ run: runId }]);
  return to;
}

/**
 * Holds a run: what is in work goes on, and nothing new is leased. A full disk, which ends by itself, does
 * not take the place of what waits for a person.
 */
export async function holdRun(db: Db, runId: number, held: RunHeld): Promise<void> {
  const { matched } = await write(
    db,
    `UPDATE run
      SET held = ?
      WHERE id = ? AND state = 'active'
        AND (held IS NULL OR (JSON_VALUE(held, '$.code') = 'disk-full' AND ? <> 'disk-full'))`,
    [JSON.stringify(held), runId, held.code],
  );
  if (matched === 1) await appendRunEvent(db, runId);
}
