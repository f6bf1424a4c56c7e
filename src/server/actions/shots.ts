/**
 * Making and changing shots. A shot is made whole, with its first version and plan, or not at all. A rename
 * moves no file: versions that were opened keep their folders and the names in them.
 */
import fs from "node:fs/promises";
import { type ShotSound, soundFault } from "@/core/sound/shot-sound";
import type { Marker } from "@/core/plan/notes";
import { followTimeLine } from "@/core/plan/new-plan";
import { changedFields, type Plan, readVersionName } from "@/core/plan/plan";
import { type ShotFacts, shotFault } from "@/core/plan/shot";
import type { Who } from "@/contract/who";
import { pool, transact } from "../db/pool";
import type { Db } from "../db/rows";
import { TallyError } from "../errors";
import { noteDeed } from "../store/deeds";
import { insideFolder, projectFolder, type ProjectPlace } from "../files/paths";
import { appendEvent } from "../store/events";
import { requireProject, requireShot } from "../store/find-shot";
import {
  insertNextVersion,
  insertShot,
  latestRevision,
  listAllShots,
  listVersions,
  lockShots,
  namesOnDisk,
  saveShot,
  shotById,
  type ShotRow,
} from "../store/shots";
import { currentSequence } from "../views/current-sequence";
import { deedOfChange } from "./projects";
import { requireRest } from "./remove-shot";
import { checkPlan, type CheckPlanHow, type SavedPlan, saveRevision, writeRevision } from "./save-plan";

/** The first fault, with its field. */
export function requireShotFacts(shot: ShotFacts): void {
  const fault = shotFault(shot);
  if (fault !== null) throw new TallyError("shot-wrong", { message: fault.message }).at(fault.field);
}

/**
 * Folders of two codes that differ in capitals only are one on some systems; and a code under which versions
 * of another shot lie on disk would mix two shots in one folder.
 * @throws TallyError `name-taken`, `name-on-disk`
 */
export async function requireFreeCode(
  db: Db,
  project: { readonly id: number; readonly slug: string },
  code: string,
  self: number | null,
): Promise<void> {
  const shots = await listAllShots(db, project.id);
  const same = (other: string): boolean => other.toLowerCase() === code.toLowerCase();
  const taken = shots.find((s) => s.id !== self && same(s.code));
  if (taken !== undefined) {
    const what = `${project.slug}/${taken.code}${taken.isArchived ? " (archived)" : ""}`;
    throw new TallyError("name-taken", { what }).at("code");
  }
  const onDisk = (await namesOnDisk(db, project.id)).find((n) => n.shotId !== self && same(n.namedShot));
  if (onDisk === undefined) return;
  const shot = shots.find((s) => s.id === onDisk.shotId)!.code;
  throw new TallyError("name-on-disk", { code: onDisk.namedShot, shot }).at("code");
}

/** A shot that was made, with what its first plan came to. */
export interface MadeShot extends SavedPlan {
  readonly shotId: number;
}

/**
 * @param slug of its project
 * @throws TallyError with the field: of the shot, or of the plan
 */
export async function makeShot(
  slug: string,
  shot: ShotFacts,
  plan: Plan,
  how: CheckPlanHow = {},
  who: Who = null,
): Promise<MadeShot> {
  requireShotFacts(shot);
  const project = await requireProject(slug);
  await requireFreeCode(pool(), project, shot.code, null);
  await checkPlan(project, plan, how);
  return transact(async (tx) => {
    await lockShots(tx, project.id);
    await requireFreeCode(tx, project, shot.code, null);
    const shotId = await insertShot(tx, { projectId: project.id, ...shot });
    const version = await insertNextVersion(tx, shotId, "final", null);
    const saved = await writeRevision(
      tx,
      version.id,
      { version: version.number, purpose: "final" },
      plan,
      who,
    );
    await noteDeed(tx, who, "make", { shotId });
    await appendEvent(tx, "plan");
    return { ...saved, shotId };
  });
}

export interface ShotChange {
  readonly code?: string;
  readonly title?: string;
  readonly firstFrame?: number;
  readonly lastFrame?: number;
  readonly markers?: readonly Marker[];
  readonly sound?: ShotSound | null;
  readonly isArchived?: boolean;
}

