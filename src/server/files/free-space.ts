/**
 * Room on the disk of a project.
 * Asked of the disk each time: others write there, too.
 */
import fs from "node:fs/promises";
import { projectFolder, type ProjectPlace } from "./paths";

/** Free bytes of the disk of a folder; null where the system does not say. */
export async function freeBytes(folder: string): Promise<number | null> {
  try {
    const { bavail, bsize } = await fs.statfs(folder);
    return bavail * bsize;
  } catch {
    return null;
  }
}

/** The same, where a project lies. */
export const freeBytesOf = (place: ProjectPlace): Promise<number | null> => freeBytes(projectFolder(place));
