/** Runs as the pages show them: counts, pace and likely finish. */
import { versionName } from "@/core/plan/plan";
import { estimateFinish, framesAMinute } from "@/core/estimate/finish";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { dispatchOfRun } from "../store/dispatches";
import { limitOfRun } from "../store/renderer-limits";
import { runById, type RunRow, runsOfVersion } from "../store/runs";
import { deedsOfRun } from "../store/deeds";
import { versionsOfRun } from "../store/run-versions";
import { RUNS_SHOWN } from "./shot";
import { goesOn } from "@/core/run/run-life";
import { lightCounts, type RunCounts, runCounts } from "../store/tasks";
import { endedFrames } from "../store/attempts";
import { whyAwaited } from "@/core/run/awaited";
import { awaitedRun } from "../store/run-queue";
import type { Awaited } from "@/core/run/standstill";
import type { RunPaceView, RunView } from "@/contract/run-view";

/** The last dozen, and a round before them: a run that became slower says so soon. */
const PACE_FRAMES = 12;

/** Changes by the clock, also while nothing ends. */
async function paceOf(run: RunRow, counts: RunCounts): Promise<RunPaceView> {
  const recent = await endedFrames(pool(), run.id, PACE_FRAMES + counts.leased);
  const left = run.state === "stopping" ? counts.leased : counts.waiting + counts.leased;
  const finish =
    goesOn(run.state) && run.state !== "halting"
      ? estimateFinish({ left, recent, lanes: counts.leased })
      : null;
  return {
    secondsAFrame: recent.length === 0 ? null : recent.reduce((sum, r) => sum + r.seconds, 0) / recent.length,
    framesAMinute: counts.leased === 0 ? null : framesAMinute(recent, counts.leased),
    likelyFinish: finish === null ? null : Date.now() + finish.likelySeconds * 1000,
    lateFinish: finish === null ? null : Date.now() + finish.lateSeconds * 1000,
  };
}

/**
 * Counts, pace and likely finish of one run: what the strip asks for each time frames are done. @throws
 * TallyError `run-unknown`
 */
export async function viewPace(runId: number): Promise<RunPaceView> {
  const run = await runById(pool(), runId);
  if (run === null) throw new TallyError("run-unknown");
  return paceOf(run, await runCounts(pool(), runId));
}

/** A run that another one waits for; null where it is good. */
async function viewAwaited(id: number): Promise<Awaited | null> {
  const other = await awaitedRun(pool(), id);
  const why = other === null ? null : whyAwaited(other);
  return why === null ? null : { run: id, shot: other!.shot, why };
}

/** A run with its counts, pace, what it covers and what it waits for. */
export async function viewRun(run: RunRow): Promise<RunView> {
  const [counts, covered, deeds] = await Promise.all([
    runCounts(pool(), run.id),
    versionsOfRun(pool(), run.id),
    deedsOfRun(pool(), run.id),
  ]);
  const [pace, lighting, awaits, limit, dispatch] = await Promise.all([
    paceOf(run, counts),
    run.lights ? lightCounts(pool(), run.id) : null,
    run.after === null ? null : viewAwaited(run.after),
    limitOfRun(pool(), run.id),
    dispatchOfRun(pool(), run.id),
  ]);
  const left = counts.waiting + counts.leased;
  return {
    ...pace,
    id: run.id,
    versions: covered.map(versionName),
    revisions: covered.map((v) => ({
      version: versionName(v),
      follows: v.revision,
      newest: v.newestRevision,
    })),
    state: run.state,
    policy: run.policy,
    wanted: run.wanted,
    nodes: run.nodes,
    order: run.order,
    priority: run.priority,
    startAt: run.startAt?.getTime() ?? null,
    stopAt: run.stopAt?.getTime() ?? null,
    batch: run.batch,
    after: run.after,
    awaits,
    limit,
    dispatch,
    lighting,
    isHandedOut: run.handout !== null,
    held: run.held,
    total: left + counts.done + counts.failed,
    done: counts.done,
    failed: counts.failed,
    left,
    deeds,
    createdAt: run.createdAt.getTime(),
    endedAt: run.endedAt?.getTime() ?? null,
  };
}

/** The run that matters now: one that goes on, else the newest that was stopped with frames left. */
export async function runOnShow(versionId: number): Promise<RunView | null> {
  const runs = await runsOfVersion(pool(), versionId, "sequence", RUNS_SHOWN);
  const run = runs.find((r) => goesOn(r.state)) ?? (runs[0]?.state === "stopped" ? runs[0] : undefined);
  return run === undefined ? null : viewRun(run);
}
