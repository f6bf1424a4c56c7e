/**
 * Making, changing and removing projects. The folder stays where it was declared; a name is for addresses, and
 * versions that were opened keep it on disk.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import type { LeftOnDisk } from "@/contract/project-view";
import type { DeedKind, Who } from "@/contract/who";
import { type ProjectFacts, projectFault } from "@/core/plan/shot";
import type { PresetSettings } from "@/core/plan/preset";
import { newPlan } from "@/core/plan/new-plan";
import { readPlan } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import { settings } from "../configuration";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, isInside, projectFolder, type ProjectPlace } from "../files/paths";
import { readRecords } from "../record/read-records";
import { markProject } from "../files/project-mark";
import type { Db } from "../db/rows";
import { noteDeed } from "../store/deeds";
import { isOwnRecord } from "../record/own-records";
import { deleteEdits } from "../store/edits";
import { appendEvent } from "../store/events";
import { closeEndedRuns } from "../queue/run-end";
import { requireProject } from "../store/find-shot";
import { deleteProject, insertProject, listAllProjects, lockProjects, saveProject } from "../store/projects";
import { listAllShots } from "../store/shots";
import { openRunsOfShot } from "../store/runs";
import { stopRun } from "./stop-run";
import { NOTHING_LEFT, removeShot, sumOfLeft } from "./remove-shot";

/** The first fault, with its field. */
function requireFacts(project: ProjectFacts): void {
  const fault = projectFault(project);
  if (fault !== null) throw new TallyError("project-wrong", { message: fault.message }).at(fault.field);
}

/** Settings that no plan could begin with are refused when they are given, and not with the first shot. */
function requireDefaults(defaults: PresetSettings, rate: ProjectFacts["rate"]): void {
  const plan = newPlan(
    { scene: "scene", renderer: STAND_IN, cameras: ["main"], firstFrame: 1, lastFrame: 2 },
    rate,
    defaults,
  );
  const read = readPlan(plan);
  if (!read.ok) throw new TallyError("project-wrong", { message: read.faults[0]!.message }).with(read.faults);
}

/** @throws TallyError `name-taken` */
async function requireFreeName(db: Db, slug: string, self: number | null): Promise<void> {
  const taken = (await listAllProjects(db)).find((p) => p.slug === slug && p.id !== self);
  if (taken === undefined) return;
  const what = taken.isArchived ? `${slug} (archived)` : slug;
  throw new TallyError("name-taken", { what }).at("slug");
}

/**
 * Folders of two projects hold nothing of each other: shots of one would be folders of the other.
 * Roots may lie in one another, so that the whole paths are compared.
 */
async function requireOwnFolder(db: Db, place: ProjectPlace): Promise<void> {
  const { roots } = settings();
  const own = path.resolve(projectFolder(place));
  for (const other of await listAllProjects(db)) {
    if (roots[other.root] === undefined) continue;
    const theirs = path.resolve(projectFolder(other));
    if (isInside(own, theirs) || isInside(theirs, own))
      throw new TallyError("folder-shared", { folder: own, other: other.slug }).at("folder");
  }
}

/** A folder whose tally was lost with its database: to begin there anew would bury what was decided. */
async function requireNoTally(place: ProjectPlace, folder: string): Promise<void> {
  // Of a project that was here and is gone: its record may not have heard of that yet.
  if (await isOwnRecord(pool(), place)) return;
  // What cannot be read is told by whoever makes the folder.
  const [lost] = await readRecords(folder).then(
    ({ rows }) => rows.get("project") ?? [],
    () => [],
  );
  if (lost !== undefined)
    throw new TallyError("folder-has-tally", { folder, slug: String(lost.slug) }).at("folder");
}

