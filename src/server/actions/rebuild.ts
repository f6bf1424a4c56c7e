/**
 * The tally out of what lies beside the frames, when the database is lost: every project below a folder whose records
 * are there; without one, out of its pictures. Then folders are looked at as ever: what is on disk goes before what a
 * line says.
 */
/**
 * The tally out of what lies beside the frames, when the database is lost: every project below a folder whose records
 * are there; without one, out of its pictures. Then folders are looked at as ever: what is on disk goes before what a
 * line says.
 */
import type { RebuildStep, RebuiltView } from "@/contract/rebuild";
import fs from "node:fs/promises";
import path from "node:path";
import { declaredRoots } from "../configuration";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { projectMark, versionPlace } from "../files/layout";
import { isInside, projectFolder, type ProjectPlace } from "../files/paths";
import { catchUp } from "../folder/check";
import { placeBelowRoot } from "../folder/place-below-root";
import { putBack } from "../record/put-back";
import { readRecords } from "../record/read-records";
import { readManifests } from "../record/read-manifests";
import { skipAttemptNumbers } from "../store/attempts";
import { appendEvent } from "../store/events";
import { requireProject } from "../store/find-shot";
import { saveSaid } from "../store/frame-files";
import { countsOfProject, listAllProjects } from "../store/projects";
import { listSequences } from "../store/shots";
import { projectFromFolder, versionsFromPictures } from "./rebuild-from-pictures";

export interface RebuildHow {
  readonly signal?: AbortSignal;
  readonly onStep?: (step: RebuildStep) => void;
}

/** Folders below one another on the way to a project. */
const DEEPEST = 8;

/** Of a file that is there, or of one that nobody may ask for. */
const hasMark = (folder: string): Promise<boolean> =>
  fs.stat(projectMark(folder)).then(
    (stat) => stat.isFile(),
    () => false,
  );

/** Folders with a project's mark, at or below one; where it lies inside a project, that one. Links are not followed. */
async function markedFolders(top: string, signal: AbortSignal | undefined): Promise<readonly string[]> {
  const roots = await Promise.all(
    Object.values(declaredRoots()).map((root) => fs.realpath(root).catch(() => root)),
  );
  for (let above = top; roots.some((root) => isInside(root, above)); above = path.dirname(above))
    if (await hasMark(above)) return [above];
  const found: string[] = [];
  const walk = async (folder: string, depth: number): Promise<void> => {
    signal?.throwIfAborted();
    if (await hasMark(folder)) {
      found.push(folder);
      return;
    }
    if (depth === DEEPEST) return;
    // What nobody may read holds nothing that could be brought back.
    const entries = await fs.readdir(folder, { withFileTypes: true }).catch(() => []);
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1)))
      if (entry.isDirectory() && !entry.name.startsWith("."))
        await walk(path.join(folder, entry.name), depth + 1);
  };
  await walk(top, 0);
  return found;
}

/** A project that is in the tally under its name, or lies in the folder. */
async function projectThere(slug: string | undefined, place: ProjectPlace): Promise<string | null> {
  const folder = path.resolve(projectFolder(place));
  const found = (await listAllProjects(pool())).find(
    (p) =>
      p.slug === slug || (declaredRoots()[p.root] !== undefined && path.resolve(projectFolder(p)) === folder),
  );
  return found?.slug ?? null;
}

/** Looks at every folder of a project: what changed since the last line was written is as the files say. */
async function lookAtFiles(slug: string, { signal, onStep }: RebuildHow, folder: string): Promise<void> {
  let done = 0;
  for (const sequence of (await listSequences(pool())).filter((s) => s.project === slug)) {
    signal?.throwIfAborted();
    await catchUp(sequence).catch((error: unknown) => {
      // A folder that is away now is caught up with when it is back.
      if (!(error instanceof TallyError)) throw error;
    });
    onStep?.({ folder, doing: "files", done: ++done });
  }
}

const NOTHING: RebuiltView = {
  ...{ projects: 0, shots: 0, versions: 0, frames: 0, attempts: 0, flags: 0, broken: 0 },
  ...{ there: [], removed: [], fromPictures: [], refused: [] },
};

