/**
 * Is a BMP file whole? Every header that was in use, from OS/2's of 12 bytes to version 5; plain lines, run lengths
 * of 8 and 4 bits, masks of bits.
 *
 *     "BM" · size of the file (4) · 0 (4) · offset of the picture (4) · header, whose size comes first
 */
import { viewOf } from "./bytes";
import {
  cutShort,
  damaged,
  type FileVerdict,
  goodVerdict,
  type Shape,
  trailing,
  unsupported,
} from "./verdict";

/** Of the file's own header. */
const FILE_HEADER = 14;
/** Sizes of picture headers. 16 to 64: OS/2's second one may be cut anywhere. */
const HEADERS: ReadonlySet<number> = new Set([12, 40, 52, 56, 108, 124]);
const isHeader = (size: number): boolean => HEADERS.has(size) || (size >= 16 && size <= 64);
const DEPTHS: ReadonlySet<number> = new Set([1, 2, 4, 8, 16, 24, 32]);
/** Kinds of compression. */
const PLAIN = 0,
  RLE8 = 1,
  RLE4 = 2,
  MASKS = 3,
  ALPHA_MASKS = 6;

export const isBmp = (bytes: Uint8Array): boolean =>
  bytes.length >= 18 && bytes[0] === 0x42 && bytes[1] === 0x4d && isHeader(viewOf(bytes).getUint32(14, true));

/** Lines that run lengths give before they end, and where they end; more than `height` where they go astray. */
function runLines(
  bytes: Uint8Array,
  from: number,
  { width, height }: Shape,
  perByte: 1 | 2,
): { lines: number; end: number } {
  let lines = 0;
  let x = 0;
  let at = from;
  while (at + 1 < bytes.length) {
    const [n, value] = [bytes[at]!, bytes[at + 1]!];
    at += 2;
    if (n > 0) x += n;
    else if (value === 0) {
      lines++;
      x = 0;
    } else if (value === 1) return { lines: Math.max(lines, height), end: at };
    else if (value === 2) {
      if (at + 1 >= bytes.length) break;
      lines += bytes[at + 1]!;
      at += 2;
    } else {
      const size = perByte === 1 ? value : (value + 1) >> 1;
      at += size + (size & 1);
      if (at > bytes.length) break;
      x += value;
    }
  }
  // The mark at the end of the picture may be missing where its last line is there.
  return { lines: lines === height - 1 && x >= width ? height : lines, end: Math.min(at, bytes.length) };
}

export function checkBmp(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("bmp", "empty", "the file is empty");
  if (bytes[0] !== 0x42 || (bytes.length > 1 && bytes[1] !== 0x4d))
    return damaged("bmp", "not-an-image", "the file does not begin like a BMP");
  if (bytes.length < FILE_HEADER + 12)
    return damaged("bmp", "truncated", `only ${bytes.length} bytes are there`);
  const view = viewOf(bytes);
  const size = view.getUint32(14, true);
  if (!isHeader(size)) return damaged("bmp", "corrupt", `a header of ${size} bytes does not exist`);
  if (FILE_HEADER + size > bytes.length)
    return damaged("bmp", "truncated", `cut short after ${bytes.length} bytes, before the header ends`);
  const isFirst = size === 12;
  const width = isFirst ? view.getUint16(18, true) : view.getInt32(18, true);
  const tall = isFirst ? view.getUint16(20, true) : view.getInt32(22, true);
  const bits = view.getUint16(isFirst ? 24 : 28, true);
  const compression = isFirst || size < 20 ? PLAIN : view.getUint32(30, true);
  // Below nought: from the top down.
  const height = Math.abs(tall);
  if (width < 1 || height < 1) return damaged("bmp", "corrupt", `the picture says it is ${width} x ${tall}`);
  if (compression === 4 || compression === 5)
    return unsupported("bmp", `it holds a ${compression === 4 ? "JPEG" : "PNG"} for a printer`);
  if (!DEPTHS.has(bits) || compression > ALPHA_MASKS || (compression === RLE8 && bits !== 8))
    return damaged("bmp", "corrupt", `${bits} bits do not go with compression ${compression}`);
  if (compression === RLE4 && bits !== 4)
    return damaged("bmp", "corrupt", `${bits} bits do not go with compression ${compression}`);
  const isMasked = compression === MASKS || compression === ALPHA_MASKS;
  const channels = bits === 32 && (compression === ALPHA_MASKS || size >= 56) ? 4 : 3;
  const shape: Shape = { width, height, channels, bitDepth: bits === 16 ? 5 : Math.min(8, bits) };
  const from = view.getUint32(10, true);
  if (from < FILE_HEADER + size || (isMasked && from < FILE_HEADER + 40))
    return damaged("bmp", "corrupt", "the picture begins inside its header", shape);
  if (from >= bytes.length) return cutShort("bmp", bytes.length, shape, 0);
  if (compression === RLE8 || compression === RLE4) {
    const { lines, end } = runLines(bytes, from, shape, compression === RLE8 ? 1 : 2);
    if (lines > height) return damaged("bmp", "corrupt", "its runs have more lines than the picture", shape);
    return lines < height
      ? cutShort("bmp", bytes.length, shape, lines / height)
      : goodVerdict("bmp", shape, trailing(bytes.length, end));
  }
  const line = Math.ceil((width * bits) / 32) * 4;
  // Lines are filled up to four bytes; what fills up the last one may be left out, and the file says so then.
  const isFilled = view.getUint32(2, true) >= from + line * height;
  const needed = isFilled ? line * height : line * (height - 1) + Math.ceil((width * bits) / 8);
  const there = bytes.length - from;
  return there < needed
    ? cutShort("bmp", bytes.length, shape, Math.min(1, Math.floor(there / line) / height))
    : goodVerdict("bmp", shape, trailing(bytes.length, from + line * height));
}