/** Makes the project's folder, where it is not there yet. @returns its id */
export async function createProject(project: ProjectFacts & ProjectPlace, who: Who = null): Promise<number> {
  requireFacts(project);
  const root = settings().roots[project.root];
  if (root === undefined) throw new TallyError("root-unknown", { root: project.root }).at("root");
  const requireFree = async (db: Db): Promise<void> => {
    await requireFreeName(db, project.slug, null);
    await requireOwnFolder(db, project);
  };
  // A project that is refused leaves no mark in a folder; the transaction has the last word.
  await requireFree(pool());
  const folder = await insideFolder(root, project.folder).catch((error: unknown) => {
    throw error instanceof TallyError ? error.at("folder") : error;
  });
  await requireNoTally(project, folder);
  await fs.mkdir(folder, { recursive: true });
  await markProject(project);
  return transact(async (tx) => {
    await lockProjects(tx);
    await requireFree(tx);
    const id = await insertProject(tx, project);
    await noteDeed(tx, who, "make", { projectId: id });
    await appendEvent(tx, "plan");
    return id;
  });
}

export interface ProjectChange extends Partial<ProjectFacts> {
  readonly defaults?: PresetSettings;
  readonly isArchived?: boolean;
}

/** What a change is called: to put away and to bring back are told by their own names. */
export const deedOfChange = ({ isArchived }: { readonly isArchived?: boolean }): DeedKind =>
  isArchived === undefined ? "change" : isArchived ? "archive" : "bring-back";

/**
 * Changes what is said; the rate of versions that exist stays, as it is part of their plan.
 * @throws TallyError `project-unknown`, `name-taken`, or what is wrong with the facts
 */
export async function changeProject(slug: string, change: ProjectChange, who: Who = null): Promise<void> {
  await transact(async (tx) => {
    await lockProjects(tx);
    const project = { ...(await requireProject(slug, tx)), ...change };
    requireFacts(project);
    requireDefaults(project.defaults, project.rate);
    await requireFreeName(tx, project.slug, project.id);
    await saveProject(tx, project);
    await noteDeed(tx, who, deedOfChange(change), { projectId: project.id });
    await appendEvent(tx, "plan");
  });
}

/** So long a node may take to hear of a stop, save what it has and give it back. */
const STOP_MS = 30_000;
const LOOK_MS = 200;

/** Stops what goes on and waits until nothing of it is in work; what takes too long is told by the removal. */
async function stopRunsOf(shotIds: readonly number[]): Promise<void> {
  const open = async (): Promise<number[]> =>
    (await Promise.all(shotIds.map((id) => openRunsOfShot(pool(), id)))).flat();
  for (const run of await open())
    await stopRun(run, "now").catch((error: unknown) => {
      if (!(error instanceof TallyError && error.code === "run-not-active")) throw error;
    });
  for (const end = performance.now() + STOP_MS; (await open()).length > 0 && performance.now() < end;) {
    await pause(LOOK_MS);
    await closeEndedRuns(pool());
  }
}

/**
 * Takes a project out of the tally, shot by shot. It is archived before, so that nobody works in what is half
 * gone, and a removal that was interrupted can be done again.
 * @param stopsRuns runs are stopped first, and waited for; else one that goes on refuses the removal
 * @throws TallyError `project-unknown`, or `shot-at-work` before anything is removed
 */
export async function removeProject(
  slug: string,
  { stopsRuns = false }: { readonly stopsRuns?: boolean } = {},
  who: Who = null,
): Promise<LeftOnDisk> {
  const project = await requireProject(slug);
  const shots = await listAllShots(pool(), project.id);
  if (stopsRuns) await stopRunsOf(shots.map((s) => s.id));
  await changeProject(slug, { isArchived: true }, who);
  let left = { ...NOTHING_LEFT, folder: projectFolder(project) };
  try {
    for (const shot of shots) left = sumOfLeft(left, await removeShot(`${slug}/${shot.code}`, who));
  } catch (error) {
    await changeProject(slug, { isArchived: project.isArchived }, who);
    throw error;
  }
  await transact(async (tx) => {
    await deleteEdits(tx, project.id);
    await deleteProject(tx, project.id);
    await appendEvent(tx, "plan");
  });
  return left;
}
