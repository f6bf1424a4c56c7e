/**
 * One of several looks is chosen, and the others are retired: what still waits of them in runs waits no more.
 */
import { decideVersion } from "@/core/plan/version-status";
import type { Who } from "@/contract/who";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { forgetOpenQueue } from "../queue/open-runs";
import { appendEvent } from "../store/events";
import { noteDeed } from "../store/deeds";
import { lockVersionsOfShot, saveVersionStatus, versionById } from "../store/shots";
import { closeEndedRuns } from "../queue/run-end";
import { dropTasksOfVersion } from "../store/task-state";

/** Frames in work are finished. @returns frames that wait no more */
export async function decideOnVersion(
  id: number,
  decision: "choose" | "open",
  who: Who = null,
  why: string | null = null,
): Promise<{ readonly dropped: number }> {
  const version = await versionById(pool(), id);
  if (version === null) throw new TallyError("version-unknown");
  const dropped = await transact(async (tx) => {
    let frames = 0;
    for (const [changed, status] of decideVersion(
      await lockVersionsOfShot(tx, version.shotId),
      id,
      decision,
    )) {
      await saveVersionStatus(tx, changed, status);
      if (status === "retired") frames += await dropTasksOfVersion(tx, changed);
    }
    await noteDeed(tx, who, decision, { versionId: id }, why);
    // Every page of the shot shows its versions.
    await appendEvent(tx, "plan");
    return frames;
  });
  forgetOpenQueue(pool());
  await closeEndedRuns(pool());
  return { dropped };
}
