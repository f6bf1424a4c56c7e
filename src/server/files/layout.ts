/**
 * Where everything of a version lies. Nothing else in the house spells one of these names.
 *
 *     <root>/<project>/.tally/project                             the mark: it is really there
 *     <root>/<project>/.tally/manifest/record-<host>.jsonl        its tally, a line a row that was written
 *     <root>/<project>/handovers/                                 what was given away, for people
 *     <root>/<project>/<shot>/v001/                               versionPlace
 *         <camera>/<pass>/<name>.<frame>.<ext>                    the sequence: nothing but its frames
 *         .tally/small/<camera>/<pass>/<frame>-<content>.jpg      of frames that something else makes, with
 *                                     <frame>-<content>.jpg.json  what was measured
 *         .tally/proofs/<run>/<camera>/<pass>/<name>.<frame>.<ext>
 *         .tally/proofs/<run>/aside/<camera>/<pass>/      proofs that were replaced, named as the next
 *         .tally/aside/<camera>/<pass>/<name>.before-<attempt>.<ext>   <attempt>-2 where that name is taken
 *                                     accepted/       the same, once somebody has accepted what replaced it
 *         .tally/checkpoints/<camera>/<frame>.checkpoint          beside it, while a new one is put in place,
 *                                     <frame>.before.checkpoint
 *         .tally/gathered-light/<camera>/<frame>.light
 *         .tally/kept/<camera>/<frame>/           what a program left and its declaration keeps
 *         .tally/scene/<content>/                                 the frozen copy, named by what is in it
 *         .tally/hand-outs/<number>/              what is taken along: hand-out.json, and visible beside it
 *                                     scene/, gathered-light/<camera>/
 *         .tally/log/<node>.log                                   and, once it is long, <node>.log.before
 *         .tally/manifest/<node>.jsonl
 *         .tally/arrays/<array>_<index>.txt       what tasks of a batch system wrote out
 *         .tally/ready-<node>.part0                               a node's proof that it can write
 *
 * The files of a sequence that was taken in stay in a folder of their own, below any root; all that we write of its
 * version lies here as ever.
 *
 * A temporary file stands beside what it will be, as `<file>.part<attempt>`; whoever has no attempt
 * (a machine that is not connected, a person's command line) takes its process number.
 */
import path from "node:path";
import { padFrame } from "@/core/naming/pattern";
import { type NamedAs, type SequenceKey, type VersionKey, versionName } from "@/core/plan/plan";
import type { WatchedPlace } from "@/core/plan/watched";
import { projectFolder, type ProjectPlace } from "./paths";

/** Hidden, so that programs which read folders of pictures do not see it. */
const TALLY = ".tally";
/** Numbers in our own names; longer ones are kept whole. */
const DIGITS = 6;

/** What places a version on disk. */
export interface VersionPlace extends ProjectPlace, VersionKey, Pick<NamedAs, "namedShot"> {}

/** What places a sequence on disk. */
export interface SequencePlace extends VersionPlace, SequenceKey {
  /** Where its files lie, when something else makes them: nothing of ours is ever written there. */
  readonly source: WatchedPlace | null;
}

/** The mark of a project. @param project its folder */
export const projectMark = (project: string): string => path.join(project, TALLY, "project");

/** Where scenes of a project are looked for, and brought to: relative to its folder. */
export const SCENES = "scenes";

/** What a project gives away, in its folder. */
export const HANDOVERS = "handovers";

export const handoversFolder = (project: ProjectPlace): string =>
  path.join(projectFolder(project), HANDOVERS);

/** Folder of a version, relative to its project's: under the name of the shot when it was opened. */
export const versionFolder = (place: Pick<VersionPlace, "namedShot"> & VersionKey): string =>
  path.join(place.namedShot, versionName(place));

/** Folder of a version: all cameras and passes, and `.tally` beside them. */
export const versionPlace = (place: VersionPlace): string =>
  path.join(projectFolder(place), versionFolder(place));

/** Where tasks of a batch system write what they say. */
export const arrayOutputFolder = (version: string): string => path.join(version, TALLY, "arrays");

/** Folder of a sequence, relative to its version's. */
export const sequenceFolder = (camera: string, pass: string): string => path.join(camera, pass);

/** Folder of the files of one camera and pass. */
export const sequencePlace = (place: SequencePlace): string =>
  place.source === null
    ? path.join(versionPlace(place), sequenceFolder(place.camera, place.pass))
    : projectFolder(place.source);

/** Folder of a run's proofs, relative to their version's. */
export const proofFolder = (runId: number, camera: string, pass: string): string =>
  path.join(TALLY, "proofs", String(runId), camera, pass);

/** Where proofs go that others of the same run replaced: never among what a sequence has replaced. */
export const proofAsideFolder = (version: string, runId: number, camera: string, pass: string): string =>
  path.join(version, TALLY, "proofs", String(runId), "aside", camera, pass);

/** Where files go that others replaced. */
export const asideFolder = (version: string, camera: string, pass: string): string =>
  path.join(version, TALLY, "aside", camera, pass);

/** Of these, files whose successors somebody has accepted. @param aside where replaced files lie */
export const acceptedFolder = (aside: string): string => path.join(aside, "accepted");

/**
 * Name of a file that was replaced: `name.before-000123.png`, after the attempt that replaced it.
 * @param again from 2 on where an attempt of that number, of another database, has replaced one before
 */