/** What the nodes wrote down of files whose attempts no record knows. */
async function noteMakers(slug: string): Promise<void> {
  for (const sequence of (await listSequences(pool())).filter(
    (s) => s.project === slug && s.source !== null,
  )) {
    const made = (await readManifests(versionPlace(sequence))).filter(
      (m) => m.camera === sequence.camera && m.pass === sequence.pass,
    );
    await saveSaid(
      pool(),
      sequence.id,
      made.map((m) => ({ ...m, message: null })),
    );
  }
}

/** What the records of a folder make of it; null: it has none. */
type FromRecords =
  | { readonly slug: string; /** Lines and rows that were left out. */ readonly broken: number }
  | { readonly there: string }
  | { readonly isRemoved: true }
  | null;

async function fromRecords(
  folder: string,
  place: ProjectPlace,
  { signal, onStep }: RebuildHow,
): Promise<FromRecords> {
  const { rows, isRemoved, broken } = await readRecords(folder, {
    signal,
    onLines: (done) => onStep?.({ folder, doing: "lines", done }),
  });
  const slug = rows.get("project")?.[0]?.slug as string | undefined;
  const there = await projectThere(slug, place);
  if (there !== null) return { there };
  if (slug === undefined) return isRemoved ? { isRemoved } : null;
  const { refused } = await putBack(rows, {
    place,
    signal,
    onRows: (done) => onStep?.({ folder, doing: "rows", done }),
  });
  await transact((tx) => appendEvent(tx, "plan"));
  return { slug, broken: broken + refused };
}

async function rebuildProject(folder: string, how: RebuildHow): Promise<RebuiltView> {
  const place = await placeBelowRoot(folder);
  const found = await fromRecords(folder, place, how);
  if (found !== null && "there" in found) return { ...NOTHING, there: [found.there] };
  if (found !== null && "isRemoved" in found) return { ...NOTHING, removed: [folder] };
  const slug = found?.slug ?? (await projectFromFolder(place));
  const { read, refused } = await versionsFromPictures(await requireProject(slug), how.signal);
  await lookAtFiles(slug, how, folder);
  if (read.length > 0) await noteMakers(slug);
  // Files say of which attempt they are: no attempt to come is to bear its number.
  await skipAttemptNumbers(pool());
  const counts = await countsOfProject(pool(), slug);
  return {
    ...{ ...NOTHING, ...counts, projects: 1, broken: found?.broken ?? 0 },
    ...{ fromPictures: read, refused },
  };
}

/** A project that cannot be brought back is told, and the others are. */
const rebuildOrSay = (folder: string, how: RebuildHow): Promise<RebuiltView> =>
  rebuildProject(folder, how).catch((error: unknown) => {
    if (!(error instanceof TallyError)) throw error;
    return { ...NOTHING, refused: [`${folder}: ${error.message}`] };
  });

const sumOf = (a: RebuiltView, b: RebuiltView): RebuiltView => ({
  projects: a.projects + b.projects,
  shots: a.shots + b.shots,
  versions: a.versions + b.versions,
  frames: a.frames + b.frames,
  attempts: a.attempts + b.attempts,
  flags: a.flags + b.flags,
  broken: a.broken + b.broken,
  there: [...a.there, ...b.there],
  removed: [...a.removed, ...b.removed],
  fromPictures: [...a.fromPictures, ...b.fromPictures],
  refused: [...a.refused, ...b.refused],
});

/**
 * @param place of a project's folder, of one with projects below it, or of one inside a project
 * @throws TallyError `nothing-to-rebuild`; AbortError: projects that were brought back before stay
 */
export async function rebuildBelow(place: ProjectPlace, how: RebuildHow = {}): Promise<RebuiltView> {
  const top = await fs.realpath(projectFolder(place));
  const folders = await markedFolders(top, how.signal);
  if (folders.length === 0) throw new TallyError("nothing-to-rebuild", { folder: top }).at("folder");
  let all = NOTHING;
  for (const folder of folders) all = sumOf(all, await rebuildOrSay(folder, how));
  return all;
}
