/**
 * Is a TGA file whole? 18 bytes of header, a name, a table of colours, then the pixels, plain or in packets of run
 * lengths; a newer file ends with a mark of its own. Nothing at its beginning tells that it is one: its name does.
 */
import { viewOf } from "./bytes";
import { cutShort, damaged, type FileVerdict, goodVerdict, type Shape } from "./verdict";

const HEADER = 18;
/** Kinds of pictures: with a table, colour, grey; 8 more with run lengths. */
const KINDS: ReadonlySet<number> = new Set([1, 2, 3, 9, 10, 11]);
const DEPTHS: ReadonlySet<number> = new Set([8, 15, 16, 24, 32]);

/** Pixels that the packets give before they end, and where they end. */
function runPixels(
  bytes: Uint8Array,
  from: number,
  pixel: number,
  most: number,
): { pixels: number; end: number } {
  let pixels = 0;
  let at = from;
  while (pixels < most && at < bytes.length) {
    const n = (bytes[at]! & 127) + 1;
    const size = bytes[at]! > 127 ? pixel : n * pixel;
    if (at + 1 + size > bytes.length) break;
    pixels += n;
    at += 1 + size;
  }
  return { pixels: Math.min(pixels, most), end: at };
}

export function checkTga(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("tga", "empty", "the file is empty");
  if (bytes.length < HEADER) return damaged("tga", "truncated", `only ${bytes.length} bytes are there`);
  const view = viewOf(bytes);
  const [nameLength, hasTable, kind] = [bytes[0]!, bytes[1]!, bytes[2]!];
  const [width, height, bits] = [view.getUint16(12, true), view.getUint16(14, true), bytes[16]!];
  if (!KINDS.has(kind) || hasTable > 1 || !DEPTHS.has(bits) || width < 1 || height < 1)
    return damaged("tga", "not-an-image", "the file does not begin like a TGA");
  const tableBits = bytes[7]!;
  const table = hasTable === 1 ? view.getUint16(5, true) * Math.ceil(tableBits / 8) : 0;
  const isGrey = kind === 3 || kind === 11;
  const ofColour = kind === 1 || kind === 9 ? tableBits : bits;
  const shape: Shape = {
    ...{ width, height },
    channels: isGrey ? (bits === 16 ? 2 : 1) : ofColour === 32 ? 4 : 3,
    bitDepth: ofColour === 15 || (ofColour === 16 && !isGrey) ? 5 : 8,
  };
  const from = HEADER + nameLength + table;
  const pixel = Math.ceil(bits / 8);
  const pixels = width * height;
  const there =
    kind > 8
      ? runPixels(bytes, from, pixel, pixels).pixels
      : Math.min(pixels, Math.floor(Math.max(0, bytes.length - from) / pixel));
  return there < pixels
    ? cutShort("tga", bytes.length, shape, Math.floor(there / width) / height)
    : goodVerdict("tga", shape);
}
