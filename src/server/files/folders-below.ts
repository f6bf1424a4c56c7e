/** A folder and all folders below it, with what lies in them. */
import fs from "node:fs/promises";
import path from "node:path";
import type { FolderEntry } from "@/core/naming/group-files";

export interface FolderBelow {
  /** Relative to the one that was asked about; blank for that one. */
  readonly folder: string;
  /** Files, and links to files; each with its size. */
  readonly entries: readonly FolderEntry[];
}

/** What could not be looked into, and why. */
export interface Unreadable {
  readonly folder: string;
  readonly errno: string;
}

/** A tree of renders has a handful of levels. */
const DEEPEST = 32;

/** Null for what went away meanwhile, and for what is no file. */
async function sizeOf(file: string): Promise<number | null> {
  const stat = await fs.stat(file).catch(() => null);
  return stat?.isFile() === true ? stat.size : null;
}

/**
 * Folders in the order of their names, the one above first. Hidden ones are none of a person's pictures; links to folders
 * are not followed, so that a loop of them ends.
 */
export async function* foldersBelow(
  top: string,
  unreadable: Unreadable[],
  folder = "",
  depth = 0,
): AsyncGenerator<FolderBelow> {
  const place = path.join(top, folder);
  const found = await fs.readdir(place, { withFileTypes: true }).catch((error: NodeJS.ErrnoException) => {
    unreadable.push({ folder, errno: error.code ?? "unknown" });
    return [];
  });
  const entries = await Promise.all(
    found
      .filter((entry) => !entry.isDirectory())
      .map(async ({ name }) => ({ name, bytes: await sizeOf(path.join(place, name)) })),
  );
  yield { folder, entries: entries.filter((entry): entry is FolderEntry => entry.bytes !== null) };
  if (depth >= DEEPEST) return;
  const below = found.filter((entry) => entry.isDirectory() && !entry.name.startsWith("."));
  for (const { name } of below.sort((a, b) => (a.name < b.name ? -1 : 1)))
    yield* foldersBelow(top, unreadable, path.join(folder, name), depth + 1);
}
