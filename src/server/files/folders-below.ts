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

/** A missing file is an answer, and no error to be made. */
const NO_THROW = { throwIfNoEntry: false } as const;

/** Links are followed; of anything else that is asked with one call. */
function statNow(file: string): fs.Stats | null {
  try {
    const stat = fs.lstatSync(file, NO_THROW);
    return (stat?.isSymbolicLink() === true ? fs.statSync(file, NO_THROW) : stat) ?? null;
  } catch {
    return null;
  }
}

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
    let names: string[];
    try {
      names = how.isAlone === true ? fs.readdirSync(place) : await fs.promises.readdir(place);
    } catch (error) {
      unreadable.push({ folder, errno: (error as NodeJS.ErrnoException).code ?? "unknown" });
      return;
    }
    // Put together by hand: names hold nothing that a path would be cleaned of, and there may be a million.
    const places = names.map((name) => `${place}/${name}`);
    const entries: FolderEntry[] = [];
    const inside: string[] = [];
    const take = (name: string, at: string, stat: fs.Stats | null): void => {
      if (stat === null) {
        if (name.includes(REPLACED)) unreadable.push({ folder: below(name), errno: NOT_TEXT });
      } else if (stat.isFile()) entries.push({ name, bytes: stat.size, modifiedMs: stat.mtimeMs });
      else if (!stat.isDirectory()) return;
      else if (fs.lstatSync(at, NO_THROW)?.isSymbolicLink() === true) links.push(below(name));
      else inside.push(name);
    };
    // What was asked is not kept: a hundred thousand answers cost as much to clear away as to get.
    if (how.isAlone === true)
      for (const [i, name] of names.entries()) take(name, places[i]!, statNow(places[i]!));
    else {
      const stats = await statsLater(places);
      for (const [i, name] of names.entries()) take(name, places[i]!, stats[i]!);
    }
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
