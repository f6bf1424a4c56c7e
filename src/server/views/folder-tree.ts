/**
 * The folders below a root, for whoever points at one: a level at a time with what lies in each, or those whose paths
 * hold some words. Names alone are read; a tree without end is left where it becomes long.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { FolderLine, FolderTreeView } from "@/contract/take-in";
import { isPictureName, splitName } from "@/core/naming/group-files";
import { declaredRoots } from "../configuration";
import { TallyError } from "../errors";
import { insideFolder } from "../files/paths";

/** Lines of one answer. */
const MOST_LINES = 300;
/** Folders that a search looks into. */
const MOST_SEARCHED = 5_000;

interface Inside {
  readonly pictures: number;
  readonly folders: readonly string[];
}

/** What lies in a folder; nothing where it cannot be read, which is told when it is pointed at. */
async function inside(place: string): Promise<Inside> {
  const entries = await fs.readdir(place, { withFileTypes: true }).catch(() => []);
  return {
    pictures: entries.filter((e) => !e.isDirectory() && isPictureName(e.name) && splitName(e.name) !== null)
      .length,
    folders: entries
      .filter((e) => e.isDirectory() && !e.name.startsWith("."))
      .map((e) => e.name)
      .sort(),
  };
}

const below = (folder: string, name: string): string => (folder === "" ? name : `${folder}/${name}`);

async function lineOf(top: string, folder: string): Promise<FolderLine> {
  const { pictures, folders } = await inside(path.join(top, folder));
  return { folder, name: folder.split("/").at(-1)!, pictures, folders: folders.length };
}

/** Breadth first, so that what lies near is found before what lies deep. */
async function search(
  top: string,
  from: string,
  words: readonly string[],
): Promise<Pick<FolderTreeView, "lines" | "isWhole">> {
  const lines: FolderLine[] = [];
  let next = [from];
  for (let looked = 0; next.length > 0;) {
    const level = next;
    next = [];
    for (const folder of level) {
      if (++looked > MOST_SEARCHED || lines.length >= MOST_LINES) return { lines, isWhole: false };
      const { pictures, folders } = await inside(path.join(top, folder));
      const text = folder.toLowerCase();
      if (folder !== from && words.every((word) => text.includes(word)))
        lines.push({ folder, name: folder, pictures, folders: folders.length });
      for (const name of folders) next.push(below(folder, name));
    }
  }
  return { lines, isWhole: true };
}

/**
 * @param root null: the first that is declared
 * @param find words that the paths hold; blank for the level right below
 * @throws TallyError `root-unknown`, `path-outside-root`, `folder-unreadable`
 */
export async function viewFolderTree(
  root: string | null,
  folder: string,
  find: string,
): Promise<FolderTreeView> {
  const declared = declaredRoots();
  const roots = Object.keys(declared).sort();
  const name = root ?? roots[0] ?? "";
  const top = declared[name];
  if (top === undefined) throw new TallyError("root-unknown", { root: name });
  const place = await insideFolder(top, folder);
  const words = find
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== "");
  if (words.length > 0) return { roots, root: name, folder, ...(await search(top, folder, words)) };
  const names = await fs.readdir(place).then(
    async () => (await inside(place)).folders,
    (error: NodeJS.ErrnoException) => {
      throw new TallyError("folder-unreadable", { folder: place, errno: error.code }).because(error);
    },
  );
  const lines: FolderLine[] = [];
  for (const each of names.slice(0, MOST_LINES)) lines.push(await lineOf(top, below(folder, each)));
  return { roots, root: name, folder, lines, isWhole: names.length <= MOST_LINES };
}
