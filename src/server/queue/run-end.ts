/**
 * Frees leases that ran out, closes runs that are over, and calls what the configuration file wants called then. Whoever closes a run
 * calls it, so it is called once.
 */
import { versionName } from "@/core/plan/plan";
import { callProgram } from "../call-program";
import { settings } from "../configuration";
import type { RunState } from "@/core/run/run-life";
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

/** What a run came to, in words and counts that programs of others take. */
export interface EndedRun {
  readonly run: number;
  readonly shot: string;
  /** Names, with commas. */
  readonly version: string;
  readonly state: RunState;
  readonly made: number;
  readonly failed: number;
  readonly left: number;
  readonly folder: string;
}

/** Null: it is gone, or a proof, which is looked at while one waits for it. */
export async function endedRun(pool: Pool, runId: number): Promise<EndedRun | null> {
  const run = await runById(pool, runId);
  const sequence = run === null ? null : await sequenceById(pool, run.sequenceId);
  if (run === null || sequence === null || run.kind === "proof") return null;
  const counts = await runCounts(pool, runId);
  return {
    run: runId,
    shot: sequence.shot,
    version: (await versionsOfRun(pool, runId)).map(versionName).join(","),
    state: run.state,
    made: counts.done,
    failed: counts.failed,
    left: counts.waiting + counts.leased,
    folder: sequencePlace(sequence),
  };
}

async function callAtEnd(pool: Pool, runId: number): Promise<void> {
  const ended = settings().programCalls.whenRunEnds === null ? null : await endedRun(pool, runId);
  if (ended !== null) callProgram("whenRunEnds", { ...ended });
}
