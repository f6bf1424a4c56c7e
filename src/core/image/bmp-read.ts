/**
 * Pixels of a BMP file that bmp-check has found whole: tables of colours, run lengths, bits by masks. Lines mostly stand
 * from the bottom up; here they come from the top down. What runs leave out is the table's first colour.
 */
import { viewOf } from "./bytes";
import type { IntegerImage } from "./pixels";

const FILE_HEADER = 14;
/** Kinds of compression. */
const RLE8 = 1,
  RLE4 = 2,
  MASKS = 3,
  ALPHA_MASKS = 6;

interface BmpHead {
  readonly width: number;
  readonly height: number;
  readonly isTopDown: boolean;
  readonly bits: number;
  readonly compression: number;
  /** Where the picture begins. */
  readonly from: number;
  /** Where the table of colours begins, and bytes of an entry. */
  readonly table: number;
  readonly entry: 3 | 4;
  /** Red, green, blue, alpha; 0: there is none. */
  readonly masks: readonly number[];
}

function readHead(bytes: Uint8Array): BmpHead {
  const view = viewOf(bytes);
  const size = view.getUint32(FILE_HEADER, true);
  const isFirst = size === 12;
  const tall = isFirst ? view.getUint16(20, true) : view.getInt32(22, true);
  const bits = view.getUint16(isFirst ? 24 : 28, true);
  const compression = isFirst || size < 20 ? 0 : view.getUint32(30, true);
  const isMasked = compression === MASKS || compression === ALPHA_MASKS;
  const usual = bits === 16 ? [0x7c00, 0x3e0, 0x1f, 0] : [0xff0000, 0xff00, 0xff, 0];
  const said = [54, 58, 62].map((at) => view.getUint32(at, true));
  const alpha = compression === ALPHA_MASKS || size >= 56 ? view.getUint32(66, true) : 0;
  return {
    width: isFirst ? view.getUint16(18, true) : view.getInt32(18, true),
    height: Math.abs(tall),
    isTopDown: tall < 0,
    bits,
    compression,
    from: view.getUint32(10, true),
    table: FILE_HEADER + size,
    entry: isFirst ? 3 : 4,
    masks: isMasked ? [...said, alpha] : usual,
  };
}

/** Value of some bits of a word, from 0 to 255. */
function maskedValue(word: number, mask: number): number {
  if (mask === 0) return 0;
  const shift = 31 - Math.clz32(mask & -mask);
  const top = mask >>> shift;
  return Math.round((((word & mask) >>> shift) / top) * 255);
}

/** Places in the table, of lines in the order of the file. */
function unpackRuns(bytes: Uint8Array, { width, height, from, compression }: BmpHead): Uint8Array {
  const out = new Uint8Array(width * height);
  const perByte = compression === RLE8 ? 1 : 2;
  let [x, y, at] = [0, 0, from];
  const put = (value: number): void => {
    if (x < width && y < height) out[y * width + x] = value;
    x++;
  };
  const part = (byte: number, i: number): number =>
    perByte === 1 ? byte : i % 2 === 0 ? byte >> 4 : byte & 15;
  while (at + 1 < bytes.length && y < height) {
    const [n, value] = [bytes[at]!, bytes[at + 1]!];
    at += 2;
    if (n > 0) for (let i = 0; i < n; i++) put(part(value, i));
    else if (value === 0) [x, y] = [0, y + 1];
    else if (value === 1) break;
    else if (value === 2) {
      [x, y] = [x + (bytes[at] ?? 0), y + (bytes[at + 1] ?? 0)];
      at += 2;
    } else {
      for (let i = 0; i < value; i++) put(part(bytes[at + Math.floor(i / perByte)] ?? 0, i));
      const size = Math.ceil(value / perByte);
      at += size + (size & 1);
    }
  }
  return out;
}

/** Places in the table of lines that lie as they are. */
function unpackPlaces(bytes: Uint8Array, { width, height, from, bits }: BmpHead): Uint8Array {
  const out = new Uint8Array(width * height);
  const line = Math.ceil((width * bits) / 32) * 4;
  const mask = (1 << bits) - 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const bit = x * bits;
      const byte = bytes[from + y * line + (bit >> 3)] ?? 0;
      out[y * width + x] = (byte >> (8 - bits - (bit & 7))) & mask;
    }
  return out;
}

/** @param bytes of a file that `checkBmp` calls good */
export function readBmp(bytes: Uint8Array): IntegerImage {
  const head = readHead(bytes);
  const { width, height, bits, compression, from } = head;
  const hasAlpha = bits > 8 && head.masks[3] !== 0;
  const channels = hasAlpha ? 4 : 3;
  const data = new Uint8Array(width * height * channels);
  const rowOf = (y: number): number => (head.isTopDown ? y : height - 1 - y) * width * channels;
  if (bits <= 8) {
    const places =
      compression === RLE8 || compression === RLE4 ? unpackRuns(bytes, head) : unpackPlaces(bytes, head);
    for (let y = 0; y < height; y++)
      for (let x = 0, to = rowOf(y); x < width; x++, to += 3) {
        const colour = head.table + places[y * width + x]! * head.entry;
        // Blue comes first.
        for (let c = 0; c < 3; c++) data[to + c] = colour + 2 < from ? bytes[colour + 2 - c]! : 0;
      }
    return { width, height, channels, depth: 8, data };
  }
  const size = bits / 8;
  const line = Math.ceil((width * bits) / 32) * 4;
  for (let y = 0; y < height; y++)
    for (let x = 0, to = rowOf(y), at = from + y * line; x < width; x++, to += channels, at += size) {
      let word = 0;
      for (let i = 0; i < size; i++) word |= (bytes[at + i] ?? 0) << (8 * i);
      for (let c = 0; c < channels; c++) data[to + c] = maskedValue(word, head.masks[c]!);
    }
  return { width, height, channels, depth: 8, data };
}
