/**
 * Going on with the newest plan: what a stopped run has left is given to a new run, which is decided, judged and
 * frozen like every other. A run itself follows one plan for good, so that its frames are of one look.
 */
import type { Who } from "@/contract/who";
import { formatPhrase } from "@/core/frames/phrase";
import { setOf } from "@/core/frames/frame-set";
import { passBits } from "@/core/plan/passes";
import { versionName } from "@/core/plan/plan";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { appendRunEvent, versionsOfRun } from "../store/run-versions";
import { lockRun, runById, type RunRow } from "../store/runs";
import { requireSequence } from "../store/shots";
import { dropTasks } from "../store/task-state";
import { type TaskRow, tasksOfRun } from "../store/tasks";
import type { RunRequest } from "./run-request";
import { startRun, type StartedRun } from "./start-run";

/** Waiting, or set aside after its tries. */
const isLeft = ({ kind, state }: TaskRow): boolean =>
  kind === "frame" && (state === "waiting" || state === "failed");

/** The wish of the run, for what it has left. */
async function wishOf(run: RunRow, tasks: readonly TaskRow[], left: readonly TaskRow[]): Promise<RunRequest> {
  const sequence = await requireSequence(run.sequenceId);
  const own = passBits([sequence.pass]);
  return {
    sequenceId: run.sequenceId,
    phrase: formatPhrase(setOf(left.map((t) => t.frame))),
    policy: run.policy,
    scope: tasks.every((t) => t.kind === "light" || t.passes === own) ? "sequence" : "version",
    also: (await versionsOfRun(pool(), run.id))
      .filter((v) => v.versionId !== sequence.versionId)
      .map(versionName),
    nodes: run.nodes,
    // The terms of the phrase are gone: what is left is one set.
    order: run.order === "as-written" ? "first-to-last" : run.order,
    priority: run.priority,
    batch: run.batch,
  };
}

/**
 * Starts a run of its own, with the newest plans, for what a stopped run has left; the stopped one waits for
 * nothing any more.
 * @throws TallyError `run-unknown`, `run-not-stopped`, `run-finished`, `run-handed-out`, and those of a start
 */
export async function resumeAtNewest(id: number, who: Who = null): Promise<StartedRun> {
  const run = await runById(pool(), id);
  if (run === null || run.kind !== "sequence") throw new TallyError("run-unknown");
  if (run.handout !== null) throw new TallyError("run-handed-out");
  if (run.state !== "stopped") throw new TallyError("run-not-stopped");
  const tasks = await tasksOfRun(pool(), id);
  const left = tasks.filter(isLeft);
  if (left.length === 0) throw new TallyError("run-finished");
  const started = await startRun(await wishOf(run, tasks, left), who);
  await transact(async (tx) => {
    // Somebody may have let it go on at this moment: then both go on, and no frame is in work twice.
    if ((await lockRun(tx, id))?.state !== "stopped") return;
    await dropTasks(
      tx,
      left.map((t) => t.id),
    );
    await appendRunEvent(tx, id);
  });
  return started;
}
