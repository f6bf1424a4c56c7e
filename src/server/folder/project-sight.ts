/**
 * Which projects' folders can be seen by this process. One that cannot is told on every page, with the time
 * since when, and nothing of it is forgotten meanwhile: whoever would note that a file is gone asks here first.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { OutOfSightView } from "@/contract/live";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sequencePlace } from "../files/layout";
import { markProject, NO_MARK, type OutOfSight, whyOutOfSight } from "../files/project-mark";
import { projectFolder, type ProjectPlace } from "../files/paths";
import { filesToProve } from "../store/frame-files";
import { listSequences } from "../store/shots";

/** A project's place, and its name in addresses. */
export interface ProjectInSight extends ProjectPlace {
  readonly project: string;
}

/** The pages' server may load this module twice. */
const shared = globalThis as { plainTallyOutOfSight?: Map<string, OutOfSightView> };
const outOfSight = (): Map<string, OutOfSightView> => (shared.plainTallyOutOfSight ??= new Map());

/** Projects that cannot be seen at the moment, for the pages. */
export const projectsOutOfSight = (): readonly OutOfSightView[] => [...outOfSight().values()];

/**
 * A folder without a mark, as one of before there were marks, or one that somebody tidied up. It is the real
 * one if a file that is known lies in it, or if nothing is known that could be forgotten.
 */
async function isProved({ project }: ProjectInSight): Promise<boolean> {
  const known = await filesToProve(pool(), project);
  if (known.length === 0) return true;
  const sequences = new Map((await listSequences(pool())).map((s) => [s.id, s]));
  for (const { sequenceId, name, bytes } of known) {
    const sequence = sequences.get(sequenceId);
    if (sequence === undefined) continue;
    const stat = await fs.stat(path.join(sequencePlace(sequence), path.basename(name))).catch(() => null);
    if (stat?.size === bytes) return true;
  }
  return false;
}

/** Why it cannot be seen, or null; a folder that is proved to be the real one gets its mark. */
async function lookAtProject(place: ProjectInSight): Promise<OutOfSight | null> {
  const why = await whyOutOfSight(place);
  if (why !== NO_MARK || !(await isProved(place))) return why;
  // Where nobody may write the mark, the proof has to do.
  await markProject(place).catch(() => undefined);
  return null;
}

/**
 * Notes whether the project's folder can be seen, and since when it cannot.
 * @throws TallyError `project-out-of-sight`
 */
export async function requireSight(place: ProjectInSight): Promise<void> {
  const why = await lookAtProject(place);
  if (why === null) {
    outOfSight().delete(place.project);
    return;
  }
  const folder = projectFolder(place);
  const since = outOfSight().get(place.project)?.since ?? Date.now();
  outOfSight().set(place.project, { project: place.project, folder, since, why });
  throw new TallyError("project-out-of-sight", { folder, why });
}
