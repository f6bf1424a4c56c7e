/**
 * The mark in a project's folder. A share that is gone leaves an empty folder behind, or none: by the mark the
 * real one is known, so that nothing is taken for deleted, and nothing is written onto a machine's own disk
 * below the place of a share. Made with the project; a folder is never made to hold a mark.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { TallyError } from "../errors";
import { projectMark } from "./layout";
import { projectFolder, type ProjectPlace } from "./paths";

/** For whoever finds it and wonders. */
const TEXT =
  "By this file Plain Tally knows that the folder of the project is really there, and not an empty place of a share that is gone.\n";

/** Why a project's folder cannot be seen: what the system says, or that its mark is not in it. */
export type OutOfSight = string;

/** It is readable, and without its mark. */
export const NO_MARK: OutOfSight = "the project's mark is not in it";

/** Null where the folder is there. */
export async function whyOutOfSight(place: ProjectPlace): Promise<OutOfSight | null> {
  const folder = projectFolder(place);
  try {
    await fs.readFile(projectMark(folder));
    return null;
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== "ENOENT") return code ?? (error as Error).message;
  }
  return fs.readdir(folder).then(
    () => NO_MARK,
    (error: NodeJS.ErrnoException) => error.code ?? error.message,
  );
}

/** Puts the mark into a folder that is there. */
export async function markProject(place: ProjectPlace): Promise<void> {
  const mark = projectMark(projectFolder(place));
  await fs.mkdir(path.dirname(mark)).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "EEXIST") throw error;
  });
  await fs.writeFile(mark, TEXT);
}

/** @throws TallyError `project-out-of-sight` */
export async function requireMark(place: ProjectPlace): Promise<void> {
  const why = await whyOutOfSight(place);
  if (why !== null) throw new TallyError("project-out-of-sight", { folder: projectFolder(place), why });
}