export function asideName(file: string, attempt: number, again = 1): string {
  const { name, ext } = path.parse(file);
  return `${name}.before-${padFrame(attempt, DIGITS)}${again === 1 ? "" : `-${again}`}${ext}`;
}
/** A kept file's name tells the attempt that replaced it. */
const BEFORE_ATTEMPT = /\.before-(\d+)(?:-(\d+))?(?=\.[^.]+$)/;
/** Puts names of files aside in the order in which they were replaced. */
export function byReplacement(a: string, b: string): number {
  const [of, other] = [a, b].map((name) => BEFORE_ATTEMPT.exec(name));
  return Number(of?.[1]) - Number(other?.[1]) || Number(of?.[2] ?? 1) - Number(other?.[2] ?? 1);
}
/** Whether a file in there is one that we put there. */
export const isAsideName = (name: string): boolean => BEFORE_ATTEMPT.test(name);
/** The attempt that replaced it. */
export const attemptOfAside = (name: string): number => Number(BEFORE_ATTEMPT.exec(name)?.[1] ?? 0);
/** The name that a file aside had in its sequence. */
export const nameBeforeAside = (name: string): string => name.replace(BEFORE_ATTEMPT, "");

/** Where small pictures of frames lie that something else makes. */
export const smallFolder = (version: string, camera: string, pass: string): string =>
  path.join(version, TALLY, "small", camera, pass);

/** Digits of a hash that tell files of one frame apart. */
const SMALL_CONTENT = 16;

/** @param content hash of the file that it shows */
export const smallName = (frame: number, content: string): string =>
  `${padFrame(frame, DIGITS)}-${content.slice(0, SMALL_CONTENT)}.jpg`;

/** The frame of a small picture, and the first digits of its file's hash; null for any other name. */
export function frameOfSmall(name: string): { readonly frame: number; readonly content: string } | null {
  const found = /^(-?\d+)-([0-9a-f]+)\.jpg$/.exec(name);
  return found === null ? null : { frame: Number(found[1]), content: found[2]! };
}

/** Ending of saved samples. */
const CHECKPOINT = ".checkpoint";
/** Ending of the samples before: there until the new ones are whole. */
const CHECKPOINT_BEFORE = ".before";

/** Where saved samples of a camera lie. */
export const checkpointFolder = (version: string, camera: string): string =>
  path.join(version, TALLY, "checkpoints", camera);

/** Saved samples of a frame. */
export const checkpointFile = (folder: string, frame: number): string =>
  path.join(folder, `${padFrame(frame, DIGITS)}${CHECKPOINT}`);

/** Those that they replaced: kept until the new ones are proven. */
export const checkpointBefore = (folder: string, frame: number): string =>
  path.join(folder, `${padFrame(frame, DIGITS)}${CHECKPOINT_BEFORE}${CHECKPOINT}`);

/** Frame of a name in the folder; null for what is no checkpoint in its place. */
export function frameOfCheckpoint(name: string): number | null {
  if (!name.endsWith(CHECKPOINT)) return null;
  const number = name.slice(0, -CHECKPOINT.length);
  return /^-?\d+$/.test(number) ? Number(number) : null;
}

/** Where gathered light of a camera lies. */
export const gatheredLightFolder = (version: string, camera: string): string =>
  path.join(version, TALLY, "gathered-light", camera);

/** Where files lie that programs leave beside the pictures of a camera, a folder a call. */
export const keptFolder = (version: string, camera: string): string =>
  path.join(version, TALLY, "kept", camera);

/** Of the call that began with a frame. @param camera the camera's folder */
export const keptFolderOfCall = (camera: string, frame: number): string =>
  path.join(camera, padFrame(frame, DIGITS));

/** Ending of gathered light. */
const GATHERED_LIGHT = ".light";
/** Whether a name is that of gathered light; temporary ones are none. */
export const isGatheredLight = (name: string): boolean => name.endsWith(GATHERED_LIGHT);

/** Gathered light at a frame. */
export const gatheredLightFile = (folder: string, frame: number): string =>
  path.join(folder, `${padFrame(frame, DIGITS)}${GATHERED_LIGHT}`);

/** Folder of a frozen scene, relative to its version's. @param content names what is in it */
export const frozenFolder = (content: string): string => path.join(TALLY, "scene", content);

/** Folder of a hand-out, relative to its version's; without a number, the folder of them all. */
export const handOutFolder = (number?: string): string => path.join(TALLY, "hand-outs", number ?? "");

/** The copy of the scene in a hand-out, relative to it: visible, as whoever drags files must get it too. */
export const HAND_OUT_SCENE = "scene";

/** Gathered light of a camera in a hand-out. @param place its folder */
export const handOutLightFolder = (place: string, camera: string): string =>
  path.join(place, "gathered-light", camera);

/** What a node said of this version, a file a node, so that no two write into one. */
export const nodeLogFile = (version: string, node: string): string =>
  path.join(version, TALLY, "log", `${node}.log`);

/** What nodes made of this version, and what a project's records lie in. @param place the version's or the project's */
export const manifestFolder = (place: string): string => path.join(place, TALLY, "manifest");

/** What a node made of this version, a line a file. */
export const manifestFile = (version: string, node: string): string =>
  path.join(manifestFolder(version), `${node}.jsonl`);

/** Of one machine, so that no two write into one. */
export const recordFile = (project: string, host: string): string =>
  path.join(manifestFolder(project), `record-${host}.jsonl`);

/** Whether a name in there is one of a record. */
export const isRecordFile = (name: string): boolean => /^record-.+\.jsonl$/.test(name);

/** Where a node proves that it can write; a temporary name, so that nobody takes it for anything else. */
export const readyFile = (version: string, node: string): string =>
  path.join(version, TALLY, `ready-${node}.part0`);

/** @param by the attempt that writes it, or the process of a machine without attempts */
export const temporaryOf = (final: string, by: number | string): string => `${final}.part${by}`;
