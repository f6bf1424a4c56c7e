/** Replaced files of a sequence that are kept: how many, their bytes, and of which frames. */
import fs from "node:fs/promises";
import path from "node:path";
import type { AsideFilesView } from "@/contract/sequence-view";
import { setOf } from "@/core/frames/frame-set";
import { packSet } from "@/core/tally/packed";
import { asideFiles, asideFolderOf } from "../folder/aside";
import { requireSequence } from "../store/shots";

export async function viewAsideFiles(sequenceId: number): Promise<AsideFilesView> {
  const sequence = await requireSequence(sequenceId);
  const folder = asideFolderOf(sequence);
  const names = await fs.readdir(folder).catch(() => []);
  const sizes = await Promise.all(
    names.map(async (name) => (await fs.stat(path.join(folder, name)).catch(() => null))?.size ?? 0),
  );
  return {
    count: names.length,
    bytes: sizes.reduce((a, b) => a + b, 0),
    frames: packSet(setOf([...(await asideFiles(sequence)).keys()])),
  };
}
