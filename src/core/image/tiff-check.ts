/**
 * Is a TIFF file whole? TIFF 6.0 (Adobe, 1992) and BigTIFF: either byte order, strips and tiles, samples beside one
 * another or in planes, any depth, every compression by its structure, several pictures in one file.
 *
 *     "II" or "MM", 42, offset (4)          BigTIFF: 43, 8, 0, offset (8)
 *     directory: count, entries of 12 (20) bytes, offset of the next one
 *
 * Strips and tiles are called pieces here: what is asked of them is the same.
 */
import { fromLatin1, readTextLines, viewOf } from "./bytes";
import { beginsAsZlib } from "./inflate";
import { lzwFault } from "./tiff-lzw";
import { TAG } from "./tiff-tags";
import {
  cutShort,
  damaged,
  type FileVerdict,
  goodVerdict,
  percent,
  type Shape,
  unsupported,
} from "./verdict";

const WANTED: ReadonlySet<number> = new Set(Object.values(TAG));

/** Bytes of a value, by its type. */
const TYPE_BYTES: Readonly<Record<number, number>> = {
  ...{ 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8 },
  ...{ 13: 4, 16: 8, 17: 8, 18: 8 },
};
/** Types that numbers of ours can have: whole ones, from a byte to eight. */
const WHOLE: ReadonlySet<number> = new Set([1, 2, 3, 4, 6, 7, 8, 9, 13, 16, 18]);

/** Codes of compressions that are looked into. */
const PLAIN = 1,
  LZW = 5,
  OLD_JPEG = 6,
  JPEG = 7,
  DEFLATE = 8,
  PACK_BITS = 32_773,
  OLD_DEFLATE = 32_946;
/** Of the samples: luminance and colour differences, of which the latter may be stored more coarsely. */
const YCBCR = 6;
/** Pieces that lie over one another are unpacked until so many times the file was gone through. */
const MOST_TIMES = 4;
/** Files with more pictures are none that a renderer writes; a chain of directories may also be a ring. */
const MOST_PICTURES = 4_096;

interface Head {
  readonly little: boolean;
  readonly isBig: boolean;
}

/** The first bytes alone. */
function headOf(bytes: Uint8Array): Head | null {
  if (bytes.length < 4) return null;
  const little = bytes[0] === 0x49;
  if (bytes[0] !== bytes[1] || (!little && bytes[0] !== 0x4d)) return null;
  const version = viewOf(bytes).getUint16(2, little);
  return version === 42 || version === 43 ? { little, isBig: version === 43 } : null;
}

/** By its first four bytes, of either byte order. */
export const isTiff = (bytes: Uint8Array): boolean => headOf(bytes) !== null;

/** A list of values, which stays in the file until it is asked for. */
interface Values {
  readonly count: number;
  readonly at: (index: number) => number;
}

interface Directory {
  readonly values: ReadonlyMap<number, Values>;
  /** Of the next one; 0 behind the last. */
  readonly next: number;
}

/** A directory, or null where it leads out of the file. */
function readDirectory(bytes: Uint8Array, { little, isBig }: Head, from: number): Directory | null {
  const view = viewOf(bytes);
  const wide = (at: number): number => Number(view.getBigUint64(at, little));
  const [countBytes, entryBytes, offsetBytes] = isBig ? [8, 20, 8] : [2, 12, 4];
  if (from < 8 || from + countBytes > bytes.length) return null;
  const count = isBig ? wide(from) : view.getUint16(from, little);
  const end = from + countBytes + count * entryBytes;
  if (count < 1 || end + offsetBytes > bytes.length) return null;
  const values = new Map<number, Values>();
  for (let i = 0; i < count; i++) {
    const place = from + countBytes + i * entryBytes;
    const tag = view.getUint16(place, little);
    const type = view.getUint16(place + 2, little);
    const size = TYPE_BYTES[type];
    if (size === undefined) continue;
    const number = isBig ? wide(place + 4) : view.getUint32(place + 4, little);
    const field = place + entryBytes - offsetBytes;
    const fits = number * size <= offsetBytes;
    const target = fits ? field : isBig ? wide(field) : view.getUint32(field, little);
    // Also of what nobody asks for: a table of colours or a resolution that is cut off was there once.
    if (target + number * size > bytes.length) return null;
    // Of sixty thousand entries each may point at the whole file: what nobody asks for is not read, nor twice.
    if (!WANTED.has(tag) || values.has(tag) || !WHOLE.has(type)) continue;
    const read = (at: number): number =>
      size === 1
        ? view.getUint8(at)
        : size === 2
          ? view.getUint16(at, little)
          : size === 4
            ? view.getUint32(at, little)
            : wide(at);
    values.set(tag, { count: number, at: (index) => read(target + index * size) });
  }
  return { values, next: isBig ? wide(end) : view.getUint32(end, little) };
}

