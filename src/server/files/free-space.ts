/**
 * Room on the disk of a project.
 * Asked of the disk each time: others write there, too.
 */
import fs from "node:fs/promises";
import { projectFolder, type ProjectPlace } from "./paths";

/** Free bytes where a project lies; null where the system does not say. */
export async function freeBytesOf(place: ProjectPlace): Promise<number | null> {
  try {
    const { bavail, bsize } = await fs.statfs(projectFolder(place));
    return bavail * bsize;
  } catch {
    return null;
  }
}
