/**
 * Writes PNG: grey or colour, with alpha or without, 8 or 16 bits. Row filters are chosen by the
 * least sum of absolute differences (the rule that the PNG specification recommends, chapter 12.8),
 * over None, Sub, Up and Paeth.
 */
import { joinBytes, latin1, viewOf } from "./bytes";
import type { IntegerImage } from "./pixels";
import { chunkBytes, type Crc32, paeth, PNG_SIGNATURE } from "./png-format";

export interface PngWriteTools {
  readonly crc32: Crc32;
  /** zlib stream of the bytes; level 0 (none) to 9 (slowest, smallest). */
  readonly deflate: (bytes: Uint8Array, level: number) => Uint8Array;
}

export interface PngSettings {
  /** Of compression, 0 to 9. */
  readonly level: number;
  /** Values are colours for a display: the file says so (sRGB chunk). Depths and normals are not. */
  readonly isColour: boolean;
}

/** Text keywords and values, Latin-1. */
export type PngTexts = Readonly<Record<string, string>>;

/** PNG's colour type of each number of channels. */
const COLOUR_TYPE = { 1: 0, 2: 4, 3: 2, 4: 6 } as const;

/** Number of the filter, and what it foretells from left, above and upper left. */
const PREDICTORS: readonly (readonly [number, (a: number, b: number, c: number) => number])[] = [
  [0, () => 0],
  [1, (a) => a],
  [2, (_a, b) => b],
  [4, paeth],
];

/** Samples as bytes, 16 bits big-endian. */
function sampleBytes(image: IntegerImage): Uint8Array {
  if (image.depth === 8) return image.data;
  const out = new Uint8Array(image.data.length * 2);
  for (let i = 0; i < image.data.length; i++) {
    out[i * 2] = image.data[i]! >>> 8;
    out[i * 2 + 1] = image.data[i]! & 255;
  }
  return out;
}

/** Rows with their filter byte, ready to be deflated. */
function filterRows(image: IntegerImage): Uint8Array {
  const { width, height } = image;
  const data = sampleBytes(image);
  const pixel = (image.channels * image.depth) / 8;
  const stride = width * pixel;
  const out = new Uint8Array(height * (stride + 1));
  const row = new Uint8Array(stride);
  for (let y = 0; y < height; y++) {
    const at = y * stride;
    let best = Infinity;
    for (const [filter, predict] of PREDICTORS) {
      let cost = 0;
      for (let x = 0; x < stride; x++) {
        const a = x >= pixel ? data[at + x - pixel]! : 0;
        const b = y > 0 ? data[at + x - stride]! : 0;
        const c = x >= pixel && y > 0 ? data[at + x - stride - pixel]! : 0;
        const value = (data[at + x]! - predict(a, b, c)) & 255;
        row[x] = value;
        cost += value < 128 ? value : 256 - value;
      }
      if (cost < best) {
        best = cost;
        out[y * (stride + 1)] = filter;
        out.set(row, y * (stride + 1) + 1);
      }
    }
  }
  return out;
}

/** Texts as chunks, to stand before the picture data. */
export const textChunks = (texts: PngTexts, crc32: Crc32): Uint8Array[] =>
  Object.entries(texts).map(([key, value]) => chunkBytes("tEXt", latin1(`${key}\0${value}`), crc32));

/**
 * Writes grey or colour, with alpha or without, 8 or 16 bits a channel. Texts become tEXt chunks before the
 * picture, so that a reader has them without inflating.
 */
export function writePng(
  image: IntegerImage,
  texts: PngTexts,
  tools: PngWriteTools,
  settings: PngSettings = { level: 6, isColour: true },
): Uint8Array {
  const header = new Uint8Array(13);
  const view = viewOf(header);
  view.setUint32(0, image.width);
  view.setUint32(4, image.height);
  header[8] = image.depth;
  header[9] = COLOUR_TYPE[image.channels];
  return joinBytes([
    PNG_SIGNATURE,
    chunkBytes("IHDR", header, tools.crc32),
    ...(settings.isColour ? [chunkBytes("sRGB", Uint8Array.of(0), tools.crc32)] : []),
    ...textChunks(texts, tools.crc32),
    chunkBytes("IDAT", tools.deflate(filterRows(image), settings.level), tools.crc32),
    chunkBytes("IEND", new Uint8Array(0), tools.crc32),
  ]);
}
