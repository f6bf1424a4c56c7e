/**
 * Writes 8-bit RGB PNG. Row filters are chosen by the least sum of absolute differences (the rule
 * that the PNG specification recommends, chapter 12.8), over None, Sub, Up and Paeth.
 */
import { type Crc32, PNG_SIGNATURE, viewOf } from "./png-format";

export interface PngWriteTools {
  readonly crc32: Crc32;
  readonly deflate: (bytes: Uint8Array) => Uint8Array;
}

export interface Rgb8Image {
  readonly width: number;
  readonly height: number;
  /** width x height x 3, row by row. */
  readonly data: Uint8Array;
}

/** Text keywords and values, Latin-1. */
export type PngTexts = Readonly<Record<string, string>>;

const CHANNELS = 3;

function paeth(a: number, b: number, c: number): number {
  const p = a + b - c;
  const pa = Math.abs(p - a);
  const pb = Math.abs(p - b);
  const pc = Math.abs(p - c);
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c;
}

const PREDICTORS: readonly (readonly [number, (a: number, b: number, c: number) => number])[] = [
  [0, () => 0],
  [1, (a) => a],
  [2, (_a, b) => b],
  [4, paeth],
];

/** Rows with their filter byte, ready to be deflated. */
function filterRows({ width, height, data }: Rgb8Image): Uint8Array {
  const stride = width * CHANNELS;
  const out = new Uint8Array(height * (stride + 1));
  const row = new Uint8Array(stride);
  for (let y = 0; y < height; y++) {
    const at = y * stride;
    let best = Infinity;
    for (const [filter, predict] of PREDICTORS) {
      let cost = 0;
      for (let x = 0; x < stride; x++) {
        const a = x >= CHANNELS ? data[at + x - CHANNELS]! : 0;
        const b = y > 0 ? data[at + x - stride]! : 0;
        const c = x >= CHANNELS && y > 0 ? data[at + x - stride - CHANNELS]! : 0;
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

function chunk(type: string, data: Uint8Array, crc32: Crc32): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = viewOf(out);
  view.setUint32(0, data.length);
  for (let i = 0; i < 4; i++) out[4 + i] = type.charCodeAt(i);
  out.set(data, 8);
  view.setUint32(8 + data.length, crc32(out.subarray(4, 8 + data.length)));
  return out;
}

const latin1 = (text: string): Uint8Array => Uint8Array.from(text, (c) => (c.charCodeAt(0) < 256 ? c.charCodeAt(0) : 63));

export function writePng(image: Rgb8Image, texts: PngTexts, tools: PngWriteTools): Uint8Array {
  const header = new Uint8Array(13);
  const view = viewOf(header);
  view.setUint32(0, image.width);
  view.setUint32(4, image.height);
  header[8] = 8;
  header[9] = 2;
  const parts = [
    PNG_SIGNATURE,
    chunk("IHDR", header, tools.crc32),
    chunk("sRGB", Uint8Array.of(0), tools.crc32),
    ...Object.entries(texts).map(([key, value]) => chunk("tEXt", latin1(`${key}\0${value}`), tools.crc32)),
    chunk("IDAT", tools.deflate(filterRows(image)), tools.crc32),
    chunk("IEND", new Uint8Array(0), tools.crc32),
  ];
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
