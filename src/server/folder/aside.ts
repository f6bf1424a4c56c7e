/** Files that were replaced and are kept: which frame each was, and what its successor changed. */
import fs from "node:fs/promises";
import path from "node:path";
import type { FrameChangeView } from "@/contract/views";
import { meanDifference, noiseOf } from "@/core/image/measure";
import { groupFiles } from "@/core/naming/group-files";
import { isPass } from "@/core/plan/passes";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { shownPixels } from "../files/showable";
import { fileOfFrame } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";
import { folderOf, originOf } from "./folder-state";
import { requireSequence } from "../views/tally";

/** `name.before-000123.png`: the attempt that replaced it. */
const BEFORE = /\.before-(\d+)(?=\.[^.]+$)/;

export const asideFolderOf = (sequence: SequenceRow): string =>
  path.join(folderOf(sequence), "../../.tally/aside", sequence.camera, sequence.pass);

/** The newest file kept aside of each frame, by its name. */
export async function asideFiles(sequence: SequenceRow): Promise<ReadonlyMap<number, string>> {
  const names = (await fs.readdir(asideFolderOf(sequence)).catch(() => []))
    .filter((name) => BEFORE.test(name))
    .sort();
  const newest = new Map(names.map((name) => [name.replace(BEFORE, ""), name]));
  const grouped = groupFiles([...newest.keys()].map((name) => ({ name, bytes: 0 })));
  return new Map(
    grouped.sequences.flatMap((group) => group.files.map((f) => [f.frame, newest.get(f.name)!] as const)),
  );
}

export async function requireAside(sequence: SequenceRow, frame: number): Promise<string> {
  const name = (await asideFiles(sequence)).get(frame);
  if (name === undefined) throw new TallyError("before-unknown", `Frame ${frame} has no file from before.`);
  return name;
}

export async function changeOfFrame(sequenceId: number, frame: number): Promise<FrameChangeView> {
  const sequence = await requireSequence(sequenceId);
  const [file, aside] = [await fileOfFrame(pool(), sequenceId, frame), await requireAside(sequence, frame)];
  if (file === null) throw new TallyError("picture-unknown", `Frame ${frame} has no file.`);
  const pass = isPass(sequence.pass) ? sequence.pass : "beauty";
  const [now, before] = await Promise.all(
    [path.join(folderOf(sequence), path.basename(file.name)), path.join(asideFolderOf(sequence), aside)].map(
      (place) =>
        fs.readFile(place).catch(() => {
          throw new TallyError("picture-unknown", `A file of frame ${frame} is gone.`);
        }),
    ),
  );
  const [shownNow, shownBefore] = [
    await shownPixels(file.name, now!, pass),
    await shownPixels(aside, before!, pass),
  ];
  const sideOf = (bytes: Buffer, shown: typeof shownNow) => ({
    samples: originOf(bytes).samples,
    noise: noiseOf(shown),
    bytes: bytes.length,
  });
  return {
    file: aside,
    before: sideOf(before!, shownBefore),
    now: sideOf(now!, shownNow),
    difference: meanDifference(shownBefore, shownNow),
  };
}
