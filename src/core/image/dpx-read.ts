/**
 * Pixels of the first element of a DPX file that dpx-check has found whole (SMPTE 268M): grey, colour, or colour with
 * alpha; 8, 10, 12 or 16 bits; words of 10 bits filled at either end. Null for what is beyond that.
 */
import { viewOf } from "./bytes";
import { type Channels, type FloatImage, MAX_SIDE } from "./pixels";

/** The first element. */
const ELEMENT = 780;
const UNSAID = 0xffffffff;
/** What an element holds, to channels in the order R G B A; ABGR is turned round. */
const CHANNELS: Readonly<Record<number, Channels>> = { 6: 1, 50: 3, 51: 4, 52: 4 };
const ABGR = 52;

/** Reads the n-th component of a line. */
type ComponentReader = (line: number, n: number) => number;

function componentReader(
  bytes: Uint8Array,
  bits: number,
  packing: number,
  little: boolean,
): { readonly read: ComponentReader; readonly lineBytes: (components: number) => number } | null {
  const view = viewOf(bytes);
  if (bits === 8) return { read: (line, n) => bytes[line + n]! / 255, lineBytes: (count) => count };
  if (bits === 16)
    return {
      read: (line, n) => view.getUint16(line + n * 2, little) / 65_535,
      lineBytes: (count) => count * 2,
    };
  if (bits === 12 && packing > 0)
    return {
      // Filled at the low end, or at the high one.
      read: (line, n) => ((view.getUint16(line + n * 2, little) >> (packing === 1 ? 4 : 0)) & 4_095) / 4_095,
      lineBytes: (count) => count * 2,
    };
  if (bits === 10 && packing > 0)
    return {
      // Three of a word of 32 bits; two bits are left, at the low end or at the high one.
      read: (line, n) => {
        const word = view.getUint32(line + Math.floor(n / 3) * 4, little);
        return ((word >>> ((packing === 1 ? 2 : 0) + 10 * (2 - (n % 3)))) & 1_023) / 1_023;
      },
      lineBytes: (count) => Math.ceil(count / 3) * 4,
    };
  return null;
}

/** @param bytes of a file that `checkDpx` calls good */
export function readDpx(bytes: Uint8Array): FloatImage | null {
  const little = bytes[0] === 0x58;
  const view = viewOf(bytes);
  const [width, height] = [view.getUint32(772, little), view.getUint32(776, little)];
  const [holds, bits] = [bytes[ELEMENT + 20]!, bytes[ELEMENT + 23]!];
  const channels = CHANNELS[holds];
  const reader = componentReader(bytes, bits, view.getUint16(ELEMENT + 24, little), little);
  const isRunLengths = view.getUint16(ELEMENT + 26, little) === 1;
  if (channels === undefined || reader === null || isRunLengths) return null;
  if (width > MAX_SIDE || height > MAX_SIDE) return null;
  const said = view.getUint32(ELEMENT + 28, little);
  const from = said === 0 || said === UNSAID ? view.getUint32(4, little) : said;
  const least = reader.lineBytes(width * channels);
  const filled = Math.ceil(least / 4) * 4;
  const size = view.getUint32(16, little);
  const line = size !== UNSAID && size >= from + filled * height ? filled : least;
  if (from + line * (height - 1) + least > bytes.length) return null;
  const data = new Float32Array(width * height * channels);
  for (let y = 0, to = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++)
        data[to++] = reader.read(from + y * line, x * channels + (holds === ABGR ? 3 - c : c));
  return { width, height, channels, data };
}
