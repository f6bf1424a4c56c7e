/**
 * Is a DPX file whole (SMPTE 268M)? Either byte order; the header, and every element of the picture inside the file
 * with at least the bytes that its pixels need.
 */
import { viewOf } from "./bytes";
import { cutShort, damaged, type FileVerdict, goodVerdict, type Shape, unsupported } from "./verdict";

/** Of the generic and the television header; files have 2,048 bytes of them. */
const HEADER = 1_664;
/** Where the elements stand, and how long each is. */
const ELEMENTS = 780,
  ELEMENT = 72;
/** Components of a pixel, by what an element holds. */
const COMPONENTS: Readonly<Record<number, number>> = {
  ...{ 0: 1, 1: 1, 2: 1, 3: 1, 4: 1, 6: 1, 7: 1, 8: 1, 9: 1 },
  ...{ 50: 3, 51: 4, 52: 4, 100: 2, 101: 3, 102: 3, 103: 4 },
  ...{ 150: 2, 151: 3, 152: 4, 153: 5, 154: 6, 155: 7, 156: 8 },
};
const DEPTHS: ReadonlySet<number> = new Set([1, 8, 10, 12, 16, 32, 64]);
/** Not said. */
const UNSAID = 0xffffffff;

/** Bytes of a line: filled words of 10 bits hold three components, other depths lie side by side at least. */
function lineBytes(components: number, bits: number, packing: number): number {
  if (bits === 10 && packing > 0) return Math.ceil(components / 3) * 4;
  if (bits === 12 && packing > 0) return components * 2;
  return Math.ceil((components * bits) / 8);
}

export const isDpx = (bytes: Uint8Array): boolean => {
  const magic = bytes.length < 4 ? "" : String.fromCharCode(...bytes.subarray(0, 4));
  return magic === "SDPX" || magic === "XPDS";
};

export function checkDpx(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("dpx", "empty", "the file is empty");
  if (!isDpx(bytes))
    return bytes.length < 4
      ? damaged("dpx", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("dpx", "not-an-image", "the file does not begin like a DPX");
  if (bytes.length < HEADER)
    return damaged("dpx", "truncated", `cut short after ${bytes.length} bytes, before the header ends`);
  const little = bytes[0] === 0x58;
  const view = viewOf(bytes);
  const elements = view.getUint16(770, little);
  const [width, height] = [view.getUint32(772, little), view.getUint32(776, little)];
  if (width < 1 || height < 1 || width > 1 << 24 || height > 1 << 24)
    return damaged("dpx", "corrupt", `the picture says it is ${width} x ${height}`);
  if (elements < 1 || elements > 8)
    return damaged("dpx", "corrupt", `it says that it has ${elements} elements`);
  let shape: Shape | null = null;
  let channels = 0;
  let share = 1;
  for (let i = 0; i < elements; i++) {
    const at = ELEMENTS + i * ELEMENT;
    const components = COMPONENTS[bytes[at + 20]!];
    const bits = bytes[at + 23]!;
    if (components === undefined || !DEPTHS.has(bits))
      return unsupported("dpx", `an element holds what is not known here (${bytes[at + 20]}, ${bits} bits)`);
    channels += components;
    shape ??= { width, height, channels, bitDepth: bits };
    const packing = view.getUint16(at + 24, little);
    const isPacked = view.getUint16(at + 26, little) === 1;
    const said = view.getUint32(at + 28, little);
    const from = said === 0 || said === UNSAID ? view.getUint32(4, little) : said;
    // Lines are mostly filled up to four bytes, and the file's size says so then.
    const least = lineBytes(width * components, bits, packing);
    const filled = Math.ceil(least / 4) * 4;
    const size = view.getUint32(16, little);
    const line = size !== UNSAID && size >= from + filled * height ? filled : least;
    // Of run lengths only the beginning can be told.
    const needed = isPacked ? 1 : line * height;
    const there = Math.max(0, bytes.length - from);
    if (there < needed) share = Math.min(share, isPacked ? 0 : Math.floor(there / line) / height);
  }
  const whole = { ...shape!, channels };
  return share < 1 ? cutShort("dpx", bytes.length, whole, share) : goodVerdict("dpx", whole);
}
