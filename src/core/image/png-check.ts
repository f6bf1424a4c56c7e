/**
 * Is a PNG file whole? Signature, chunk order and lengths, sane IHDR values, required chunks, the
 * CRC of every chunk, IEND. The picture itself is inflated only for a damaged
 * file, to say how much of it is there, or when asked for a deep check.
 */
import type { FileVerdict } from "./verdict";
import { damaged, goodVerdict, percent, trailing } from "./verdict";
import { joinBytes, viewOf } from "./bytes";
import type { Inflate } from "./inflate";
import {
  CHANNELS,
  type Crc32,
  hasSignature,
  type PngHeader,
  PNG_SIGNATURE,
  readHeader,
  typeAt,
} from "./png-format";

export interface PngTools {
  /** Over type and data of a chunk. */
  readonly crc32: Crc32;
  readonly inflate: Inflate;
  /** Number of bytes that the zlib stream gives before it ends or breaks. */
  readonly inflatedLength: (parts: readonly Uint8Array[], most: number) => number;
}

/** Bit depths that the standard allows, by colour type. */
const DEPTHS: Readonly<Record<number, readonly number[]>> = {
  0: [1, 2, 4, 8, 16],
  2: [8, 16],
  3: [1, 2, 4, 8],
  4: [8, 16],
  6: [8, 16],
};
/** Chunks without which there is no picture: an unknown one of that class cannot be skipped. */
const CRITICAL = new Set(["IHDR", "PLTE", "IDAT", "IEND"]);
/** As the standard has it; what a plan allows is far less. */
const LARGEST_SIDE = 0x7fffffff;

/** Why the IHDR is not sane, or null. */
function headerFault(header: PngHeader, data: Uint8Array): string | null {
  if (header.width < 1 || header.height < 1 || header.width > LARGEST_SIDE || header.height > LARGEST_SIDE)
    return `the picture says it is ${header.width} x ${header.height}`;
  if (!(header.colourType in CHANNELS)) return `colour type ${header.colourType} does not exist`;
  if (!DEPTHS[header.colourType]!.includes(header.bitDepth))
    return `${header.bitDepth} bits do not go with colour type ${header.colourType}`;
  if (data[10] !== 0 || data[11] !== 0 || data[12]! > 1)
    return "the compression, filter or interlace method is unknown";
  return null;
}

/** Start and distance of each of the seven passes of Adam7, across and down. */
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

/** How many rows of how many bytes there are (in each pass), a filter byte before the packed samples of each. */
function filteredRows(header: PngHeader): readonly { readonly rows: number; readonly bytes: number }[] {
  const bits = header.channels * header.bitDepth;
  const size = (w: number, h: number): { readonly rows: number; readonly bytes: number } =>
    w === 0 || h === 0 ? { rows: 0, bytes: 0 } : { rows: h, bytes: 1 + Math.ceil((w * bits) / 8) };
  if (!header.interlaced) return [size(header.width, header.height)];
  return PASSES.map(([x, y, dx, dy]) =>
    size(Math.ceil((header.width - x) / dx), Math.ceil((header.height - y) / dy)),
  );
}

/** Bytes of the filtered picture. */
export const filteredLength = (header: PngHeader): number =>
  filteredRows(header).reduce((sum, { rows, bytes }) => sum + rows * bytes, 0);

/** Ways in which rows may be filtered. */
const FILTERS = 5;

/** Why the unpacked picture is none, or null. */
function filteredFault(header: PngHeader, filtered: Uint8Array | null): string | null {
  if (filtered?.length !== filteredLength(header))
    return "the picture data does not unpack to a whole picture";
  let at = 0;
  for (const { rows, bytes } of filteredRows(header))
    for (let row = 0; row < rows; row++, at += bytes)
      if (filtered[at]! >= FILTERS) return `row ${row} is filtered by ${filtered[at]!}, which does not exist`;
  return null;
}

