/**
 * Taking in a folder that something else fills: its sequences become a version of a shot, whose plan is read from the
 * frames. Nothing in the folder is written, moved or renamed. The same folder again adds what is new of it to the same
 * version.
 */
import type { Who } from "@/contract/who";
import type { FoundChoice, TakeInWish } from "@/contract/take-in";
import { isLinearFile } from "@/core/image/file-format";
import { largest } from "@/core/many";
import { freeCamera } from "@/core/naming/proposals";
import { changedFields, type Plan, type VersionKey } from "@/core/plan/plan";
import { placeKey, type WatchedSequence } from "@/core/plan/watched";
import { pool, transact, type Tx } from "../db/pool";
import { TallyError } from "../errors";
import { extentOf, type FoundFolder, type FoundSequenceHere, knownAs } from "../folder/found-folder";
import { noteDeed } from "../store/deeds";
import { appendEvent } from "../store/events";
import { findShot, requireProject } from "../store/find-shot";
import type { ProjectRow } from "../store/projects";
import {
  insertNextVersion,
  insertShot,
  latestRevision,
  listEverySequence,
  listVersions,
  lockShots,
  lockVersions,
  sequencesOfVersion,
  type ShotRow,
  type VersionRow,
} from "../store/shots";
import { askedOf, type Draft, planOf, withPictures } from "./plan-from-frames";
import { checkPlan, writeRevision } from "./save-plan";
import { requireFreeCode, requireShotFacts } from "./shots";

export interface TakenIn {
  readonly shot: string;
  readonly version: VersionKey;
  readonly versionId: number;
  /** What came of it. */
  readonly did: "made" | "added" | "unchanged";
  /** Those of the folder that the version watches, with what their pictures are. */
  readonly sequences: readonly (FoundSequenceHere & WatchedSequence)[];
}

/** The sequences that are meant, with the camera and pass that somebody gave them. */
function chosenOf(found: FoundFolder, choices: readonly FoundChoice[] | null): readonly FoundSequenceHere[] {
  if (choices === null) return found.sequences;
  return choices.map((choice) => {
    const sequence = found.sequences.find(
      (s) =>
        s.folder === choice.folder && s.found.prefix === choice.prefix && s.found.suffix === choice.suffix,
    );
    if (sequence === undefined)
      throw new TallyError("found-gone", { name: choice.prefix + choice.suffix, folder: found.path });
    return { ...sequence, camera: choice.camera, pass: choice.pass };
  });
}

/** The version of a shot that watches files of this tree already. */
async function versionOfTree(shot: ShotRow, found: FoundFolder): Promise<VersionRow | null> {
  const known = new Set(found.sequences.flatMap((s) => (s.known?.source == null ? [] : [s.known.versionId])));
  const versions = (await listVersions(pool(), shot.id)).filter((v) => known.has(v.id));
  return versions.at(-1) ?? null;
}

/** A plan that watches more, each under a camera and pass of its own, and what somebody says of all of it. */
function planWithMore(before: Plan, fresh: readonly WatchedSequence[], wish: TakeInWish): Plan {
  const watched = before.watched!;
  const keyOf = (camera: string, pass: string): string => JSON.stringify([camera.toLowerCase(), pass]);
  const taken = new Set(watched.sequences.map((s) => keyOf(s.camera, s.pass)));
  const added = fresh.map((s) => {
    const camera = freeCamera(s.camera, (name) => taken.has(keyOf(name, s.pass)));
    taken.add(keyOf(camera, s.pass));
    return { ...s, camera };
  });
  const sequences = [...watched.sequences, ...added];
  return {
    ...before,
    cameras: [...new Set(sequences.map((s) => s.camera))],
    passes: [...new Set(sequences.map((s) => s.pass))],
    rate: wish.rate ?? before.rate,
    alpha: wish.alpha ?? before.alpha,
    file:
      before.file.kind === "foreign"
        ? { ...before.file, isLinear: wish.isLinear ?? isLinearFile(before.file) }
        : before.file,
    watched: { ...watched, sequences },
  };
}

/** Adds what is new of a folder to the plan of the version that watches it; of two at one moment the second sees the first. */
async function addToVersion(
  version: VersionRow,
  found: FoundFolder,
  fresh: readonly WatchedSequence[],
  wish: TakeInWish,
  who: Who,
): Promise<"added" | "unchanged"> {
  return transact(async (tx) => {
    await lockVersions(tx, [version.id]);
    const before = (await latestRevision(tx, version.id))!.plan;
    const known = new Set(before.watched?.sequences.map((s) => placeKey(s.place)));
    const plan = planWithMore(
      before,
      fresh.filter((s) => !known.has(placeKey(s.place))),
      wish,
    );
    if (changedFields(before, plan).length === 0) return "unchanged";
    await checkPlan(found.place, plan);
    await writeRevision(tx, version.id, { version: version.number, purpose: version.purpose }, plan, who);
    return "added";
  });
}

