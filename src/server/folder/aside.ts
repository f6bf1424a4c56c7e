/**
 * Files that were replaced and are kept: which frame each was.
 * A replaced picture is moved aside under a name that tells its attempt, never deleted: what was good
 * yesterday can be looked at and taken back. Names are laid out in files/layout; nothing here writes.
 */
import fs from "node:fs/promises";
import { groupFiles } from "@/core/naming/group-files";
import { groupBy } from "@/core/many";
import { TallyError } from "../errors";
import type { SequenceRow } from "../store/shots";
import { asideFolder, byReplacement, versionPlace, isAsideName, nameBeforeAside } from "../files/layout";

/** Where replaced files of a sequence are kept. */
export const asideFolderOf = (sequence: SequenceRow): string =>
  asideFolder(versionPlace(sequence), sequence.camera, sequence.pass);

/** Names of the files that are kept aside, oldest first; none where nothing was ever replaced. */
export const asideNames = (sequence: SequenceRow): Promise<readonly string[]> =>
  asideNamesIn(asideFolderOf(sequence));

/** The same of one folder: files whose successors were accepted lie apart. */
export const asideNamesIn = async (folder: string): Promise<readonly string[]> =>
  (await fs.readdir(folder).catch(() => [])).filter(isAsideName).sort(byReplacement);

/** All files kept aside of each frame, oldest first. @param names as asideNames gives them */
export function asidesByFrame(names: readonly string[]): ReadonlyMap<number, readonly string[]> {
  const byName = groupBy(names, nameBeforeAside);
  const grouped = groupFiles([...byName.keys()].map((name) => ({ name, bytes: 0 })));
  return new Map(
    grouped.sequences.flatMap((group) => group.files.map((f) => [f.frame, byName.get(f.name)!] as const)),
  );
}

/** The newest of each frame. @param names as asideNames gives them */
export const asideFiles = (names: readonly string[]): ReadonlyMap<number, string> =>
  new Map([...asidesByFrame(names)].map(([frame, own]) => [frame, own.at(-1)!]));

/** Name of the newest file kept of a frame. @throws TallyError `before-none` */
export async function requireAside(sequence: SequenceRow, frame: number): Promise<string> {
  const name = asideFiles(await asideNames(sequence)).get(frame);
  if (name === undefined) throw new TallyError("before-none", { frame });
  return name;
}
