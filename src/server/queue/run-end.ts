/**
 * Frees leases that ran out, closes runs that are over, and calls what the configuration file wants called then. Whoever closes a run
 * calls it, so it is called once.
 */
import { versionName } from "@/core/plan/plan";
import { callProgram } from "../call-program";
import { settings } from "../configuration";
import type { Pool } from "../db/pool";
import { freeExpiredLeases } from "./lease";
import { settleRuns } from "./settle";
import { runById } from "../store/runs";
import { versionsOfRun } from "../store/run-versions";
import { sequenceById } from "../store/shots";
import { sequencePlace } from "../files/layout";
import { runCounts } from "../store/tasks";

/** Called by whoever may have done the last of a run: nodes, stops, and takings-back. */
export async function closeEndedRuns(pool: Pool): Promise<void> {
  await freeExpiredLeases(pool);
  for (const id of await settleRuns(pool)) await callAtEnd(pool, id);
}

async function callAtEnd(pool: Pool, runId: number): Promise<void> {
  const run = settings().programCalls.whenRunEnds === null ? null : await runById(pool, runId);
  const sequence = run === null ? null : await sequenceById(pool, run.sequenceId);
  // Proofs are looked at while one waits for them.
  if (run === null || sequence === null || run.kind === "proof") return;
  const counts = await runCounts(pool, runId);
  callProgram("whenRunEnds", {
    run: runId,
    shot: sequence.shot,
    version: (await versionsOfRun(pool, runId)).map(versionName).join(","),
    state: run.state,
    made: counts.done,
    failed: counts.failed,
    left: counts.waiting + counts.leased,
    folder: sequencePlace(sequence),
  });
}
