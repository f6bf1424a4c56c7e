/**
 * Pixels of a PNG of the kinds that renders have: grey or colour, with alpha or without, 8 or 16 bits, in rows from the
 * top. The deep check unpacks these files anyway; what is left is to take the filters of the rows back (W3C PNG, 9).
 */
import { joinBytes } from "./bytes";
import type { Inflate } from "./inflate";
import type { Channels, IntegerImage } from "./pixels";
import { filteredLength } from "./png-check";
import { chunksOf, paeth, readHeader } from "./png-format";

/** Chunks that say how numbers are to be taken: a codec knows what to do with them. */
const MEANT_OTHERWISE = new Set(["tRNS", "iCCP"]);

/**
 * Takes the filter of a row back, in its place. @param row without its filter byte
 * @param above as it is shown; null: the first row @param step bytes of a pixel @returns whether there is such a filter
 */
function unfilter(filter: number, row: Uint8Array, above: Uint8Array | null, step: number): boolean {
  const { length } = row;
  switch (filter) {
    case 0:
      return true;
    case 1:
      for (let i = step; i < length; i++) row[i] = row[i]! + row[i - step]!;
      return true;
    case 2:
      if (above !== null) for (let i = 0; i < length; i++) row[i] = row[i]! + above[i]!;
      return true;
    case 3:
      for (let i = 0; i < length; i++) {
        const left = i < step ? 0 : row[i - step]!;
        row[i] = row[i]! + ((left + (above === null ? 0 : above[i]!)) >> 1);
      }
      return true;
    case 4:
      for (let i = 0; i < length; i++) {
        const left = i < step ? 0 : row[i - step]!;
        const up = above === null ? 0 : above[i]!;
        row[i] = row[i]! + paeth(left, up, i < step || above === null ? 0 : above[i - step]!);
      }
      return true;
    default:
      return false;
  }
}

/**
 * Of a file whose structure was found whole. Where it gives a picture, every pixel of it was unpacked.
 * @returns null: of another kind, or it does not unpack
 */
export function readPng(bytes: Uint8Array, inflate: Inflate): IntegerImage | null {
  const parts: Uint8Array[] = [];
  let header = null;
  for (const { type, data } of chunksOf(bytes)) {
    if (type === "IHDR") header = readHeader(data);
    else if (MEANT_OTHERWISE.has(type)) return null;
    else if (type === "IDAT") parts.push(data);
  }
  if (header === null || header.interlaced || header.colourType === 3) return null;
  const { width, height, bitDepth, channels } = header;
  if (bitDepth !== 8 && bitDepth !== 16) return null;
  const length = filteredLength(header);
  const filtered = inflate(joinBytes(parts), length);
  if (filtered?.length !== length) return null;
  const step = (channels * bitDepth) / 8;
  const rowBytes = width * step;
  let above: Uint8Array | null = null;
  for (let y = 0; y < height; y++) {
    const from = y * (rowBytes + 1);
    const filter = filtered[from]!;
    // Rows move up over their filters: a second room of the picture's size would cost as much as half of the unpacking.
    filtered.copyWithin(y * rowBytes, from + 1, from + 1 + rowBytes);
    const row = filtered.subarray(y * rowBytes, (y + 1) * rowBytes);
    if (!unfilter(filter, row, above, step)) return null;
    above = row;
  }
  const data = filtered.subarray(0, rowBytes * height);
  const shape = { width, height, channels: channels as Channels };
  if (bitDepth === 8) return { ...shape, depth: 8, data };
  const words = new Uint16Array(data.length / 2);
  for (let i = 0; i < words.length; i++) words[i] = (data[i * 2]! << 8) | data[i * 2 + 1]!;
  return { ...shape, depth: 16, data: words };
}
