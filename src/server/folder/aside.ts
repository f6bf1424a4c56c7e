/** Files that were replaced and are kept: which frame each was. */
import fs from "node:fs/promises";
import { groupFiles } from "@/core/naming/group-files";
import { TallyError } from "../errors";
import type { SequenceRow } from "../store/shots";
import { asideFolder, versionPlace, isAsideName, nameBeforeAside } from "../files/layout";

export const asideFolderOf = (sequence: SequenceRow): string =>
  asideFolder(versionPlace(sequence), sequence.camera, sequence.pass);

/** The newest file kept aside of each frame, by its name. */
export async function asideFiles(sequence: SequenceRow): Promise<ReadonlyMap<number, string>> {
  const names = (await fs.readdir(asideFolderOf(sequence)).catch(() => [])).filter(isAsideName).sort();
  const newest = new Map(names.map((name) => [nameBeforeAside(name), name]));
  const grouped = groupFiles([...newest.keys()].map((name) => ({ name, bytes: 0 })));
  return new Map(
    grouped.sequences.flatMap((group) => group.files.map((f) => [f.frame, newest.get(f.name)!] as const)),
  );
}

export async function requireAside(sequence: SequenceRow, frame: number): Promise<string> {
  const name = (await asideFiles(sequence)).get(frame);
  if (name === undefined) throw new TallyError("before-none", { frame });
  return name;
}
