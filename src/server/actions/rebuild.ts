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
import { versionPlace } from "../files/layout";
import { hasMark, markedFolders } from "../files/marked-folders";
import { isInside, projectFolder, type ProjectPlace } from "../files/paths";
import { catchUp } from "../folder/check";
import { placeBelowRoot } from "../folder/place-below-root";
import { putBack } from "../record/put-back";
import { readRecords } from "../record/read-records";
import { type MadeFile, readManifests } from "../record/read-manifests";
import { skipAttemptNumbers } from "../store/attempts";
import { appendEvent } from "../store/events";
import { requireProject } from "../store/find-shot";
import { saveSaid } from "../store/frame-files";
import { countsOfProject, listAllProjects } from "../store/projects";
import { listSequences, type SequenceRow } from "../store/shots";
import { projectFromFolder, versionsFromPictures } from "./rebuild-from-pictures";

export interface RebuildHow {
  readonly signal?: AbortSignal;
  readonly onStep?: (step: RebuildStep) => void;
}

/** Folders below one another on the way to a project. */
const DEEPEST = 8;

/** Folders of projects at or below one; where it lies inside a project, that one. */
async function projectsAt(top: string, signal: AbortSignal | undefined): Promise<readonly string[]> {
  const roots = await Promise.all(
    Object.values(declaredRoots()).map((root) => fs.realpath(root).catch(() => root)),
  );
  for (let above = top; roots.some((root) => isInside(root, above)); above = path.dirname(above))
    if (await hasMark(above)) return [above];
  return markedFolders(top, { deepest: DEEPEST, signal });
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

const sequencesOf = async (slug: string): Promise<SequenceRow[]> =>
  (await listSequences(pool())).filter((s) => s.project === slug);

/** Looks at every folder of a project: what changed since the last line was written is as the files say. */
async function lookAtFiles(slug: string, { signal, onStep }: RebuildHow, folder: string): Promise<void> {
  let done = 0;
  for (const sequence of await sequencesOf(slug)) {
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
  const manifests = new Map<string, readonly MadeFile[]>();
  for (const sequence of await sequencesOf(slug)) {
    if (sequence.source === null) continue;
    const version = versionPlace(sequence);
    const made = manifests.get(version) ?? (await readManifests(version));
    manifests.set(version, made);
    await saveSaid(
      pool(),
      sequence.id,
      made
        .filter((m) => m.camera === sequence.camera && m.pass === sequence.pass)
        .map((m) => ({ ...m, message: null })),
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
  // Where it lies now, whatever the folder was called before.
  const here = new Map(rows).set(
    "project",
    rows.get("project")!.map((project) => ({ ...project, ...place })),
  );
  const { refused } = await putBack(here, {
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
  rebuildProject(folder, how).catch((error: NodeJS.ErrnoException) => {
    // Ours, or a record that nobody may read.
    if (!(error instanceof TallyError) && error.syscall === undefined) throw error;
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
  const folders = await projectsAt(top, how.signal);
  if (folders.length === 0) throw new TallyError("nothing-to-rebuild", { folder: top }).at("folder");
  let all = NOTHING;
  for (const folder of folders) all = sumOf(all, await rebuildOrSay(folder, how));
  return all;
}