/** A shot of its own, or the next version of one that is there. */
async function openWatched(
  tx: Tx,
  project: ProjectRow,
  draft: Draft,
  plan: Plan,
  { code, title }: TakeInWish,
  who: Who,
): Promise<{ versionId: number; version: VersionKey }> {
  const { extent } = draft;
  await lockShots(tx, project.id);
  // Somebody may have taken in the same at the same moment.
  const places = new Set(draft.sequences.map((s) => placeKey(s.place)));
  const taken = (await listEverySequence(tx)).find(
    (s) => s.source !== null && places.has(placeKey(s.source)),
  );
  if (taken !== undefined) throw new TallyError("sequences-known", { known: knownAs(taken) }).at("folder");
  const there = await findShot(`${project.slug}/${code}`, tx);
  let shotId = there?.shot.id;
  if (shotId === undefined) {
    await requireFreeCode(tx, project, code, null);
    shotId = await insertShot(tx, {
      projectId: project.id,
      code,
      title: title ?? code,
      firstFrame: extent.first,
      lastFrame: extent.last,
      markers: [],
    });
    await noteDeed(tx, who, "make", { shotId });
  }
  const { id, number } = await insertNextVersion(tx, shotId, "final", null);
  const version: VersionKey = { version: number, purpose: "final" };
  await writeRevision(tx, id, version, plan, who);
  await appendEvent(tx, "plan");
  return { versionId: id, version };
}

/** @throws TallyError `name-taken` for a shot that was put away */
async function shotOf(project: ProjectRow, code: string): Promise<ShotRow | null> {
  const shot = (await findShot(`${project.slug}/${code}`))?.shot ?? null;
  if (shot?.isArchived === true)
    throw new TallyError("name-taken", { what: `${project.slug}/${code} (archived)` }).at("code");
  return shot;
}

/**
 * @param found as it was looked at just now
 * @param isDry only says what would come of it
 * @throws TallyError `project-unknown`, `nothing-to-take-in`, `sequences-known`, `found-gone`, or what is wrong with
 * shot or plan
 */
export async function takeIn(
  slug: string,
  found: FoundFolder,
  wish: TakeInWish,
  { isDry = false, who = null }: { readonly isDry?: boolean; readonly who?: Who } = {},
): Promise<TakenIn> {
  const project = await requireProject(slug);
  const chosen = chosenOf(found, wish.sequences);
  if (chosen.length === 0) throw new TallyError("nothing-to-take-in", { folder: found.path });
  const shot = await shotOf(project, wish.code);
  const version = shot === null ? null : await versionOfTree(shot, found);
  const isOwn = ({ known }: FoundSequenceHere): boolean => known !== null && known.versionId === version?.id;
  const usable = chosen.filter((s) => s.known === null || isOwn(s));
  if (usable.length === 0)
    throw new TallyError("sequences-known", { known: knownAs(chosen[0]!.known!) }).at("folder");
  const pictures = await withPictures(found.path, usable);
  // What was taken in before keeps the camera and the pass that it was given.
  const sequences = pictures.sequences.map((s) =>
    isOwn(s) ? { ...s, camera: s.known!.camera, pass: s.known!.pass } : s,
  );
  const watched = (of: typeof sequences): WatchedSequence[] =>
    of.map(({ camera, pass, place, size }) => ({ camera, pass, place, size }));
  if (shot !== null && version !== null) {
    const fresh = watched(sequences.filter((s) => !isOwn(s)));
    const did = isDry
      ? fresh.length > 0
        ? "added"
        : "unchanged"
      : await addToVersion(version, found, fresh, wish, who);
    return {
      shot: shot.code,
      version: { version: version.number, purpose: version.purpose },
      versionId: version.id,
      did,
      sequences: isDry ? sequences : await asTaken(version.id, sequences),
    };
  }
  const sets = usable.map((s) => s.found.frames);
  const asked = askedOf(sets);
  const extent = shot === null ? extentOf([asked])! : { first: shot.firstFrame, last: shot.lastFrame };
  const draft: Draft = {
    rate: project.rate,
    sequences: watched(sequences),
    asked,
    extent,
    facts: pictures.facts,
    wish,
  };
  const { code } = wish;
  if (shot === null)
    requireShotFacts({
      code,
      title: wish.title ?? code,
      firstFrame: extent.first,
      lastFrame: extent.last,
      markers: [],
    });
  if (shot === null) await requireFreeCode(pool(), project, code, null);
  const plan = planOf(draft);
  await checkPlan(project, plan);
  if (isDry) {
    const next = shot === null ? 1 : largest([0, ...(await finalsOf(shot))]) + 1;
    return { shot: code, version: { version: next, purpose: "final" }, versionId: 0, did: "made", sequences };
  }
  const opened = await transact((tx) => openWatched(tx, project, draft, plan, wish, who));
  return { shot: shot?.code ?? code, ...opened, did: "made", sequences };
}

const finalsOf = async (shot: ShotRow): Promise<number[]> =>
  (await listVersions(pool(), shot.id)).filter((v) => v.purpose === "final").map((v) => v.number);

/** With the cameras that they have been given now. */
async function asTaken<T extends FoundSequenceHere>(
  versionId: number,
  sequences: readonly T[],
): Promise<T[]> {
  const rows = await sequencesOfVersion(pool(), versionId);
  return sequences.map((s) => {
    const row = rows.find((r) => r.source !== null && placeKey(r.source) === placeKey(s.place));
    return row === undefined ? s : { ...s, camera: row.camera, pass: row.pass };
  });
}