/** Of the first directory; 0 where the file ends before. */
const firstOffset = (bytes: Uint8Array, { little, isBig }: Head): number =>
  isBig
    ? bytes.length < 16
      ? 0
      : Number(viewOf(bytes).getBigUint64(8, little))
    : bytes.length < 8
      ? 0
      : viewOf(bytes).getUint32(4, little);

/** What the first directory says of a tag; undefined where it says nothing or cannot be read. */
function firstValues(bytes: Uint8Array, tag: number): Values | undefined {
  const head = headOf(bytes);
  return head === null ? undefined : readDirectory(bytes, head, firstOffset(bytes, head))?.values.get(tag);
}

/** Our texts from ImageDescription; none where there is none. */
export function readTiffTexts(bytes: Uint8Array): Map<string, string> {
  const text = firstValues(bytes, TAG.description);
  if (text === undefined) return new Map();
  const letters = Uint8Array.from({ length: text.count }, (_, i) => text.at(i));
  return readTextLines(fromLatin1(letters).replace(/\0+$/, ""));
}

/** Code of the compression of the first picture; null where the file says none. */
export function tiffCompression(bytes: Uint8Array): number | null {
  const said = firstValues(bytes, TAG.compression);
  return said === undefined || said.count === 0 ? null : said.at(0);
}

/** What the first channel beside the colours is, by TIFF's code; null where nothing says. */
export function tiffExtra(bytes: Uint8Array): number | null {
  const said = firstValues(bytes, TAG.extra);
  return said === undefined || said.count === 0 ? null : said.at(0);
}

/** TIFF's code of floating point numbers. */
const FLOATS = 3;

/** Whether the first picture holds floating point numbers. */
export function tiffHoldsFloats(bytes: Uint8Array): boolean {
  const said = firstValues(bytes, TAG.sampleFormat);
  return said !== undefined && said.count > 0 && said.at(0) === FLOATS;
}

/** What a directory says of its picture. */
interface Picture {
  readonly shape: Shape;
  readonly compression: number;
  readonly offsets: Values;
  /** Null where the writer left them out. */
  readonly counts: Values | null;
  readonly pieces: number;
  /** How blobs of LERC are packed once more; 0: not. */
  readonly lercPacking: number;
  /** Bytes of a piece before compression; null where it cannot be told. */
  readonly lengthOf: (index: number) => number | null;
}

/** How many of `step` are needed for all of `whole`. */
const parts = (whole: number, step: number): number => Math.ceil(whole / step);

/** The picture that a directory tells of, or what is to be said of one that tells of none. */
function pictureOf({ values }: Directory): Picture | FileVerdict {
  const broken = (why: string): FileVerdict => damaged("tiff", "corrupt", why);
  const one = (tag: number, otherwise: number): number => {
    const found = values.get(tag);
    return found === undefined || found.count === 0 ? otherwise : found.at(0);
  };
  const [width, height, samples] = [one(TAG.width, 0), one(TAG.height, 0), one(TAG.samples, 1)];
  if (width < 1 || height < 1 || samples < 1) return broken("the directory does not fit together");
  const bits = values.get(TAG.bits);
  const bitsOf = (sample: number): number =>
    bits === undefined || bits.count === 0 ? 1 : bits.at(Math.min(sample, bits.count - 1));
  // Some files name one depth for all samples, some one for each.
  const each = Array.from({ length: Math.min(samples, 64) }, (_, i) => bitsOf(i));
  const all = each.reduce((sum, n) => sum + n, 0) * (samples / each.length);
  const shape = { width, height, channels: samples, bitDepth: bitsOf(0) };
  const isPlanar = one(TAG.planar, 1) === 2;
  const planes = isPlanar ? samples : 1;
  const compression = one(TAG.compression, PLAIN);
  const tileOffsets = values.get(TAG.tileOffsets);
  const [tileWidth, tileHeight] = [one(TAG.tileWidth, 0), one(TAG.tileHeight, 0)];
  const isTiled = tileOffsets !== undefined || (tileWidth > 0 && values.get(TAG.offsets) === undefined);
  const offsets = tileOffsets ?? values.get(TAG.offsets);
  const counts = (isTiled ? values.get(TAG.tileCounts) : undefined) ?? values.get(TAG.counts) ?? null;
  if (offsets === undefined)
    return values.has(TAG.jpegOffset)
      ? unsupported("tiff", "it holds a JPEG of the kind before TIFF 6.0's second supplement")
      : broken("the directory names no strips and no tiles");
  if (isTiled && (tileWidth < 1 || tileHeight < 1)) return broken("its tiles have no size");
  const rows = isTiled ? tileHeight : Math.min(height, one(TAG.rows, height));
  if (rows < 1) return broken("its strips have no lines");
  const across = isTiled ? parts(width, tileWidth) : 1;
  const down = parts(height, rows);
  const pieces = across * down * planes;
  if (offsets.count < pieces || (counts !== null && counts.count < pieces))
    return broken("the directory does not fit together");
  const subsampling = values.get(TAG.subsampling);
  const coarse =
    one(TAG.photometric, 1) !== YCBCR || isPlanar
      ? null
      : {
          h: one(TAG.subsampling, 2),
          v: subsampling !== undefined && subsampling.count > 1 ? subsampling.at(1) : 2,
        };
  const lengthOf = (index: number): number | null => {
    const plane = Math.floor(index / (across * down));
    const lines = isTiled ? tileHeight : Math.min(rows, height - (index % down) * rows);
    const wide = isTiled ? tileWidth : width;
    if (coarse !== null) {
      if (coarse.h < 1 || coarse.v < 1 || samples !== 3) return null;
      // A block of luminance with one pair of colour differences (section 21).
      return parts(lines, coarse.v) * parts(parts(wide, coarse.h) * (coarse.h * coarse.v + 2) * bitsOf(0), 8);
    }
    return lines * parts(wide * (isPlanar ? bitsOf(plane) : all), 8);
  };
  const lerc = values.get(TAG.lerc);
  const lercPacking = lerc !== undefined && lerc.count > 1 ? lerc.at(1) : 0;
  return { shape, compression, offsets, counts, pieces, lercPacking, lengthOf };
}

