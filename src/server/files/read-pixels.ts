/**
 * The pixels of a picture file of any kind that is known here, as numbers of the file: nothing is brought to a display.
 * Our own readers where they can; a codec, or a general graphics library, for the rest. What none of them reads is told
 * in words (`picture-unreadable`) and is no fault of the server. One picture at a time of the largest size is some
 * gigabytes: whoever reads many does so in worker threads, a few at a time.
 */
import path from "node:path";
import sharp from "sharp";
import { checkFile, formatWord, type ImageKind, kindOf } from "@/core/image/check-file";
import { readBmp } from "@/core/image/bmp-read";
import { readDpx } from "@/core/image/dpx-read";
import { readExr } from "@/core/image/exr";
import { readExrHeader } from "@/core/image/exr-header";
import { type Channels, type FloatImage, type IntegerImage, MAX_SIDE } from "@/core/image/pixels";
import { readPng } from "@/core/image/png-read";
import { tiffHoldsFloats } from "@/core/image/tiff-check";
import { TallyError } from "../errors";
import { imageTools } from "./image-tools";

/** Numbers of the file: display values or scene light as floats, or integers of 8 or 16 bits. */
export type ReadPicture = FloatImage | IntegerImage;

/** Whether it holds integers. */
export const isInteger = (picture: ReadPicture): picture is IntegerImage => "depth" in picture;

/** A file that cannot be shown, with the reason apart: between threads only plain data travels. */
export class PictureUnreadable extends TallyError {
  readonly why: string;
  constructor(file: string, why: string) {
    super("picture-unreadable", { file: path.basename(file), why });
    this.why = why;
  }
}

export const unreadable = (name: string, why: string): PictureUnreadable => new PictureUnreadable(name, why);

/** What a codec says no to is told as such: a damaged file is no fault of the server. */
export const toldUnreadable = <T>(name: string, unpacked: Promise<T>): Promise<T> =>
  unpacked.catch((error: Error) => {
    if (error instanceof PictureUnreadable) throw error;
    throw unreadable(name, `it does not unpack (${error.message.split("\n")[0]})`).because(error);
  });

/** Lines of a picture that has them from the bottom up, turned round. */
function fromTop(data: Float32Array, height: number): Float32Array {
  const line = data.length / height;
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++)
    out.set(data.subarray((height - 1 - y) * line, (height - y) * line), y * line);
  return out;
}

/** What the graphics library calls an image, its sides known. */
function sized(read: { readonly width?: number; readonly height?: number }): {
  readonly width: number;
  readonly height: number;
} {
  if (read.width === undefined || read.height === undefined) throw new Error("it has no size");
  return { width: read.width, height: read.height };
}

/** Keeps the first channels of each pixel. */
function firstChannels(data: Float32Array, from: number, to: Channels): Float32Array {
  if (from === to) return data;
  const out = new Float32Array((data.length / from) * to);
  for (let p = 0, at = 0; p < data.length; p += from) for (let c = 0; c < to; c++) out[at++] = data[p + c]!;
  return out;
}

const bufferOf = (bytes: Buffer): ArrayBuffer =>
  bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;

/** Compressions, tiles and parts beyond those of our own reader. The library is read when the first such file comes. */
async function exrByLibrary(bytes: Buffer): Promise<FloatImage> {
  const [part] = readExrHeader(bytes)?.parts ?? [];
  if (part?.isDeep === true) throw new Error("deep pictures are not shown");
  const [{ EXRLoader }, { FloatType, RedFormat, RGFormat }] = await Promise.all([
    import("three/examples/jsm/loaders/EXRLoader.js"),
    import("three"),
  ]);
  const read = new EXRLoader().setDataType(FloatType).parse(bufferOf(bytes));
  const { width, height } = sized(read);
  const there = read.format === RedFormat ? 1 : read.format === RGFormat ? 2 : 4;
  const names = new Set(part?.channels.map(({ name }) => name));
  const channels: Channels = there === 4 && !names.has("A") ? 3 : there;
  const data = fromTop(read.data as Float32Array, height);
  return { width, height, channels, data: firstChannels(data, there, channels) };
}

async function readOpenExr(bytes: Buffer): Promise<FloatImage> {
  const own = readExr(bytes, imageTools.inflate);
  if (own !== null) return own;
  return exrByLibrary(bytes);
}

