/**
 * What a listed tree of folders may be taken in as: every sequence with the camera and the pass that it seems to be of,
 * each of them once, and what lies beside them. Nothing is opened: names, sizes and dates are all there is.
 */
import { addAll } from "../many";
import type { Pass } from "../plan/passes";
import { type FolderEntry, type FoundSequence, groupFiles } from "./group-files";
import { nameFault } from "./name";
import { recognize } from "./recognize";

export interface ListedFolder {
  /** From the place that was asked about, parted by /; blank for that one. */
  readonly folder: string;
  readonly entries: readonly FolderEntry[];
}

export interface Proposal {
  /** As it was listed. */
  readonly folder: string;
  readonly found: FoundSequence;
  readonly camera: string;
  readonly pass: Pass;
}

export interface Proposals {
  /** The main one first: beauties before other passes, longer ones before short ones. */
  readonly sequences: readonly Proposal[];
  /** Paths from the place that was asked about, as below. */
  readonly others: readonly string[];
  /** Temporary files that something left behind. */
  readonly leftovers: readonly string[];
}

/** Characters of a camera, as its column has them. */
const LONGEST_CAMERA = 64;
/** A picture with a number beside sequences of so many frames is a picture, and no sequence. */
const ALONE_BESIDE = 8;

/** A path below another place. */
const below = (folder: string, name: string): string => (folder === "" ? name : `${folder}/${name}`);

/** Words that tell a sequence from others: of its folders, its name and its ending. */
const wordsOf = ({ folder, found }: Proposal): readonly string[] =>
  [...folder.split("/"), ...found.prefix.split(/[\s._-]+/), ...found.suffix.split(/[\s._-]+/)].filter(
    (word) => word !== "",
  );

/** A name that cameras may have; blank where nothing of it can be one. */
function cameraName(words: readonly string[]): string {
  const text = words
    .join("-")
    .normalize("NFC")
    .replace(/[\s/\\:*?"<>|.]+/g, "-")
    .replace(/^-+|-+$/g, "");
  const name = [...text].slice(0, LONGEST_CAMERA).join("").replace(/-+$/, "");
  return nameFault(name) === null ? name : "";
}

/** The camera, or the first of its name with a number that is free. */
export function freeCamera(camera: string, isTaken: (name: string) => boolean): string {
  let name = camera;
  for (let n = 2; isTaken(name); n++) name = `${camera.slice(0, LONGEST_CAMERA - 8)}-${n}`;
  return name;
}

/**
 * Of several that seem to be of one camera and pass the longest keeps both; the others get a camera of their own, named
 * by the words that they do not share with it.
 */
function tellApart(proposals: readonly Proposal[]): Proposal[] {
  const told: Proposal[] = [];
  const firsts = new Map<string, Proposal>();
  const taken = new Set<string>();
  const key = (camera: string, pass: Pass): string => JSON.stringify([camera.toLowerCase(), pass]);
  for (const proposal of proposals) {
    const { camera, pass } = proposal;
    const first = firsts.get(key(camera, pass));
    if (first === undefined && !taken.has(key(camera, pass))) {
      firsts.set(key(camera, pass), proposal);
      taken.add(key(camera, pass));
      told.push(proposal);
      continue;
    }
    const shared = new Set(first === undefined ? [] : wordsOf(first));
    const own = cameraName([camera, ...wordsOf(proposal).filter((word) => !shared.has(word))]) || camera;
    const name = freeCamera(own, (camera) => taken.has(key(camera, pass)));
    taken.add(key(name, pass));
    told.push({ ...proposal, camera: name });
  }
  return told;
}

/** The main one first, then as people read a list. */
function byWeight(a: Proposal, b: Proposal): number {
  const isBeauty = Number(b.pass === "beauty") - Number(a.pass === "beauty");
  const paths = [a, b].map(({ folder, found }) => below(folder, found.name));
  return isBeauty || b.found.frames.count - a.found.frames.count || (paths[0]! < paths[1]! ? -1 : 1);
}

/** @param folders in any order */
export function proposeSequences(folders: readonly ListedFolder[]): Proposals {
  const found: Proposal[] = [];
  const others: string[] = [];
  const leftovers: string[] = [];
  for (const { folder, entries } of folders) {
    const groups = groupFiles(entries);
    const parts = folder === "" ? [] : folder.split("/");
    for (const sequence of groups.sequences)
      found.push({ folder, found: sequence, ...recognize(parts, sequence.prefix) });
    addAll(
      others,
      groups.others.map((name) => below(folder, name)),
    );
    addAll(
      leftovers,
      groups.leftovers.map((name) => below(folder, name)),
    );
  }
  found.sort(byWeight);
  const longest = found.reduce((most, { found: s }) => Math.max(most, s.frames.count), 0);
  const isAlone = ({ found: s }: Proposal): boolean => s.files.length === 1 && longest >= ALONE_BESIDE;
  for (const { folder, found: s } of found.filter(isAlone)) others.push(below(folder, s.files[0]!.name));
  return {
    sequences: tellApart(found.filter((proposal) => !isAlone(proposal))),
    others: others.sort(),
    leftovers: leftovers.sort(),
  };
}