export interface TiffTools {
  /** Number of bytes that the zlib stream gives before it ends or breaks. */
  readonly inflatedLength: (parts: readonly Uint8Array[], most: number) => number;
}

/** Bytes that a PackBits stream gives before it ends. */
function packBitsLength(bytes: Uint8Array, most: number): number {
  let length = 0;
  for (let at = 0; at < bytes.length && length < most;) {
    const n = (bytes[at]! << 24) >> 24;
    if (n === -128) at++;
    else if (n < 0) {
      if (at + 1 >= bytes.length) break;
      length += 1 - n;
      at += 2;
    } else {
      const there = Math.min(n + 1, bytes.length - at - 1);
      length += there;
      at += n + 2;
    }
  }
  return length;
}

/** A stream that cannot begin so has lost its beginning: a hole shows there without unpacking. */
const beginsWrong = (compression: number, piece: Uint8Array): boolean => {
  switch (compression) {
    case DEFLATE:
    case OLD_DEFLATE:
      return !beginsAsZlib(piece);
    case JPEG:
      return piece.length < 2 || piece[0] !== 0xff || piece[1] !== 0xd8;
    case LZW:
      // The code that clears the table, in either bit order.
      return (
        piece.length < 2 ||
        !((piece[0] === 0x80 && (piece[1]! & 0x80) === 0) || (piece[0] === 0 && (piece[1]! & 1) === 1))
      );
    default:
      return false;
  }
};

/** Why a piece does not give its part of the picture; null where it does, or its compression is not looked into. */
function pieceFault(
  compression: number,
  piece: Uint8Array,
  length: number | null,
  full: number,
  deep: boolean,
  tools: TiffTools,
): string | null {
  if (beginsWrong(compression, piece)) return "does not begin as its compression does";
  if (length === null) return null;
  if (compression === PLAIN) return piece.length < length ? "is too short" : null;
  if (!deep) return null;
  switch (compression) {
    case DEFLATE:
    case OLD_DEFLATE: {
      // The last strip may be filled up to the lines of the others; any other length is a stream gone astray.
      const given = tools.inflatedLength([piece], full);
      return given === length || given === full ? null : "does not unpack";
    }
    case PACK_BITS:
      return packBitsLength(piece, length) < length ? "does not unpack" : null;
    case LZW:
      return lzwFault(piece, length) ? "does not unpack" : null;
    default:
      return null;
  }
}