/**
 * Judges a PNG by its bytes. @param deep also inflates the picture, counts it and looks at the filters of its rows
 */
export function checkPng(bytes: Uint8Array, tools: PngTools, deep = false): FileVerdict {
  if (bytes.length === 0) return damaged("png", "empty", "the file is empty");
  if (!hasSignature(bytes)) {
    const cut =
      bytes.length < PNG_SIGNATURE.length &&
      PNG_SIGNATURE.subarray(0, bytes.length).every((byte, i) => byte === bytes[i]);
    return cut
      ? damaged("png", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("png", "not-an-image", "the file does not begin like a PNG");
  }
  const view = viewOf(bytes);
  const pictureParts: Uint8Array[] = [];
  let header: PngHeader | null = null;
  const notes: string[] = [];
  let hasPalette = false;
  let pictureEnded = false;
  let offset = PNG_SIGNATURE.length;

  const fault = (code: "truncated" | "corrupt", what: string): FileVerdict => {
    const there =
      header === null
        ? 0
        : Math.min(1, tools.inflatedLength(pictureParts, filteredLength(header)) / filteredLength(header));
    return damaged("png", code, `${what}; ${percent(there)} of the picture is there`, header, there);
  };

  for (;;) {
    if (offset + 8 > bytes.length) {
      return fault("truncated", `cut short after ${bytes.length} bytes`);
    }
    const length = view.getUint32(offset);
    const type = typeAt(bytes, offset + 4);
    if (length > LARGEST_SIDE || !/^[A-Za-z]{4}$/.test(type))
      return fault("corrupt", `no chunk begins at byte ${offset}`);
    const end = offset + 8 + length;
    if (end + 4 > bytes.length) {
      if (type === "IDAT") pictureParts.push(bytes.subarray(offset + 8, Math.min(end, bytes.length)));
      return fault("truncated", `cut short after ${bytes.length} bytes`);
    }
    if (tools.crc32(bytes.subarray(offset + 4, end)) !== view.getUint32(end))
      return fault("corrupt", `the checksum of chunk ${type} at byte ${offset} is wrong`);
    const data = bytes.subarray(offset + 8, end);
    if (header === null) {
      if (type !== "IHDR" || length !== 13) return fault("corrupt", "the header is not where it must be");
      const read = readHeader(data);
      const wrong = headerFault(read, data);
      if (wrong !== null) return damaged("png", "corrupt", wrong);
      header = read;
    } else if (type === "IHDR") {
      return fault("corrupt", "there are two headers");
    } else if (type === "PLTE") {
      // Grey has no use for one, and every decoder passes over it.
      if (header.colourType === 0 || header.colourType === 4)
        notes.push("a palette that grey has no use for");
      else if (hasPalette || pictureParts.length > 0 || length === 0 || length % 3 !== 0 || length > 768)
        return fault("corrupt", "the palette is wrong or out of place");
      hasPalette = true;
    } else if (type === "IDAT") {
      if (pictureEnded) return fault("corrupt", "the picture data is not in one piece");
      if (header.colourType === 3 && !hasPalette) return fault("corrupt", "the palette is missing");
      pictureParts.push(data);
    } else if (type === "IEND") {
      if (length !== 0) return fault("corrupt", "the end mark is wrong");
      offset = end + 4;
      break;
    } else if (!CRITICAL.has(type) && (bytes[offset + 4]! & 0x20) === 0) {
      return fault("corrupt", `chunk ${type} is required but unknown`);
    }
    if (type !== "IDAT" && pictureParts.length > 0) pictureEnded = true;
    offset = end + 4;
  }
  if (pictureParts.length === 0) return fault("corrupt", "there is no picture data");
  const rowsFault = deep
    ? filteredFault(header, tools.inflate(joinBytes(pictureParts), filteredLength(header)))
    : null;
  if (rowsFault !== null) return fault("corrupt", rowsFault);
  return goodVerdict("png", header, [...notes, ...trailing(bytes.length, offset)]);
}
