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
import { isRecordFile, manifestFolder, projectMark } from "../files/layout";
import { endsRemoved } from "../record/read-records";
import { listAllProjects } from "../store/projects";

/** Folders below one another on the way from a root. */
const DEEPEST = 3;
/** Folders that are looked into at a root: one that holds a million is no place for projects. */
const MOST_FOLDERS = 2_000;

/** Records of a folder by when something was written into them last. Null: it has no mark, or none. */
async function tallyOf(root: string, top: string, folder: string): Promise<LostTallyView | null> {
  const place = path.join(top, folder);
  const isMarked = await fs.stat(projectMark(place)).then(
    (stat) => stat.isFile(),
    () => false,
  );
  if (!isMarked) return null;
  const names = await fs.readdir(manifestFolder(place)).catch(() => []);
  const records = names.filter(isRecordFile).map((name) => path.join(manifestFolder(place), name));
  const stats = await Promise.all(records.map((file) => fs.stat(file).catch(() => null)));
  // Somebody took it out: it is not lost.
  for (const file of records) if (await endsRemoved(file).catch(() => false)) return null;
  const written = stats.flatMap((stat) => (stat === null ? [] : [stat.mtimeMs]));
  return { root, folder, path: place, writtenMs: written.length === 0 ? null : largest(written) };
}

async function marked(root: string, top: string, known: ReadonlySet<string>): Promise<LostTallyView[]> {
  const found: LostTallyView[] = [];
  let left = MOST_FOLDERS;
  const walk = async (folder: string, depth: number): Promise<void> => {
    if (left-- <= 0) return;
    const place = path.join(top, folder);
    if (known.has(await fs.realpath(place).catch(() => place))) return;
    const tally = await tallyOf(root, top, folder);
    if (tally !== null) {
      found.push(tally);
      return;
    }
    if (depth === DEEPEST) return;
    const entries = await fs.readdir(place, { withFileTypes: true }).catch(() => []);
    for (const entry of entries)
      if (entry.isDirectory() && !entry.name.startsWith("."))
        await walk(folder === "" ? entry.name : `${folder}/${entry.name}`, depth + 1);
  };
  await walk("", 0);
  return found;
}

export async function viewLostTallies(): Promise<LostTalliesView> {
  const roots = declaredRoots();
  const known = new Set<string>();
  for (const { root, folder } of await listAllProjects(pool())) {
    const top = roots[root];
    if (top === undefined) continue;
    const place = path.join(top, folder);
    known.add(await fs.realpath(place).catch(() => place));
  }
  const tallies = new Map<string, LostTallyView>();
  // Roots may lie in one another: a folder is told once.
  for (const [root, top] of Object.entries(roots))
    for (const tally of await marked(root, top, known))
      tallies.set(await fs.realpath(tally.path).catch(() => tally.path), tally);
  return { tallies: [...tallies.values()].sort((a, b) => (a.path < b.path ? -1 : 1)) };
}
