/**
 * A folder that something else has filled, looked at and nothing of it changed: its sequences with what they seem to be,
 * which of them are in the tally already, and what their pictures are.
 */
import path from "node:path";
import { firstOf, type FrameSet, lastOf, memberAt } from "@/core/frames/frame-set";
import { checkFile } from "@/core/image/check-file";
import { type Meaning, meaningOf } from "@/core/image/meaning";
import type { FileVerdict } from "@/core/image/verdict";
import { largest, least } from "@/core/many";
import { type Proposal, proposeSequences } from "@/core/naming/proposals";
import { versionName } from "@/core/plan/plan";
import type { WatchedPlace } from "@/core/plan/watched";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { listFoldersBelow, type ListHow, type Unreadable } from "../files/folders-below";
import { imageTools } from "../files/image-tools";
import { sequencePlace } from "../files/layout";
import { projectFolder, type ProjectPlace } from "../files/paths";
import { readRegular } from "../files/read-regular";
import { listEverySequence, type SequenceRow } from "../store/shots";

/** What the pictures of a sequence are, by one that could be read. */
export interface PictureFacts {
  readonly verdict: FileVerdict;
  readonly meaning: Meaning;
}

export interface FoundSequenceHere extends Proposal {
  readonly place: WatchedPlace;
  /** The sequence of the tally whose files these are. */
  readonly known: SequenceRow | null;
}

export interface FoundFolder {
  readonly place: ProjectPlace;
  /** Absolute. */
  readonly path: string;
  /** The main one first. */
  readonly sequences: readonly FoundSequenceHere[];
  readonly others: readonly string[];
  readonly leftovers: readonly string[];
  readonly unreadable: readonly Unreadable[];
  readonly links: readonly string[];
  readonly files: number;
}

/** A sequence of the tally in a few words. */
export const knownAs = (known: SequenceRow): string =>
  `${known.project}/${known.shot} ${versionName(known)} ${known.camera} ${known.pass}`;

const placeOf = (top: ProjectPlace, { folder, found }: Proposal): WatchedPlace => ({
  root: top.root,
  folder: [top.folder, folder].filter((part) => part !== "").join("/"),
  prefix: found.prefix,
  suffix: found.suffix,
  digits: found.name.length - found.prefix.length - found.suffix.length,
});

/** Files by the folder that they really lie in: roots may lie in one another, and each names it its own way. */
const keyOf = (place: WatchedPlace): string =>
  JSON.stringify([path.resolve(projectFolder(place)), place.prefix, place.suffix]);

/** Sequences of the tally by where their files lie: by the place that is watched, or by our own folder as a whole. */
async function knownPlaces(): Promise<(place: WatchedPlace) => SequenceRow | null> {
  const [watched, own] = [new Map<string, SequenceRow>(), new Map<string, SequenceRow>()];
  for (const sequence of await listEverySequence(pool()))
    try {
      if (sequence.source === null) own.set(path.resolve(sequencePlace(sequence)), sequence);
      else watched.set(keyOf(sequence.source), sequence);
    } catch (error) {
      // On a root that is declared no more: it is nowhere.
      if (!(error instanceof TallyError) || error.code !== "root-unknown") throw error;
    }
  return (place) => watched.get(keyOf(place)) ?? own.get(path.resolve(projectFolder(place))) ?? null;
}

/**
 * @throws TallyError `root-unknown`
 * @throws AbortError
 */
export async function lookAtFolder(place: ProjectPlace, how: ListHow = {}): Promise<FoundFolder> {
  const top = projectFolder(place);
  const { folders, unreadable, links } = await listFoldersBelow(top, how);
  const { sequences, others, leftovers } = proposeSequences(folders);
  const known = await knownPlaces();
  return {
    place,
    path: top,
    sequences: sequences.map((proposal) => {
      const its = placeOf(place, proposal);
      return { ...proposal, place: its, known: known(its) };
    }),
    others,
    leftovers,
    unreadable,
    links,
    files: folders.reduce((sum, { entries }) => sum + entries.length, 0),
  };
}

/** Where in a sequence pictures are looked at, until one can be read: the ends are often in work. */
const LOOKED_AT = [1 / 2, 1 / 4, 3 / 4, 0, 1] as const;

/** What the pictures of a sequence are; null where none of a few can be read. */
export async function readPictureFacts(
  top: string,
  { folder, found }: Pick<Proposal, "folder" | "found">,
): Promise<PictureFacts | null> {
  for (const share of LOOKED_AT) {
    const frame = memberAt(found.frames, Math.round(share * (found.frames.count - 1)));
    const file = found.files.find((f) => f.frame === frame);
    if (file === undefined || file.bytes === 0) continue;
    const bytes = await readRegular(path.join(top, folder, file.name)).catch(() => null);
    if (bytes === null) continue;
    const verdict = checkFile(file.name, bytes, imageTools);
    if (verdict.verdict === "good" && verdict.width !== null)
      return { verdict, meaning: meaningOf(bytes, verdict) };
  }
  return null;
}

/** First and last of them all; null of none. */
export function extentOf(
  sets: readonly FrameSet[],
): { readonly first: number; readonly last: number } | null {
  const there = sets.filter((set) => set.count > 0);
  if (there.length === 0) return null;
  return {
    first: least(there.map((set) => firstOf(set)!)),
    last: largest(there.map((set) => lastOf(set)!)),
  };
}
