/** A folder and all folders below it, with what lies in them: names, sizes and dates, nothing opened. */
import fs from "node:fs";
import path from "node:path";
import type { FolderEntry } from "@/core/naming/group-files";
import type { ListedFolder } from "@/core/naming/proposals";

/** What could not be looked into, and why. */
export interface Unreadable {
  /** From the place that was asked about; blank for that one. */
  readonly folder: string;
  /** The system's word, or TOO_DEEP, or NOT_TEXT. */
  readonly errno: string;
}

export interface FoldersBelow {
  /** In the order of their names, the one above first. */
  readonly folders: readonly ListedFolder[];
  readonly unreadable: readonly Unreadable[];
  /** Links to folders: they are not followed, so that a loop of them ends. */
  readonly links: readonly string[];
}

export interface ListHow {
  /** The system is asked file by file and nothing else goes on: three times as fast, for a process of its own. */
  readonly isAlone?: boolean;
  /** False: the folder itself, and none below it. */
  readonly isDeep?: boolean;
  /** Told after each folder. */
  readonly onFolder?: (soFar: { readonly folders: number; readonly files: number }) => void;
  readonly signal?: AbortSignal;
}

/** A tree of renders has a handful of levels. */
const DEEPEST = 32;
/** Deeper folders are not looked into. */
const TOO_DEEP = "too deep";
/** A name that is no UTF-8: nothing here can open it. */
const NOT_TEXT = "its name is not UTF-8";
/** Stands for bytes that are no text. */
const REPLACED = "\ufffd";
/** Asked of the system at one moment. */
const AT_ONCE = 64;

/** Null for what went away meanwhile. */
type Stats = readonly (fs.Stats | null)[];

const statsNow = (files: readonly string[]): Stats =>
  files.map((file) => {
    try {
      return fs.statSync(file, { throwIfNoEntry: false }) ?? null;
    } catch {
      return null;
    }
  });

/** Null for what is not there. By callbacks: half of what promises cost. */
export function statsLater(files: readonly string[]): Promise<Stats> {
  const found: (fs.Stats | null)[] = Array<null>(files.length).fill(null);
  let next = 0;
  let left = files.length;
  return new Promise((resolve) => {
    const ask = (): void => {
      const i = next++;
      if (i >= files.length) return;
      fs.stat(files[i]!, (error, stat) => {
        found[i] = error === null ? stat : null;
        if (--left === 0) resolve(found);
        else ask();
      });
    };
    if (left === 0) resolve(found);
    for (let i = 0; i < AT_ONCE; i++) ask();
  });
}

/** Hidden folders are none of a person's pictures. @throws AbortError */
export async function listFoldersBelow(top: string, how: ListHow = {}): Promise<FoldersBelow> {
  const folders: ListedFolder[] = [];
  const unreadable: Unreadable[] = [];
  const links: string[] = [];
  let files = 0;

  const list = async (folder: string, depth: number): Promise<void> => {
    how.signal?.throwIfAborted();
    const place = path.join(top, folder);
    const below = (name: string): string => (folder === "" ? name : `${folder}/${name}`);
    let found: fs.Dirent[];
    try {
      found =
        how.isAlone === true
          ? fs.readdirSync(place, { withFileTypes: true })
          : await fs.promises.readdir(place, { withFileTypes: true });
    } catch (error) {
      unreadable.push({ folder, errno: (error as NodeJS.ErrnoException).code ?? "unknown" });
      return;
    }
    const inside = found.filter((entry) => entry.isDirectory()).map(({ name }) => name);
    const asked = found.filter((entry) => !entry.isDirectory());
    const places = asked.map(({ name }) => path.join(place, name));
    const stats = how.isAlone === true ? statsNow(places) : await statsLater(places);
    const entries: FolderEntry[] = [];
    asked.forEach((entry, i) => {
      const { name } = entry;
      const stat = stats[i]!;
      if (stat === null) {
        if (name.includes(REPLACED)) unreadable.push({ folder: below(name), errno: NOT_TEXT });
      } else if (stat.isFile()) entries.push({ name, bytes: stat.size, modifiedMs: stat.mtimeMs });
      else if (stat.isDirectory() && entry.isSymbolicLink()) links.push(below(name));
      // Some file systems do not say in the listing what is what.
      else if (stat.isDirectory()) inside.push(name);
    });
    folders.push({ folder, entries });
    files += entries.length;
    how.onFolder?.({ folders: folders.length, files });
    if (how.isDeep === false) return;
    for (const name of inside.sort()) {
      if (name.startsWith(".")) continue;
      if (depth >= DEEPEST) unreadable.push({ folder: below(name), errno: TOO_DEEP });
      else await list(below(name), depth + 1);
    }
  };

  await list("", 0);
  return { folders, unreadable, links };
}
