/** Which declared root a folder lies on: of roots inside one another the innermost. */
import type { PointedFolder } from "@/contract/take-in";
import fs from "node:fs/promises";
import path from "node:path";
import { declaredRoots } from "../configuration";
import { TallyError } from "../errors";
import { insideFolder, isInside, type ProjectPlace } from "../files/paths";

/**
 * A folder as a page names it.
 * @throws TallyError as below, and `path-outside-root` for a way that leads out of its root
 */
export async function pointedPlace({ root, folder }: PointedFolder): Promise<ProjectPlace> {
  if (root !== null) {
    const top = declaredRoots()[root];
    if (top === undefined) throw new TallyError("root-unknown", { root }).at("folder");
    return placeBelowRoot(await insideFolder(top, folder));
  }
  if (!path.isAbsolute(folder))
    throw new TallyError("folder-missing", { folder, errno: "write the whole path, from / on" }).at("folder");
  return placeBelowRoot(folder);
}

/**
 * @param folder absolute
 * @returns root, and the way from it, links followed
 * @throws TallyError `folder-unreadable`, `folder-outside-roots`
 */
export async function placeBelowRoot(folder: string): Promise<ProjectPlace> {
  const real = await fs.realpath(folder).catch((error: NodeJS.ErrnoException) => {
    throw new TallyError("folder-missing", { folder, errno: error.code }).because(error).at("folder");
  });
  if (!(await fs.stat(real)).isDirectory())
    throw new TallyError("folder-missing", { folder, errno: "it is a file" }).at("folder");
  let best: { readonly root: string; readonly place: string } | null = null;
  for (const [root, declared] of Object.entries(declaredRoots())) {
    const place = await fs.realpath(declared).catch(() => null);
    if (place === null || !isInside(place, real)) continue;
    if (best === null || place.length > best.place.length) best = { root, place };
  }
  if (best === null) throw new TallyError("folder-outside-roots", { folder: real }).at("folder");
  return { root: best.root, folder: path.relative(best.place, real).split(path.sep).join("/") };
}
