/** A picture file as it is seen: read, shown through its view, fitted where that was asked for, with its text on it. */
import sharp from "sharp";
import { burnIn, compose, type SeenPicture } from "@/core/handover/compose";
import type { PictureSize } from "@/core/handover/line-up";
import type { Colour, Reading } from "@/core/playback/shown-as";
import { isInteger, readPixels, type ReadPicture } from "../files/read-pixels";
import { readRegular } from "../files/read-regular";
import { lineHeightIn, setText } from "./burnt-text";

/** A file, and how its numbers are meant. */
export interface ShownFile {
  /** Absolute. */
  readonly file: string;
  readonly reading: Pick<Reading, "view" | "alpha" | "holdsInBytes">;
}

/** What shows through. */
export type BehindTask =
  | { readonly kind: "colour"; readonly colour: Colour }
  | { readonly kind: "kept" }
  | ({ readonly kind: "file" } & ShownFile);

export interface SeenTask extends ShownFile {
  readonly stops: number;
  readonly behind: BehindTask;
  readonly depth: 8 | 16;
  /** That it must have. */
  readonly size: PictureSize;
  /** Brought to it with its proportions, on black; else another size is told. */
  readonly isFitted: boolean;
  /** Written at its lower edge: on the left, and on the right; null: nothing. */
  readonly burnt: { readonly left: string; readonly right: string } | null;
}

/** Another size than that of the others. */
export class OtherSize extends Error {
  readonly is: PictureSize;
  constructor(is: PictureSize) {
    super("another picture size");
    this.is = is;
  }
}

const BLACK: Colour = [0, 0, 0];

/** Integers of eight bits are display values already, unless somebody has said otherwise of files of others. */
const viewOf = (picture: ReadPicture, { view, holdsInBytes }: ShownFile["reading"]) =>
  isInteger(picture) && !holdsInBytes ? "plain" : view;

/** Brings a picture to a size with its proportions; what is left is black, or nothing where alpha is kept. */
async function fitted(
  picture: SeenPicture,
  size: PictureSize,
  how: "contain" | "cover",
): Promise<SeenPicture> {
  if (picture.width === size.width && picture.height === size.height) return picture;
  const { width, height, channels, depth } = picture;
  const background = channels === 4 ? { r: 0, g: 0, b: 0, alpha: 0 } : { r: 0, g: 0, b: 0 };
  const pipeline = sharp(picture.data, { raw: { width, height, channels } })
    .resize({ ...size, fit: how, background, kernel: "lanczos3" })
    .toColourspace(depth === 16 ? "rgb16" : "srgb")
    .raw({ depth: depth === 16 ? "ushort" : "uchar" });
  const { data, info } = await pipeline.toBuffer({ resolveWithObject: true });
  const bytes = data.buffer.slice(data.byteOffset, data.byteOffset + data.length) as ArrayBuffer;
  const made = { ...size, channels: info.channels as 3 | 4 };
  return depth === 16
    ? { ...made, depth: 16, data: new Uint16Array(bytes) }
    : { ...made, depth: 8, data: new Uint8Array(bytes) };
}

/** The last picture behind: mostly the same for every frame. */
let lastBehind: { readonly key: string; readonly picture: SeenPicture } | null = null;

async function behindOf(task: SeenTask, size: PictureSize): Promise<Colour | SeenPicture | null> {
  const { behind } = task;
  if (behind.kind === "kept") return null;
  if (behind.kind === "colour") return behind.colour;
  const key = JSON.stringify([behind.file, size, task.depth]);
  if (lastBehind?.key === key) return lastBehind.picture;
  const picture = await readPixels(behind.file, await readRegular(behind.file));
  const shown = compose(picture, {
    view: viewOf(picture, behind.reading),
    alpha: behind.reading.alpha,
    stops: 0,
    behind: BLACK,
    depth: task.depth,
  });
  lastBehind = { key, picture: await fitted(shown, size, "cover") };
  return lastBehind.picture;
}

/** Writes into the lower corners, in place. */
export async function burnCorners(
  picture: SeenPicture,
  { left, right }: { readonly left: string; readonly right: string },
): Promise<void> {
  const line = lineHeightIn(picture.height);
  const widest = Math.max(1, Math.floor(picture.width / (left !== "" && right !== "" ? 2 : 1)));
  for (const [text, isRight] of [
    [left, false],
    [right, true],
  ] as const) {
    if (text === "") continue;
    const { width, height, coverage } = await setText(text, line, widest);
    burnIn(picture, coverage, {
      left: isRight ? picture.width - width : 0,
      top: picture.height - height,
      width,
      height,
    });
  }
}

/**
 * @throws PictureUnreadable, OtherSize; ENOENT where the file is gone
 */
export async function seenPicture(task: SeenTask): Promise<SeenPicture> {
  const picture = await readPixels(task.file, await readRegular(task.file));
  const is = { width: picture.width, height: picture.height };
  if (!task.isFitted && (is.width !== task.size.width || is.height !== task.size.height))
    throw new OtherSize(is);
  const composed = compose(picture, {
    view: viewOf(picture, task.reading),
    alpha: task.reading.alpha,
    stops: task.stops,
    behind: await behindOf(task, is),
    depth: task.depth,
  });
  const seen = await fitted(composed, task.size, "contain");
  if (task.burnt !== null) await burnCorners(seen, task.burnt);
  return seen;
}
