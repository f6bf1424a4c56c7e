/**
 * Paths below a declared root. What leaves the root, by `..`, by being absolute or through a link, is
 * refused.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { TallyError } from "../errors";
import { declaredRoots } from "../configuration";

export interface ProjectPlace {
  /** Name of a storage root. */
  readonly root: string;
  /** Relative to the root. */
  readonly folder: string;
}

/** Refused, and named. */
const outside = (relative: string): TallyError => new TallyError("path-outside-root", { path: relative });

/** By whole parts of the path: `/a/bc` is not inside `/a/b`. */
export const isInside = (parent: string, child: string): boolean =>
  child === parent || child.startsWith(parent + path.sep);

const unreadable = (folder: string, error: NodeJS.ErrnoException): TallyError =>
  new TallyError("folder-unreadable", { folder, errno: error.code }).because(error);

/**
 * Absolute path of a relative one, links followed as far as the path exists.
 * @throws TallyError `path-outside-root`; `folder-unreadable` where the parent itself is not to be had
 */
export async function insideFolder(parent: string, relative: string): Promise<string> {
  if (path.isAbsolute(relative) || relative.includes("\0")) throw outside(relative);
  const wanted = path.resolve(parent, relative);
  if (!isInside(path.resolve(parent), wanted)) throw outside(relative);
  const real = await fs.realpath(parent).catch((error: NodeJS.ErrnoException) => {
    throw unreadable(parent, error);
  });
  // The bundler of the pages loses an import that is used in the head of a `for`: hence `while`.
  let there = wanted;
  let resolved = await realPathOf(there);
  while (resolved === null) {
    there = path.dirname(there);
    resolved = await realPathOf(there);
  }
  if (!isInside(real, resolved) && isInside(path.resolve(parent), there)) throw outside(relative);
  return wanted;
}

/** A path with its links followed, or null when it does not exist. */
async function realPathOf(place: string): Promise<string | null> {
  try {
    return await fs.realpath(place);
  } catch (error) {
    if (["ENOENT", "ENOTDIR"].includes((error as NodeJS.ErrnoException).code ?? "")) return null;
    throw unreadable(place, error as NodeJS.ErrnoException);
  }
}

/** Folder of a project. @throws TallyError `root-unknown` where this process has no root of that name */
export function projectFolder(place: ProjectPlace): string {
  const root = declaredRoots()[place.root];
  if (root === undefined) throw new TallyError("root-unknown", { root: place.root });
  return path.join(root, place.folder);
}
