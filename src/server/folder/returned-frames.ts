/**
 * Frames that were handed out and have come back: a scan found their files, whole and of the look that was
 * handed out.
 */
import { passBits } from "@/core/plan/passes";
import { pool, transact } from "../db/pool";
import { appendFrameEvent } from "../store/events";
import { closeFindingsAsFixed } from "../store/findings";
import { type FileRow, listFiles } from "../store/frame-files";
import { tasksOut } from "../store/hand-outs";
import { plansOfRun } from "../store/run-space";
import { placesOfRun } from "../store/run-versions";
import { type SequenceRow, sequencesOfVersion } from "../store/shots";
import { printsOf } from "../scenes/prints";
import { closeOutTask } from "../store/task-state";

/**
 * What each sequence of the run would be called by its look: a file of another one is not what was handed
 * out.
 */
async function looksOf(
  runId: number,
  sequences: readonly SequenceRow[],
): Promise<ReadonlyMap<number, string>> {
  // A hand-out is of one version.
  const [[place], [plan]] = [
    await placesOfRun(pool(), runId),
    [...(await plansOfRun(pool(), runId)).values()],
  ];
  return new Map(sequences.map((s) => [s.id, printsOf(plan!, place!.sources, s).look]));
}

/** Closes what is back of a version. */
export async function takeInReturned(versionId: number): Promise<void> {
  const out = await tasksOut(pool(), versionId);
  if (out.length === 0) return;
  const sequences = await sequencesOfVersion(pool(), versionId);
  const files = new Map<number, ReadonlyMap<number, FileRow>>();
  for (const { id } of sequences)
    files.set(id, new Map((await listFiles(pool(), id)).map((f) => [f.frame, f])));
  const looks = new Map<number, ReadonlyMap<number, string>>();
  for (const runId of new Set(out.map((t) => t.runId))) looks.set(runId, await looksOf(runId, sequences));
  for (const task of out) {
    const lead = sequences.find((s) => s.id === task.leadId);
    const own = sequences.filter(
      (s) => s.camera === lead?.camera && (task.passes & passBits([s.pass])) !== 0,
    );
    const isBack = own.every((s) => {
      const file = files.get(s.id)?.get(task.frame);
      // A file of another renderer says nothing of its look.
      return (
        file?.verdict === "good" &&
        (file.look === null || file.look === looks.get(task.runId)?.get(s.id)) &&
        (s.id !== task.leadId || file.content !== task.contentBefore)
      );
    });
    if (!isBack) continue;
    await transact(async (tx) => {
      if (!(await closeOutTask(tx, task.id))) return;
      for (const s of own) await closeFindingsAsFixed(tx, s.id, task.frame, false);
      await appendFrameEvent(tx, "task", { sequenceId: task.leadId, runId: task.runId }, task.frame);
    });
  }
}
