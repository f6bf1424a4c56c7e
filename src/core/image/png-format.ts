/**
 * The frame of a PNG file (W3C PNG, second edition): signature, then chunks of
 *
 *     offset 0  length of the data (4, big-endian)
 *            4  type (4 letters)
 *            8  data (length)
 *     8+length  CRC-32 over type and data (4)
 *
 * CRC and deflate come from outside: the core has no Node API, and Node's CRC is 4-5 times faster
 * than the best plain TypeScript.
 */
import { fromLatin1, viewOf } from "./bytes";

/** Made so that a transfer as text, or with its high bits cut, is seen at once. */
export const PNG_SIGNATURE = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a);

/** CRC-32 of the bytes, going on from an earlier value. */
export type Crc32 = (bytes: Uint8Array, value?: number) => number;

export interface PngHeader {
  /** Pixels. */
  readonly width: number;
  /** Pixels. */
  readonly height: number;
  readonly bitDepth: number;
  /** 0 grey, 2 colour, 3 palette, 4 grey with alpha, 6 colour with alpha. */
  readonly colourType: number;
  /** That follow from the colour type. */
  readonly channels: number;
  readonly interlaced: boolean;
}

export interface Chunk {
  /** Four letters. */
  readonly type: string;
  /** A view into the file, not a copy. */
  readonly data: Uint8Array;
}

/** Channels of each colour type. */
export const CHANNELS: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };

/** Whether the file begins as every PNG does. */
export const hasSignature = (bytes: Uint8Array): boolean =>
  PNG_SIGNATURE.every((byte, i) => bytes[i] === byte);

/** The four letters of a chunk's type. */
export const typeAt = (bytes: Uint8Array, offset: number): string =>
  String.fromCharCode(bytes[offset]!, bytes[offset + 1]!, bytes[offset + 2]!, bytes[offset + 3]!);

/** Chunks in order, without checks, until the data ends. For files that a check has found whole. */
export function* chunksOf(bytes: Uint8Array): Generator<Chunk> {
  const view = viewOf(bytes);
  let offset = PNG_SIGNATURE.length;
  while (offset + 12 <= bytes.length) {
    const length = view.getUint32(offset);
    if (offset + 12 + length > bytes.length) return;
    yield { type: typeAt(bytes, offset + 4), data: bytes.subarray(offset + 8, offset + 8 + length) };
    offset += 12 + length;
  }
}

/**
 * Predictor of PNG, chapter 9.4: whichever of left, above and upper left is nearest to their linear guess.
 */
export function paeth(a: number, b: number, c: number): number {
  const p = a + b - c;
  const pa = Math.abs(p - a);
  const pb = Math.abs(p - b);
  const pc = Math.abs(p - c);
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c;
}

/** A chunk as it stands in a file. */
export function chunkBytes(type: string, data: Uint8Array, crc32: Crc32): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = viewOf(out);
  view.setUint32(0, data.length);
  for (let i = 0; i < 4; i++) out[4 + i] = type.charCodeAt(i);
  out.set(data, 8);
  view.setUint32(8 + data.length, crc32(out.subarray(4, 8 + data.length)));
  return out;
}

/** Reads IHDR's 13 bytes; meaning is judged by the check. */
export function readHeader(data: Uint8Array): PngHeader {
  const view = viewOf(data);
  const colourType = view.getUint8(9);
  return {
    width: view.getUint32(0),
    height: view.getUint32(4),
    bitDepth: view.getUint8(8),
    colourType,
    channels: CHANNELS[colourType] ?? 0,
    interlaced: view.getUint8(12) === 1,
  };
}

/** Text chunks (tEXt, Latin-1) by keyword. Only chunks before the picture data are read. */
export function readTexts(bytes: Uint8Array): Map<string, string> {
  const texts = new Map<string, string>();
  if (!hasSignature(bytes)) return texts;
  for (const { type, data } of chunksOf(bytes)) {
    if (type === "IDAT") break;
    const zero = data.indexOf(0);
    if (type === "tEXt" && zero > 0) {
      texts.set(fromLatin1(data.subarray(0, zero)), fromLatin1(data.subarray(zero + 1)));
    }
  }
  return texts;
}
