/**
 * Versions that lie on disk and stand in no record: their plan is read from the pictures, as of a folder that something
 * else has filled, under the shot and the number that their folder says. What the nodes' own manifests say of frames is
 * filled in.
 */
import path from "node:path";
import { readVersionName, type VersionKey, versionName } from "@/core/plan/plan";
import { slugOf } from "@/core/plan/proposed-name";
import { LONGEST_TITLE } from "@/core/plan/shot";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { SCENES } from "../files/layout";
import { visibleFolders } from "../files/marked-folders";
import { projectFolder, type ProjectPlace } from "../files/paths";
import { extentOf, lookAtFolder } from "../folder/found-folder";
import { findShot } from "../store/find-shot";
import type { ProjectRow } from "../store/projects";
import { insertShot, insertVersion, listVersions } from "../store/shots";
import { appendEvent } from "../store/events";
import { askedOf, planOf, withPictures } from "./plan-from-frames";
import { createProject } from "./projects";
import { checkPlan, writeRevision } from "./save-plan";
import { requireShotFacts } from "./shots";

/** Frames a second where nothing says it: somebody corrects it. */
const USUAL_RATE = { numerator: 24, denominator: 1 };

/** A project by its folder alone. @returns its name @throws TallyError where that is no name, or taken */
export async function projectFromFolder(place: ProjectPlace): Promise<string> {
  const title = path.basename(projectFolder(place)).slice(0, LONGEST_TITLE);
  const slug = slugOf(title);
  await createProject({ ...place, slug, title, rate: USUAL_RATE });
  return slug;
}

interface VersionFolder {
  readonly code: string;
  readonly key: VersionKey;
  /** From the root, parted by /. */
  readonly folder: string;
}

/** Folders of a project that are named as versions are. */
async function versionFolders({ folder, ...place }: ProjectPlace): Promise<readonly VersionFolder[]> {
  const top = projectFolder({ folder, ...place });
  const found: VersionFolder[] = [];
  for (const code of await visibleFolders(top)) {
    if (code === SCENES) continue;
    for (const name of await visibleFolders(path.join(top, code))) {
      const key = readVersionName(name);
      if (key !== null && versionName(key) === name)
        found.push({ code, key, folder: [folder, code, name].filter((part) => part !== "").join("/") });
    }
  }
  return found;
}

/** @returns whether it is in the tally now: a folder without pictures is none */
async function openFromPictures(project: ProjectRow, { code, key, folder }: VersionFolder): Promise<boolean> {
  const found = await lookAtFolder({ root: project.root, folder });
  const unknown = found.sequences.filter((s) => s.known === null);
  if (unknown.length === 0) return false;
  const { sequences, facts } = await withPictures(found.path, unknown);
  const asked = askedOf(sequences.map((s) => s.found.frames));
  const extent = extentOf([asked])!;
  const watched = sequences.map(({ camera, pass, place, size }) => ({ camera, pass, place, size }));
  const plan = planOf({
    ...{ rate: project.rate, sequences: watched, asked, extent, facts },
    wish: { rate: null, alpha: null, isLinear: null },
  });
  const shot = { code, title: code, firstFrame: extent.first, lastFrame: extent.last, markers: [] };
  requireShotFacts(shot);
  await checkPlan(project, plan);
  await transact(async (tx) => {
    const there = await findShot(`${project.slug}/${code}`, tx);
    const shotId = there?.shot.id ?? (await insertShot(tx, { projectId: project.id, ...shot }));
    await writeRevision(tx, await insertVersion(tx, shotId, key, null), key, plan);
    await appendEvent(tx, "plan");
  });
  return true;
}

/** Whether the tally has a version of that folder. */
async function isKnown(project: ProjectRow, { code, key }: VersionFolder): Promise<boolean> {
  const shot = await findShot(`${project.slug}/${code}`);
  if (shot === null) return false;
  return (await listVersions(pool(), shot.shot.id)).some(
    (v) => v.number === key.version && v.purpose === key.purpose,
  );
}

/**
 * All versions of a project that only their pictures tell of.
 * @returns their folders, and those that cannot be a version, with the reason
 */
export async function versionsFromPictures(
  project: ProjectRow,
  signal?: AbortSignal,
): Promise<{ readonly read: readonly string[]; readonly refused: readonly string[] }> {
  const read: string[] = [];
  const refused: string[] = [];
  for (const version of await versionFolders(project)) {
    signal?.throwIfAborted();
    if (await isKnown(project, version)) continue;
    const name = `${version.code}/${versionName(version.key)}`;
    try {
      if (await openFromPictures(project, version)) read.push(name);
    } catch (error) {
      if (!(error instanceof TallyError)) throw error;
      refused.push(`${name}: ${error.message}`);
    }
  }
  return { read, refused };
}
