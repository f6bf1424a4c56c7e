/** Where projects lie, by their marks alone. */
import fs from "node:fs/promises";
import path from "node:path";
import { projectMark } from "./layout";

/** Of a file that is there, or of one that nobody may ask for. */
export const hasMark = (folder: string): Promise<boolean> =>
  fs.stat(projectMark(folder)).then(
    (stat) => stat.isFile(),
    () => false,
  );

/** Names of the folders in one, without hidden ones and links; none where nobody may read it. */
export const visibleFolders = async (folder: string): Promise<readonly string[]> =>
  (await fs.readdir(folder, { withFileTypes: true }).catch(() => []))
    .filter((entry) => entry.isDirectory() && !entry.name.startsWith("."))
    .map((entry) => entry.name)
    .sort();

export interface MarkedHow {
  /** Folders below one another. */
  readonly deepest: number;
  /** Folders that are looked into; left out: all. */
  readonly most?: number;
  readonly signal?: AbortSignal | undefined;
}

/** Folders with a project's mark, at or below one; none is looked for inside another. @throws AbortError */
export async function markedFolders(
  top: string,
  { deepest, most = Infinity, signal }: MarkedHow,
): Promise<readonly string[]> {
  const found: string[] = [];
  let looked = 0;
  const walk = async (folder: string, depth: number): Promise<void> => {
    signal?.throwIfAborted();
    if (++looked > most) return;
    if (await hasMark(folder)) found.push(folder);
    else if (depth < deepest)
      for (const name of await visibleFolders(folder)) await walk(path.join(folder, name), depth + 1);
  };
  await walk(top, 0);
  return found;
}
