/** A shot as its page shows it: its choices, the saved plan, and where its frames lie. */
import { addAll } from "@/core/many";
import fs from "node:fs/promises";
import path from "node:path";
import type { ShotSound } from "@/core/sound/shot-sound";
import { versionName, type VersionKey, wantedSequence } from "@/core/plan/plan";
import type { RevisionView, SceneView, SequenceChoice, ShotView, SoundView } from "@/contract/shot-view";
import { declaredCalls } from "../configuration";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder, type ProjectPlace } from "../files/paths";
import { editUseOfShot } from "../store/edits";
import { lastDeeds } from "../store/deeds";
import { type FileRow, hasFiles } from "../store/frame-files";
import {
  latestRevision,
  listVersions,
  revisionById,
  revisionsOfVersion,
  sequencesOfVersion,
  versionById,
  type SequenceRow,
} from "../store/shots";
import { rendererOffers } from "../scenes/renderers";
import { currentSequence } from "./current-sequence";
import { sceneRate } from "../scenes/scene-files";
import { sceneOfShot, versionOfScene } from "./thumbnails";
import { SCENES, sequencePlace } from "../files/layout";
import { footprintsOf } from "@/render/world";
import { requireShot } from "../store/find-shot";

/** Runs that a shot's page lists; older ones are in the log and on the command line. */
export const RUNS_SHOWN = 20;
/**
 * A short name for what a file holds: it changes with the picture, and lets a browser keep a picture for
 * ever.
 */
export const contentOf = (file: FileRow): string => file.content?.slice(0, 16) ?? "";

async function sceneFiles(folder: string): Promise<string[]> {
  const found = await fs.readdir(path.join(folder, SCENES), { withFileTypes: true }).catch(() => []);
  return found
    .filter((f) => f.isFile())
    .map((f) => `${SCENES}/${f.name}`)
    .sort();
}

/**
 * All that a shot's page needs for its first drawing. What is not wanted by name is chosen: the chosen
 * version, else the newest, its first camera, beauty.
 * @throws TallyError `shot-unknown`, `version-unknown`, `sequence-unknown`
 */
export async function viewShot(
  name: string,
  wanted: {
    readonly version: VersionKey | null;
    readonly camera: string | null;
    readonly pass: string | null;
  },
): Promise<ShotView> {
  const { shot, project } = await requireShot(name);
  const rows: SequenceRow[] = [];
  const versions = await listVersions(pool(), shot.id);
  for (const version of versions) addAll(rows, await sequencesOfVersion(pool(), version.id));
  const current = await currentSequence(shot.id);
  const version = wanted.version ?? current;
  const ofVersion = rows.filter((s) => s.version === version?.version && s.purpose === version.purpose);
  const revision = ofVersion[0] === undefined ? null : await latestRevision(pool(), ofVersion[0].versionId);
  const wish = revision === null ? null : wantedSequence(revision.plan, wanted);
  const chosen = ofVersion.find((s) => s.camera === wish?.camera && s.pass === wish.pass);
  if (chosen === undefined) throw new TallyError("sequence-not-of-shot", { shot: shot.code });
  const ids = versions.map((v) => v.id);
  const decided = await lastDeeds(pool(), "version_id", ids, ["choose", "open"]);
  const discarded = await lastDeeds(pool(), "version_id", ids, ["discard"]);
  const choice = (s: SequenceRow): SequenceChoice => ({
    id: s.id,
    version: s.version,
    purpose: s.purpose,
    camera: s.camera,
    pass: s.pass,
  });
  return {
    code: shot.code,
    title: shot.title,
    first: shot.firstFrame,
    last: shot.lastFrame,
    markers: shot.markers,
    sound: shot.sound === null ? null : await viewSound(project, shot.sound),
    project: { title: project.title, slug: project.slug, rate: project.rate },
    choices: rows.map(choice),
    versions: versions.map((v) => ({
      id: v.id,
      name: versionName({ version: v.number, purpose: v.purpose }),
      purpose: v.purpose,
      status: v.status,
      decided: decided.get(v.id) ?? null,
      discarded: discarded.get(v.id) ?? null,
    })),
    sequence: choice(chosen),
    versionId: chosen.versionId,
    namedAs: { namedProject: chosen.namedProject, namedShot: chosen.namedShot },
    revision: revision!.number,
    revisionId: revision!.id,
    plan: revision!.plan,
    madeFrom: await madeFrom(chosen.versionId),
    edit: await editUseOfShot(pool(), shot.id),
    folder: sequencePlace(chosen),
    watchedFolders: (revision!.plan.watched?.sequences ?? []).map(({ place }) => projectFolder(place)),
    calls: declaredCalls(),
    scenes: await sceneFiles(projectFolder(project)),
    renderers: rendererOffers(),
    hasFiles: await hasFiles(chosen.versionId),
  };
}

/** A file that is away is told as such: the shot keeps it, and it may come back. */
async function viewSound(place: ProjectPlace, sound: ShotSound): Promise<SoundView> {
  const stat = await insideFolder(projectFolder(place), sound.path)
    .then((file) => fs.stat(file))
    .catch(() => null);
  return {
    ...sound,
    version: stat?.isFile() === true ? `${stat.size}-${Math.round(stat.mtimeMs)}` : null,
  };
}

/** Of a rough version: the plan that it was made from. */
async function madeFrom(versionId: number): Promise<ShotView["madeFrom"]> {
  const version = await versionById(pool(), versionId);
  const revision =
    version?.fromRevisionId == null ? null : await revisionById(pool(), version.fromRevisionId);
  const origin = revision === null ? null : await versionById(pool(), revision.versionId);
  return revision === null || origin === null
    ? null
    : {
        version: versionName({ version: origin.number, purpose: origin.purpose }),
        versionId: origin.id,
        revisionId: revision.id,
        plan: revision.plan,
      };
}

/** More would be a drawing of dust. */
const MOST_FOOTPRINTS = 300;

/** A scene file of the shot's project; one that is not whole is a told error. */
export async function viewScene(name: string, scenePath: string): Promise<SceneView> {
  const [onDisk, { shot }] = [await sceneOfShot(name, scenePath), await requireShot(name)];
  return {
    cameras: onDisk.scene.cameras.map((c) => c.name),
    rate: sceneRate(onDisk.scene),
    lightEvery: onDisk.scene.lighting?.every ?? null,
    version: versionOfScene(onDisk),
    footprints: footprintsOf(onDisk.scene, shot.firstFrame).slice(0, MOST_FOOTPRINTS),
  };
}

/**
 * Plans of a version, newest first. @throws TallyError `version-unknown`, also where the version is another
 * shot's
 */
export async function viewRevisions(name: string, versionId: number): Promise<readonly RevisionView[]> {
  const [{ shot }, version] = [await requireShot(name), await versionById(pool(), versionId)];
  if (version === null || version.shotId !== shot.id) throw new TallyError("version-unknown");
  return (await revisionsOfVersion(pool(), versionId)).map(({ number, plan, who, savedAt }) => ({
    number,
    plan,
    who,
    savedAt: savedAt.getTime(),
  }));
}