async function readHdr(bytes: Buffer): Promise<FloatImage> {
  const [{ HDRLoader }, { FloatType }] = await Promise.all([
    import("three/examples/jsm/loaders/HDRLoader.js"),
    import("three"),
  ]);
  const read = new HDRLoader().setDataType(FloatType).parse(bufferOf(bytes));
  return { ...sized(read), channels: 3, data: firstChannels(read.data as Float32Array, 4, 3) };
}

async function readTga(bytes: Buffer, channels: Channels): Promise<IntegerImage> {
  const { TGALoader } = await import("three/examples/jsm/loaders/TGALoader.js");
  const read = new TGALoader().parse(bufferOf(bytes));
  const { width, height } = sized(read);
  const all = new Uint8Array(read.data as Uint8Array);
  if (channels === 4) return { width, height, channels: 4, depth: 8, data: all };
  const data = new Uint8Array(width * height * 3);
  for (let p = 0; p < width * height; p++) for (let c = 0; c < 3; c++) data[p * 3 + c] = all[p * 4 + c]!;
  return { width, height, channels: 3, depth: 8, data };
}

/** What sharp reads, with the numbers as they are. */
async function readByCodec(bytes: Buffer, depth: 8 | 16 | "float"): Promise<ReadPicture> {
  const opened = sharp(bytes, { limitInputPixels: MAX_SIDE * MAX_SIDE, pages: 1 });
  if (depth === "float") {
    // Scene light to the codec: the numbers are left alone.
    const isGrey = (await opened.metadata()).channels < 3;
    const { data, info } = await opened
      .toColourspace(isGrey ? "b-w" : "scrgb")
      .raw({ depth: "float" })
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    return {
      width,
      height,
      channels: info.channels as Channels,
      data: new Float32Array(bufferOf(data)),
    };
  }
  const isGrey = (await opened.metadata()).space?.includes("b-w") === true;
  const space = depth === 16 ? (isGrey ? "grey16" : "rgb16") : isGrey ? "b-w" : "srgb";
  const { data, info } = await opened
    .toColourspace(space)
    .raw({ depth: depth === 16 ? "ushort" : "uchar" })
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  const channels = info.channels as Channels;
  return depth === 16
    ? { width, height, channels, depth: 16, data: new Uint16Array(bufferOf(data)) }
    : { width, height, channels, depth: 8, data: new Uint8Array(data) };
}

async function readAs(
  kind: ImageKind,
  bytes: Buffer,
  bitDepth: number,
  channels: Channels,
): Promise<ReadPicture> {
  switch (kind) {
    case "exr":
      return readOpenExr(bytes);
    case "hdr":
      return readHdr(bytes);
    case "tga":
      return readTga(bytes, channels);
    case "bmp":
      return readBmp(bytes);
    case "dpx": {
      const read = readDpx(bytes);
      if (read === null) throw new Error("its kind of DPX is checked, and not shown");
      return read;
    }
    case "tiff":
      return readByCodec(bytes, tiffHoldsFloats(bytes) ? "float" : bitDepth > 8 ? 16 : 8);
    case "png":
      return readPng(bytes, imageTools.inflate) ?? readByCodec(bytes, bitDepth > 8 ? 16 : 8);
    case "jpeg":
    case "webp":
      return readByCodec(bytes, 8);
  }
}

/**
 * @param name of the file: what it is judged as
 * @throws TallyError `picture-unreadable`, with what is wrong with the file
 */
export async function readPixels(name: string, bytes: Buffer): Promise<ReadPicture> {
  const verdict = checkFile(path.basename(name), bytes, imageTools);
  const kind = kindOf(name, bytes);
  if (verdict.verdict !== "good" || kind === null)
    throw unreadable(name, verdict.detail ?? "pictures of this kind are not known here");
  const { width, height } = verdict;
  if (width === null || height === null || width > MAX_SIDE || height > MAX_SIDE)
    throw unreadable(name, `${formatWord(kind)} pictures larger than ${MAX_SIDE} pixels are not shown`);
  return toldUnreadable(
    name,
    readAs(kind, bytes, verdict.bitDepth ?? 8, (verdict.channels ?? 3) as Channels),
  );
}
