/**
 * What appeared, changed or went away in a sequence's folder, by size and time alone: cheap, and nothing is
 * read.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { type FrameSet, setOf } from "@/core/frames/frame-set";
import { groupFiles } from "@/core/naming/group-files";
import { frameName } from "@/core/plan/plan";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { appendEvent } from "../store/events";
import {
  deleteFile,
  type FileIdentity,
  type FileRow,
  insertUnlookedFiles,
  listFiles,
  lockFile,
  saveUnlookedFile,
} from "../store/frame-files";
import { latestRevision, type SequenceRow, readSavedPlan } from "../store/shots";
import { addAll } from "@/core/many";
import { statsLater } from "../files/folders-below";
import { sequencePlace } from "../files/layout";
import { requireSequenceInSight, whySequenceOutOfSight } from "./project-sight";

/** A folder as it is now, sorted by number. */
interface Listed {
  readonly folder: string;
  readonly files: ReadonlyMap<number, FileIdentity>;
}

/**
 * The plan's frames in the folder: of several files of one number the one that has the plan's name, else the
 * widest.
 */
async function listFolder(sequence: SequenceRow): Promise<Listed> {
  const revision = await latestRevision(pool(), sequence.versionId);
  const read = revision === null ? null : readSavedPlan(revision);
  const folder = sequencePlace(sequence);
  const names = await fs.readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return [];
    throw new TallyError("folder-unreadable", { folder, errno: error.code }).because(error);
  });
  const groups = groupFiles(names.map((name) => ({ name, bytes: 0 })));
  const files = new Map<number, FileIdentity>();
  const wanted = (frame: number): string | null => (read === null ? null : frameName(read, sequence, frame));
  // The group whose files bear the plan's name; a folder of foreign names is not this sequence.
  const own = groups.sequences.filter((group) => group.files.some((f) => f.name === wanted(f.frame)));
  const named = own.flatMap((group) => group.files);
  const stats = await statsLater(named.map((file) => path.join(folder, file.name)));
  named.forEach((file, i) => {
    if (files.has(file.frame) && file.name !== wanted(file.frame)) return;
    const stat = stats[i];
    if (stat?.isFile() === true)
      files.set(file.frame, { name: file.name, bytes: stat.size, modifiedMs: stat.mtimeMs });
  });
  return { folder, files };
}

/** Name, size and time of change, to the millisecond: some shares cut what is finer. */
export const isSame = (known: FileIdentity | undefined | null, seen: FileIdentity): boolean =>
  known != null &&
  known.name === seen.name &&
  known.bytes === seen.bytes &&
  Math.abs(known.modifiedMs - seen.modifiedMs) < 1;

/**
 * Seconds from the claim on a frame to its file, by the files' own times; null where no claim was seen. A file that
 * grows is told anew with each look, until it was judged.
 */
function secondsSinceClaim(
  { source }: SequenceRow,
  before: FileRow | null,
  fresh: FileIdentity,
): number | null {
  if (source === null || before === null || before.verdict !== null || fresh.bytes === 0) return null;
  if (before.bytes > 0 && before.seconds === null) return null;
  return (before.seconds ?? 0) + Math.max(0, fresh.modifiedMs - before.modifiedMs) / 1000;
}

/** Against what was known before; three disjoint sets. */
export interface Noticed {
  readonly appeared: FrameSet;
  readonly changed: FrameSet;
  readonly gone: FrameSet;
}

/** What cannot be asked just now counts as there: only the system's word that it is not makes it gone. */
const isThere = (file: string): Promise<boolean> =>
  fs.stat(file).then(
    (stat) => stat.isFile(),
    (error: NodeJS.ErrnoException) => error.code !== "ENOENT",
  );

/**
 * Compares the folder with what is known; new and changed files become unlooked, gone ones are forgotten.
 * @throws TallyError `project-out-of-sight`, `source-out-of-sight`: then nothing is noted
 */
export async function notice(sequence: SequenceRow): Promise<Noticed> {
  await requireSequenceInSight(sequence);
  const [{ folder, files }, known] = [
    await listFolder(sequence),
    new Map((await listFiles(pool(), sequence.id)).map((f) => [f.frame, f])),
  ];
  const appeared: number[] = [];
  const changed: number[] = [];
  // Where nothing of ours renders, nobody else is about to say what became of a frame.
  if (sequence.source !== null) {
    const fresh = [...files].filter(([frame]) => !known.has(frame));
    await insertUnlookedFiles(pool(), sequence.id, fresh);
    addAll(
      appeared,
      fresh.map(([frame]) => frame),
    );
  }
  for (const [frame, seen] of files) {
    if (sequence.source !== null && !known.has(frame)) continue;
    if (isSame(known.get(frame), seen)) continue;
    const isNew = await transact(async (tx) => {
      // A node may be finishing this frame: look again under the lock.
      const now = await lockFile(tx, sequence.id, frame);
      const stat = await fs.stat(path.join(folder, seen.name)).catch(() => null);
      const fresh = stat === null ? null : { name: seen.name, bytes: stat.size, modifiedMs: stat.mtimeMs };
      if (fresh === null || isSame(now, fresh)) return null;
      await saveUnlookedFile(tx, sequence.id, frame, fresh, secondsSinceClaim(sequence, now, fresh));
      return now === null;
    });
    if (isNew !== null) (isNew ? appeared : changed).push(frame);
  }
  const gone: number[] = [];
  for (const [frame, file] of known) {
    if (files.has(frame)) continue;
    const isGone = await transact(async (tx) => {
      const now = await lockFile(tx, sequence.id, frame);
      if (now === null || (await isThere(path.join(folder, file.name)))) return false;
      // Asked behind it: a share that went away in between has taken the file along, and not lost it.
      if ((await whySequenceOutOfSight(sequence)) !== null) return false;
      await deleteFile(tx, sequence.id, frame);
      return true;
    });
    if (isGone) gone.push(frame);
  }
  const noticed = { appeared: setOf(appeared), changed: setOf(changed), gone: setOf(gone) };
  if (appeared.length + changed.length + gone.length > 0)
    await transact((tx) => appendEvent(tx, "files", sequence.id));
  return noticed;
}
