/** Replaced files of a sequence that are kept: how many, their bytes, and of which frames. */
import fs from "node:fs/promises";
import path from "node:path";
import type { AsideFilesView } from "@/contract/sequence-view";
import { setOf } from "@/core/frames/frame-set";
import { packSet } from "@/core/tally/packed";
import { settings } from "../configuration";
import { acceptedFolder } from "../files/layout";
import { asideFiles, asideFolderOf, asideNames, asideNamesIn } from "../folder/aside";
import { pool } from "../db/pool";
import { smallBefore, smallFolderOf, smallPictures } from "../folder/small-pictures";
import { listFiles } from "../store/frame-files";
import { requireSequence, type SequenceRow } from "../store/shots";

/** @param newest name of the newest of each frame, in any order */
function byFrame(newest: ReadonlyMap<number, string>): Pick<AsideFilesView, "frames" | "names"> {
  const sorted = [...newest].sort(([a], [b]) => a - b);
  return { frames: packSet(setOf(sorted.map(([frame]) => frame))), names: sorted.map(([, name]) => name) };
}

/** Of frames that something else makes: small pictures of the files before. */
async function viewSmallBefores(sequence: SequenceRow): Promise<AsideFilesView> {
  const pictures = await smallPictures(sequence);
  const files = await listFiles(pool(), sequence.id);
  const befores = files.flatMap(({ frame, content }) => {
    const before = smallBefore(pictures.get(frame), content);
    return before === undefined ? [] : [{ frame, name: before.name }];
  });
  const folder = smallFolderOf(sequence);
  const sizes = await Promise.all(
    befores.map(async ({ name }) => (await fs.stat(path.join(folder, name)).catch(() => null))?.size ?? 0),
  );
  return {
    ...{ accepted: 0, keptDays: settings().keep.asideDays },
    count: befores.length,
    bytes: sizes.reduce((a, b) => a + b, 0),
    ...byFrame(new Map(befores.map(({ frame, name }) => [frame, name]))),
    areSmall: true,
  };
}

/**
 * Counts what was kept when frames were rendered again. Read from the folder itself: the files need no
 * database to be found by hand.
 */
export async function viewAsideFiles(sequenceId: number): Promise<AsideFilesView> {
  const sequence = await requireSequence(sequenceId);
  if (sequence.source !== null) return viewSmallBefores(sequence);
  const folder = asideFolderOf(sequence);
  const names = await asideNames(sequence);
  const accepted = await asideNamesIn(acceptedFolder(folder));
  const files = [...names, ...accepted.map((name) => path.join(acceptedFolder("."), name))];
  const sizes = await Promise.all(
    files.map(async (name) => (await fs.stat(path.join(folder, name)).catch(() => null))?.size ?? 0),
  );
  return {
    ...{ accepted: accepted.length, keptDays: settings().keep.asideDays },
    count: files.length,
    bytes: sizes.reduce((a, b) => a + b, 0),
    ...byFrame(asideFiles(names)),
    areSmall: false,
  };
}
