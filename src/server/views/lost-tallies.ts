/**
 * Tallies that lie below the roots and are not in this house: what a page offers to bring back when the database is
 * lost. Only what lies near a root is found by itself; any other folder can be pointed at.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { LostTalliesView, LostTallyView } from "@/contract/rebuild";
import { largest } from "@/core/many";
import { declaredRoots } from "../configuration";
import { pool } from "../db/pool";
import { isRecordFile, manifestFolder } from "../files/layout";
import { markedFolders } from "../files/marked-folders";
import { isTakenOut } from "../record/read-records";
import { listAllProjects } from "../store/projects";

/** Folders below one another on the way from a root. */
const DEEPEST = 3;
/** Folders that are looked into at a root: one that holds a million is no place for projects. */
const MOST_FOLDERS = 2_000;

/** Null: somebody took its project out, and it is not lost. @param place absolute, below the root's `top` */
async function tallyOf(root: string, top: string, place: string): Promise<LostTallyView | null> {
  const names = await fs.readdir(manifestFolder(place)).catch(() => []);
  const records = names.filter(isRecordFile).map((name) => path.join(manifestFolder(place), name));
  if (await isTakenOut(records)) return null;
  const stats = await Promise.all(records.map((file) => fs.stat(file).catch(() => null)));
  const written = stats.flatMap((stat) => (stat === null ? [] : [stat.mtimeMs]));
  return {
    root,
    folder: path.relative(top, place).split(path.sep).join("/"),
    path: place,
    writtenMs: written.length === 0 ? null : largest(written),
  };
}

const realPath = (place: string): Promise<string> => fs.realpath(place).catch(() => place);

export async function viewLostTallies(): Promise<LostTalliesView> {
  const roots = declaredRoots();
  /** Folders that are told, or in the tally: each once, as roots may lie in one another. */
  const known = new Set<string>();
  for (const { root, folder } of await listAllProjects(pool()))
    if (roots[root] !== undefined) known.add(await realPath(path.join(roots[root], folder)));
  const tallies: LostTallyView[] = [];
  for (const [root, top] of Object.entries(roots))
    for (const place of await markedFolders(top, { deepest: DEEPEST, most: MOST_FOLDERS })) {
      const real = await realPath(place);
      if (known.has(real)) continue;
      known.add(real);
      const tally = await tallyOf(root, top, place);
      if (tally !== null) tallies.push(tally);
    }
  return { tallies: tallies.sort((a, b) => (a.path < b.path ? -1 : 1)) };
}