/** @throws TallyError `sound-wrong`, `sound-missing`, at the field `sound` */
async function requireSound(place: ProjectPlace, sound: ShotSound): Promise<void> {
  const fault = soundFault(sound);
  if (fault !== null) throw new TallyError("sound-wrong", { message: fault }).at("sound");
  const file = await insideFolder(projectFolder(place), sound.path).catch((error: unknown) => {
    throw error instanceof TallyError ? error.at("sound") : error;
  });
  if ((await fs.stat(file).catch(() => null))?.isFile() !== true)
    throw new TallyError("sound-missing", { path: sound.path }).at("sound");
}

/**
 * @param name `project/CODE`
 * @returns versions whose files keep the name of before, where the code was changed
 * @throws TallyError `shot-at-work` for another code, or to archive, while a run goes on
 */
export async function changeShot(
  name: string,
  change: ShotChange,
  who: Who = null,
): Promise<{ readonly kept: readonly string[] }> {
  if (change.sound != null) await requireSound((await requireShot(name)).project, change.sound);
  return transact(async (tx) => {
    const { shot: before, project } = await requireShot(name, tx);
    await lockShots(tx, project.id);
    const shot: ShotRow = { ...before, ...change };
    requireShotFacts(shot);
    const isRenamed = shot.code !== before.code;
    if (isRenamed || (shot.isArchived && !before.isArchived)) await requireRest(tx, shot.id, name);
    if (isRenamed) await requireFreeCode(tx, project, shot.code, shot.id);
    await saveShot(tx, shot);
    await noteDeed(tx, who, deedOfChange(change), { shotId: shot.id });
    await appendEvent(tx, "plan");
    if (!isRenamed) return { kept: [] };
    return { kept: [...new Set((await listVersions(tx, shot.id)).map((v) => v.namedShot))] };
  });
}

export interface ChangedShot {
  /** Names that its versions keep on disk, where the code was changed. */
  readonly kept: readonly string[];
  /** Whether the newest plan has a further revision, since it asked for all of the time line. */
  readonly isPlanned: boolean;
}

/**
 * Changes a shot, and the newest plan with it where that asked for all of the time line before.
 * @throws TallyError as `changeShot`, and as `saveRevision` for the plan
 */
export async function changeShotAndPlan(
  name: string,
  change: ShotChange,
  who: Who = null,
): Promise<ChangedShot> {
  const { shot, project } = await requireShot(name);
  const { kept } = await changeShot(name, change, who);
  const sequence = await currentSequence(shot.id);
  const revision = sequence === null ? null : await latestRevision(pool(), sequence.versionId);
  if (sequence === null || revision === null) return { kept, isPlanned: false };
  const plan = followTimeLine(
    revision.plan,
    change.firstFrame ?? shot.firstFrame,
    change.lastFrame ?? shot.lastFrame,
  );
  if (changedFields(revision.plan, plan).length === 0) return { kept, isPlanned: false };
  await saveRevision(
    `${project.slug}/${change.code ?? shot.code}`,
    sequence.versionId,
    plan,
    revision.number,
    { mayLackScene: true },
    who,
  );
  return { kept, isPlanned: true };
}

/** A shot of its own with the plan of another's version; frames are not copied. */
export async function duplicateShot(
  name: string,
  code: string,
  versionText: string | null = null,
  who: Who = null,
): Promise<MadeShot> {
  const { shot, project } = await requireShot(name);
  const wanted = versionText === null ? await currentSequence(shot.id) : readVersionName(versionText);
  const version = (await listVersions(pool(), shot.id)).find(
    (v) => v.number === wanted?.version && v.purpose === wanted.purpose,
  );
  const revision = version === undefined ? null : await latestRevision(pool(), version.id);
  if (revision === null) throw new TallyError("version-unknown");
  // Files have one tally: a second shot would ask, flag and judge beside the first.
  if (revision.plan.watched !== null) throw new TallyError("version-watched", { shot: shot.code });
  const { title, firstFrame, lastFrame, markers } = shot;
  const made = await makeShot(
    project.slug,
    { code, title, firstFrame, lastFrame, markers },
    revision.plan,
    { mayLackScene: true },
    who,
  );
  // As it is there, also where its file is away just now.
  const copy = await shotById(pool(), made.shotId);
  if (shot.sound !== null && copy !== null) await saveShot(pool(), { ...copy, sound: shot.sound });
  return made;
}
