/** Saving a plan: the next revision of a version, or a new version when what is fixed has changed. */
import type { Who } from "@/contract/who";
import {
  changedFields,
  fixedChanges,
  mainSequenceOf,
  type Plan,
  type Purpose,
  readPlan,
  sequencesOf,
  settleFrames,
  type VersionKey,
} from "@/core/plan/plan";
import { pool, type Tx, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder } from "../files/paths";
import { isExternal } from "@/core/plan/renderer";
import { offerFaults } from "@/core/plan/renderer-offer";
import { offerOfRenderer } from "../scenes/renderers";
import { describeScene } from "../scenes/described-scene";
import { readRenderSources } from "../scenes/scene-files";
import { appendEvent } from "../store/events";
import { hasFiles } from "../store/frame-files";
import {
  ensureSequence,
  insertNextRevision,
  insertNextVersion,
  latestRevision,
  type RevisionRow,
  versionById,
} from "../store/shots";
import { requireShot } from "../store/find-shot";

/** What was written, and what the version is called. */
export interface SavedPlan {
  readonly revision: RevisionRow;
  readonly version: VersionKey;
  /** Beauty of the first camera, where there is one. */
  readonly sequenceId: number;
}

export interface CheckPlanHow {
  /** The scene may come later: a list or an edit is there before it. */
  readonly mayLackScene?: boolean;
}

/** Cameras that another renderer tells of; null where it does not: it may still render the scene. */
const describedCameras = async (file: string, renderer: string): Promise<readonly string[] | null> =>
  (await describeScene(file, renderer).catch(() => null))?.cameras ?? null;

/** Checks a plan whole: its own fields, then the scene file, its textures and the cameras. */
export async function checkPlan(
  place: { readonly root: string; readonly folder: string },
  plan: Plan,
  { mayLackScene = false }: CheckPlanHow = {},
): Promise<void> {
  const read = readPlan(plan);
  if (!read.ok) throw new TallyError("plan-wrong", { message: read.faults[0]!.message }).with(read.faults);
  // What its files are was read when they were taken in; there is no scene and no renderer to ask.
  if (plan.watched !== null) return;
  try {
    const offer = offerOfRenderer(plan.renderer);
    const faults = offerFaults(plan, offer);
    if (faults.length > 0) throw new TallyError("plan-wrong", { message: faults[0]!.message }).with(faults);
    const file = await insideFolder(projectFolder(place), plan.scene);
    const sources = await readRenderSources(file, plan.renderer);
    const cameras =
      sources.cameras ?? (isExternal(plan) ? await describedCameras(file, plan.renderer) : null);
    const unknown = cameras === null ? undefined : plan.cameras.find((camera) => !cameras.includes(camera));
    if (unknown !== undefined) {
      const message = `The scene has no camera "${unknown}"; it has ${cameras!.join(", ")}.`;
      throw new TallyError("plan-wrong", { message: message }).with([
        { field: "cameras", code: "unknown-camera", message },
      ]);
    }
  } catch (error) {
    if (!(error instanceof TallyError) || error.code === "plan-wrong") throw error;
    if (mayLackScene && error.code === "scene-missing") return;
    throw new TallyError("plan-wrong", { message: error.message }).with([
      {
        field: error.code === "renderer-unknown" ? "renderer" : "scene",
        code: error.code,
        message: error.message,
      },
    ]);
  }
}

/** Where its files lie, for the look at the scene. */
async function placeOfShot(name: string): Promise<{ shotId: number; root: string; folder: string }> {
  const { shot, project } = await requireShot(name);
  return { shotId: shot.id, root: project.root, folder: project.folder };
}

/** Writes the next revision and makes sure that each of its sequences is there. */
export async function writeRevision(
  tx: Tx,
  versionId: number,
  version: VersionKey,
  plan: Plan,
  who: Who = null,
): Promise<SavedPlan> {
  const revision = await insertNextRevision(tx, versionId, plan, who);
  const ids: number[] = [];
  if (plan.watched === null)
    for (const { camera, pass } of sequencesOf(plan))
      ids.push(await ensureSequence(tx, versionId, camera, pass));
  else
    for (const { camera, pass, place } of plan.watched.sequences)
      ids.push(await ensureSequence(tx, versionId, camera, pass, place));
  for (const id of ids) await appendEvent(tx, "plan", id);
  const main = mainSequenceOf(plan);
  return { revision, version, sequenceId: await ensureSequence(tx, versionId, main.camera, main.pass) };
}

/** Makes revision n+1. Earlier revisions never change. Fixed fields are refused once files exist. */
export async function saveRevision(
  shotCode: string,
  versionId: number,
  asked: Plan,
  basedOn: number,
  how: CheckPlanHow = {},
  who: Who = null,
): Promise<SavedPlan> {
  const place = await placeOfShot(shotCode);
  const version = await versionById(pool(), versionId);
  if (version === null || version.shotId !== place.shotId) throw new TallyError("version-unknown");
  await checkPlan(place, asked, how);
  const before = await latestRevision(pool(), versionId);
  let plan = asked;
  if (before !== null) {
    plan = settleFrames(before.plan, asked);
    if (before.number !== basedOn) throw new TallyError("plan-outdated", { saved: before.number, basedOn });
    if (changedFields(before.plan, plan).length === 0) throw new TallyError("plan-unchanged");
    const fixed = fixedChanges(before.plan, plan);
    // Which folder is watched is nobody's to say but of who takes it in.
    if (fixed.includes("watched")) throw new TallyError("version-watched", { shot: shotCode });
    if (fixed.length > 0 && (await hasFiles(versionId))) {
      const message =
        "Files with the old setting exist in this version: open the next version for this change, or put it back.";
      throw new TallyError("plan-fixed").with(fixed.map((field) => ({ field, code: "plan-fixed", message })));
    }
  }
  return transact((tx) =>
    writeRevision(tx, versionId, { version: version.number, purpose: version.purpose }, plan, who),
  );
}

/** Opens the next version of a shot with this plan as its first revision.
 * @param fromRevisionId for a rough version: the revision that it was made from, so that "make it final" can
 * put everything back
 */
export async function openVersion(
  shotCode: string,
  plan: Plan,
  purpose: Purpose = "final",
  fromRevisionId: number | null = null,
  who: Who = null,
): Promise<SavedPlan> {
  const place = await placeOfShot(shotCode);
  if (plan.watched !== null) throw new TallyError("version-watched", { shot: shotCode });
  await checkPlan(place, plan);
  return transact(async (tx) => {
    const version = await insertNextVersion(tx, place.shotId, purpose, fromRevisionId);
    return writeRevision(tx, version.id, { version: version.number, purpose }, plan, who);
  });
}
