/**
 * Making and changing projects and shots. Their names are in addresses, folders and files, and stay as they
 * are made.
 */
import fs from "node:fs/promises";
import { type ProjectFacts, projectFault, type ShotFacts, shotFault } from "@/core/plan/shot";
import { settings } from "../configuration";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, type ProjectPlace } from "../files/paths";
import { markProject } from "../files/project-mark";
import type { Db } from "../db/rows";
import { appendEvent } from "../store/events";
import { requireProject, requireShot } from "../store/find-shot";
import { insertProject, insertShot, listShots, projectBySlug, saveProject, saveShot } from "../store/shots";

/** The first fault, with its field. */
function requireFacts(project: ProjectFacts): void {
  const fault = projectFault(project);
  if (fault !== null) throw new TallyError("project-wrong", { message: fault.message }).at(fault.field);
}

/** The first fault, with its field. */
function requireShotFacts(shot: ShotFacts): void {
  const fault = shotFault(shot);
  if (fault !== null) throw new TallyError("shot-wrong", { message: fault.message }).at(fault.field);
}

/** Makes the project's folder, where it is not there yet. @returns its id */
export async function createProject(project: ProjectFacts & ProjectPlace): Promise<number> {
  requireFacts(project);
  const root = settings().roots[project.root];
  if (root === undefined) throw new TallyError("root-unknown", { root: project.root }).at("root");
  const requireFree = async (db: Db): Promise<void> => {
    if ((await projectBySlug(db, project.slug)) !== null)
      throw new TallyError("name-taken", { what: project.slug }).at("slug");
  };
  // A project that is refused leaves no mark in a folder; the transaction has the last word.
  await requireFree(pool());
  await fs.mkdir(await insideFolder(root, project.folder), { recursive: true });
  await markProject(project);
  return transact(async (tx) => {
    await requireFree(tx);
    const id = await insertProject(tx, project);
    await appendEvent(tx, "plan");
    return id;
  });
}

/**
 * Changes title or rate. The rate of versions that exist stays: it is part of their plan.
 * @throws TallyError `project-unknown`, or what is wrong with the facts
 */
export async function changeProject(
  slug: string,
  change: Partial<Pick<ProjectFacts, "title" | "rate">>,
): Promise<void> {
  const project = { ...(await requireProject(slug)), ...change };
  requireFacts(project);
  await transact(async (tx) => {
    await saveProject(tx, project);
    await appendEvent(tx, "plan");
  });
}

/** @param slug of its project @returns its id */
export async function createShot(slug: string, shot: ShotFacts): Promise<number> {
  requireShotFacts(shot);
  const project = await requireProject(slug);
  // Folders of two codes that differ in capitals only are one on some systems.
  const taken = (await listShots(pool(), project.id)).find(
    (s) => s.code.toLowerCase() === shot.code.toLowerCase(),
  );
  if (taken !== undefined) throw new TallyError("name-taken", { what: `${slug}/${taken.code}` }).at("code");
  return transact(async (tx) => {
    const id = await insertShot(tx, { projectId: project.id, ...shot });
    await appendEvent(tx, "plan");
    return id;
  });
}

/** @param name `project/CODE` */
export async function changeShot(name: string, change: Partial<Omit<ShotFacts, "code">>): Promise<void> {
  const { shot: before } = await requireShot(name);
  const shot = { ...before, ...change };
  requireShotFacts(shot);
  await transact(async (tx) => {
    await saveShot(tx, shot);
    await appendEvent(tx, "plan");
  });
}