/** One picture of the file; null where it is whole. */
function pictureFault(
  bytes: Uint8Array,
  picture: Picture,
  deep: boolean,
  tools: TiffTools,
): FileVerdict | null {
  const { shape, compression, offsets, counts, pieces, lengthOf } = picture;
  let cut = 0;
  let gone = 0;
  let fault: FileVerdict | null = null;
  for (let i = 0; i < pieces; i++) {
    const [offset, length] = [offsets.at(i), lengthOf(i)];
    const said = counts?.at(i) ?? 0;
    // Of a plain piece without a count, or alone with too small a one, what it needs is what it has, as every decoder
    // takes it; of others it is not known where they end.
    const isPlain = compression === PLAIN && (said === 0 || pieces === 1);
    const size = isPlain ? Math.max(said, length ?? 0) : said;
    // A piece that was never written has no place; its writer ended before.
    if (offset === 0 || offset + Math.max(1, size) > bytes.length) {
      cut++;
      continue;
    }
    gone += size;
    if (fault !== null || size === 0) continue;
    const full = Math.max(length ?? 0, lengthOf(0) ?? 0);
    const isDeep = deep && gone <= bytes.length * MOST_TIMES;
    const why = pieceFault(compression, bytes.subarray(offset, offset + size), length, full, isDeep, tools);
    if (why !== null)
      fault = damaged(
        "tiff",
        "corrupt",
        `piece ${i + 1} of ${pieces} ${why}; ${percent(i / pieces)} of the picture stands before it`,
        shape,
        i / pieces,
      );
  }
  return cut > 0 ? cutShort("tiff", bytes.length, shape, 1 - cut / pieces) : fault;
}

/**
 * Directories, sane sizes, every strip and tile inside the file and begun as its compression begins; deep: what is
 * packed plainly, by zlib, LZW or PackBits unpacks to its length.
 */
export function checkTiff(bytes: Uint8Array, tools: TiffTools, deep = false): FileVerdict {
  if (bytes.length === 0) return damaged("tiff", "empty", "the file is empty");
  const head = headOf(bytes);
  if (head === null)
    return bytes.length < 4
      ? damaged("tiff", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("tiff", "not-an-image", "the file does not begin like a TIFF");
  const seen = new Set<number>();
  let first: Picture | null = null;
  const notes: string[] = [];
  let pieces = 0;
  for (let from = firstOffset(bytes, head); first === null || from !== 0;) {
    if (seen.has(from) || seen.size > MOST_PICTURES) {
      notes.push("its directories lead in a ring");
      break;
    }
    seen.add(from);
    const directory = readDirectory(bytes, head, from);
    if (directory === null)
      return damaged(
        "tiff",
        "truncated",
        `cut short after ${bytes.length} bytes, before the directory${first === null ? "" : ` of picture ${seen.size}`} ends`,
        first?.shape ?? null,
      );
    from = directory.next;
    const picture = pictureOf(directory);
    if ("verdict" in picture) {
      if (first === null) return picture;
      notes.push(`picture ${seen.size}: ${picture.detail}`);
      continue;
    }
    // Directories may share their lists: a chain of them would have all be gone through anew.
    if ((pieces += picture.pieces) > bytes.length)
      return damaged("tiff", "corrupt", `it names ${pieces} strips and tiles`, picture.shape);
    const fault = pictureFault(bytes, picture, deep, tools);
    if (fault !== null)
      return first === null ? fault : { ...fault, detail: `picture ${seen.size}: ${fault.detail}` };
    first ??= picture;
  }
  if (seen.size > 1) notes.push(`${seen.size} pictures are in it`);
  if (first!.compression === OLD_JPEG) notes.push("JPEG of the kind before TIFF 6.0's second supplement");
  return goodVerdict("tiff", first!.shape, notes);
}

/** A strip or tile of a picture as it lies in the file. */
export interface TiffPiece {
  readonly bytes: Uint8Array;
  readonly compression: number;
  /** How a blob of LERC is packed once more: 1 by zlib, 2 by Zstandard, 0 not. */
  readonly lercPacking: number;
  /** Bytes of its pixels; and of those of a whole piece: the last one may be filled up. */
  readonly length: number;
  readonly full: number;
}

/** Pieces of the first picture of a file that was found whole; none where it is not known what they come to. */
export function packedPieces(bytes: Uint8Array): readonly TiffPiece[] {
  const head = headOf(bytes);
  const directory = head === null ? null : readDirectory(bytes, head, firstOffset(bytes, head));
  const picture = directory === null ? null : pictureOf(directory);
  if (picture === null || "verdict" in picture) return [];
  const { compression, offsets, counts, pieces, lercPacking, lengthOf } = picture;
  const found: TiffPiece[] = [];
  let gone = 0;
  for (let i = 0; i < pieces; i++) {
    const [offset, size, length] = [offsets.at(i), counts?.at(i) ?? 0, lengthOf(i)];
    // Pieces that lie over one another would be unpacked again and again.
    if (length === null || size === 0 || (gone += size) > bytes.length * MOST_TIMES) break;
    found.push({
      bytes: bytes.subarray(offset, offset + size),
      compression,
      lercPacking,
      length,
      full: Math.max(length, lengthOf(0) ?? 0),
    });
  }
  return found;
}
