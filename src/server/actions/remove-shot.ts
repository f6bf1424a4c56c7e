/** Takes a shot out of the tally. What is on disk stays there, and is told. */
import path from "node:path";
import type { LeftOnDisk } from "@/contract/project-view";
import type { Who } from "@/contract/who";
import { pool, type Tx, transact } from "../db/pool";
import { TallyError } from "../errors";
import { projectFolder } from "../files/paths";
import { noteDeed } from "../store/deeds";
import { appendEvent } from "../store/events";
import { requireShot } from "../store/find-shot";
import { deleteShot } from "../store/forget";
import { filesOfShot } from "../store/frame-files";
import { openRunsOfShot } from "../store/runs";
import { lockVersionsOfShot } from "../store/shots";

export const NOTHING_LEFT: LeftOnDisk = { folder: "", files: 0, bytes: 0 };

/** Of several shots in one folder. */
export const sumOfLeft = (a: LeftOnDisk, b: LeftOnDisk): LeftOnDisk => ({
  folder: a.folder,
  files: a.files + b.files,
  bytes: a.bytes + b.bytes,
});

/**
 * Locks the shot's versions, as a start does.
 * @throws TallyError `shot-at-work` while a run of it goes on
 */
export async function requireRest(tx: Tx, shotId: number, name: string): Promise<void> {
  await lockVersionsOfShot(tx, shotId);
  const runs = await openRunsOfShot(tx, shotId);
  if (runs.length > 0) throw new TallyError("shot-at-work", { shot: name, runs });
}

/** @param name `project/CODE` @throws TallyError `shot-unknown`, `shot-at-work` */
export async function removeShot(name: string, who: Who = null): Promise<LeftOnDisk> {
  const { shot, project } = await requireShot(name);
  const { names, files, bytes } = await filesOfShot(pool(), shot.id);
  await transact(async (tx) => {
    await requireRest(tx, shot.id, name);
    await deleteShot(tx, shot.id);
    await noteDeed(tx, who, "remove", { projectId: project.id });
    await appendEvent(tx, "plan");
  });
  const folders = names.length === 1 ? names[0]! : "";
  return { folder: path.join(projectFolder(project), folders), files, bytes };
}
