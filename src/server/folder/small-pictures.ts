/**
 * Small pictures of frames that something else makes, with what was measured of each. Its files are replaced without
 * anybody asking: what is kept here before is all that can be compared afterwards. One of the file that is there and
 * one of the file before it are kept of each frame, below the project's own folder.
 */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import type { FileMeasures } from "@/contract/sequence-view";
import { meanLuminance, noiseOf } from "@/core/image/measure";
import { isPass } from "@/core/plan/passes";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import {
  frameOfSmall,
  sequencePlace,
  smallFolder,
  smallName,
  temporaryOf,
  versionPlace,
} from "../files/layout";
import { readRegular } from "../files/read-regular";
import { shownPixels } from "../files/showable";
import { appendFrameEvent } from "../store/events";
import { type FileRow, lockFile, saveMeasures, unmeasuredFiles } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";

/** Pixels across: enough to tell what has changed. */
const SMALL_WIDTH = 480;
const QUALITY = 82;
/** Files of kinds that nothing here can show, by content: they are not tried again. */
const unshowable = new Set<string>();

/** Where small pictures of a sequence lie. */
export const smallFolderOf = (sequence: SequenceRow): string =>
  smallFolder(versionPlace(sequence), sequence.camera, sequence.pass);

export interface SmallPicture {
  /** Of the picture, in the folder. */
  readonly name: string;
  /** First digits of the hash of the file that it shows. */
  readonly content: string;
  readonly madeMs: number;
}

/** Small pictures of each frame, the newest first. */
export async function smallPictures(
  sequence: SequenceRow,
): Promise<ReadonlyMap<number, readonly SmallPicture[]>> {
  const folder = smallFolderOf(sequence);
  const names = await fs.readdir(folder).catch(() => []);
  const found = new Map<number, SmallPicture[]>();
  for (const name of names) {
    const read = frameOfSmall(name);
    const stat = read === null ? null : await fs.stat(path.join(folder, name)).catch(() => null);
    if (read === null || stat === null) continue;
    const picture = { name, content: read.content, madeMs: stat.mtimeMs };
    const there = found.get(read.frame);
    if (there === undefined) found.set(read.frame, [picture]);
    else there.push(picture);
  }
  for (const pictures of found.values()) pictures.sort((a, b) => b.madeMs - a.madeMs);
  return found;
}

/** The newest one of another file than the one that is there now; undefined where there is none. */
export const smallBefore = (
  pictures: readonly SmallPicture[] | undefined,
  content: string | null,
): SmallPicture | undefined =>
  pictures?.find((picture) => content === null || !content.startsWith(picture.content));

/** What was measured of the file of a small picture; null where it is not known any more. */
export async function measuresOfSmall(
  sequence: SequenceRow,
  picture: SmallPicture,
): Promise<FileMeasures | null> {
  const file = path.join(smallFolderOf(sequence), `${picture.name}.json`);
  const text = await fs.readFile(file, "utf8").catch(() => null);
  if (text === null) return null;
  try {
    const { bytes, noise } = JSON.parse(text) as { bytes?: unknown; noise?: unknown };
    return typeof bytes === "number" && typeof noise === "number" ? { samples: null, bytes, noise } : null;
  } catch {
    return null;
  }
}

/** Whole or not at all: a page may ask for it at any moment. */
async function put(file: string, bytes: Uint8Array | string): Promise<void> {
  const temporary = temporaryOf(file, process.pid);
  await fs.writeFile(temporary, bytes);
  await fs.rename(temporary, file);
}

/** Keeps the newest one of another file beside the new one; older ones go. */
async function removeOlder(
  folder: string,
  pictures: readonly SmallPicture[],
  content: string,
): Promise<void> {
  const before = smallBefore(pictures, content);
  for (const picture of pictures)
    if (picture !== before && !content.startsWith(picture.content))
      for (const name of [picture.name, `${picture.name}.json`])
        await fs.rm(path.join(folder, name), { force: true });
}

async function keepOne(
  sequence: SequenceRow,
  file: FileRow & { readonly content: string },
  known: readonly SmallPicture[],
): Promise<void> {
  const bytes = await readRegular(path.join(sequencePlace(sequence), file.name));
  // Replaced since it was looked at: what is there now is looked at first.
  if (sha256(bytes) !== file.content) return;
  const pass = isPass(sequence.pass) ? sequence.pass : "beauty";
  const shown = await shownPixels(file.name, bytes, pass);
  const { width, height } = shown;
  const measures = { luminance: meanLuminance(shown), noise: noiseOf(shown) };
  const jpeg = await sharp(shown.data as Uint8Array, { raw: { width, height, channels: 3 } })
    .resize({ width: Math.min(width, SMALL_WIDTH) })
    .jpeg({ quality: QUALITY })
    .toBuffer();
  const folder = smallFolderOf(sequence);
  await fs.mkdir(folder, { recursive: true });
  const place = path.join(folder, smallName(file.frame, file.content));
  await put(`${place}.json`, JSON.stringify({ file: file.name, bytes: file.bytes, ...measures }));
  await put(place, jpeg);
  await removeOlder(folder, known, file.content);
  await transact(async (tx) => {
    const now = await lockFile(tx, sequence.id, file.frame);
    if (now?.content === file.content) await saveMeasures(tx, sequence.id, file.frame, measures);
  });
}

/**
 * Makes small pictures of good files that have none, a few at a time: each is decoded whole.
 * @returns how many are left
 */
export async function keepSmallPictures(sequence: SequenceRow, most: number): Promise<number> {
  if (sequence.source === null) return 0;
  const wanted = (await unmeasuredFiles(pool(), sequence.id)).filter((file) => !unshowable.has(file.content));
  if (wanted.length === 0) return 0;
  const known = await smallPictures(sequence);
  const some = wanted.slice(0, most);
  for (const file of some)
    try {
      await keepOne(sequence, file, known.get(file.frame) ?? []);
    } catch (error) {
      // A kind that cannot be shown, or a file that went away: neither keeps the others from theirs.
      if (error instanceof TallyError && error.code === "picture-unreadable") unshowable.add(file.content);
      else if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
    }
  await transact((tx) =>
    appendFrameEvent(
      tx,
      "files",
      { sequenceId: sequence.id, runId: null },
      some[0]!.frame,
      some.at(-1)!.frame,
    ),
  );
  return wanted.length - some.length;
}
