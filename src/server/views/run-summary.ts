/** What a run came to: made, kept, set aside, its time against the estimate, and where it lies. */
import { deedsOfRun } from "../store/deeds";
import { setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { runById } from "../store/runs";
import { versionsOfRun } from "../store/run-versions";
import { requireSequence } from "../store/shots";
import { sequencePlace } from "../files/layout";
import { runCounts, tasksSetAside } from "../store/tasks";
import { attemptsByNode, runSpan } from "../store/attempts";
import type { RunSummaryView } from "@/contract/run-view";

/** What a run came to, in the words of the result line. @throws TallyError `run-unknown` */
export async function summarizeRun(runId: number): Promise<RunSummaryView> {
  const run = await runById(pool(), runId);
  if (run === null) throw new TallyError("run-unknown");
  const own = await requireSequence(run.sequenceId);
  const [counts, nodes, span, aside, covered] = await Promise.all([
    runCounts(pool(), runId),
    attemptsByNode(pool(), runId),
    runSpan(pool(), runId),
    tasksSetAside(pool(), runId),
    versionsOfRun(pool(), runId),
  ]);
  const folders = await Promise.all(
    covered.map(async (v) =>
      sequencePlace(await requireSequence(v.versionId === own.versionId ? own.id : v.sequenceId)),
    ),
  );
  return {
    id: runId,
    state: run.state,
    made: counts.done,
    kept: run.kept,
    left: counts.waiting + counts.leased,
    setAside: { count: counts.failed, frames: formatPhrase(setOf(aside.map((t) => t.frame))) },
    // Of attempts that are gone no figure is made: it would be too small.
    isTidied: run.tidiedAt !== null,
    seconds: run.tidiedAt === null ? span.worked : null,
    stoodStillSeconds: span.worked === null || span.all === null ? 0 : span.all - span.worked,
    workSeconds: run.tidiedAt === null ? nodes.reduce((sum, n) => sum + n.seconds, 0) : 0,
    estimatedSeconds: run.estimatedSeconds,
    folders,
    deeds: await deedsOfRun(pool(), runId),
    nodes: run.tidiedAt === null ? nodes : [],
  };
}
