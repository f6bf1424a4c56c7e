/**
 * TIFF 6.0 (Adobe, 1992), the part that renders need: one picture, little-endian, in strips, grey or
 * colour, with alpha or without, 8 or 16 bits, plain or deflated (Adobe's Deflate, with the
 * horizontal predictor of chapter 14).
 *
 *     offset 0  "II", 42, offset of the directory (4)
 *            8  directory: count (2), entries of 12 bytes in ascending tags, 0 (4)
 *               values that do not fit into an entry
 *               strips
 *
 * The directory stands in front, so that a file cut short still says what it should hold.
 */
import { fromLatin1, joinBytes, latin1, readTextLines, textLines, viewOf } from "./bytes";
import { hasAlpha, type IntegerImage } from "./pixels";
import { damaged, type FileVerdict, goodVerdict, unsupported } from "./verdict";

/** Compressions that are written. */
export const TIFF_COMPRESSIONS = ["none", "deflate"] as const;
export type TiffCompression = (typeof TIFF_COMPRESSIONS)[number];

export interface TiffSettings {
  /** Plain or deflated. */
  readonly compression: TiffCompression;
  /** What the alpha channel means to the colours. */
  readonly alpha: "straight" | "premultiplied";
}

/** Numbers of the tags that are read or written. */
const TAG = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  description: 270,
  offsets: 273,
  samples: 277,
  rows: 278,
  counts: 279,
  planar: 284,
  software: 305,
  predictor: 317,
  extra: 338,
} as const;
/** Types of values that are written. */
const TYPE = { ascii: 2, short: 3, long: 4 } as const;
/** Bytes of a value, by its type; also of types that others write. */
const TYPE_BYTES: Readonly<Record<number, number>> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8 };
/** Adobe's, by its code. */
const DEFLATE = 8;
/** Strips of about this size: small enough to be read one by one, large enough to deflate well. */
const STRIP_BYTES = 65_536;

/** Differences between neighbouring samples of a row, in place (predictor 2). */
function predict(data: Uint8Array | Uint16Array, stride: number, channels: number): void {
  for (let row = 0; row < data.length; row += stride)
    for (let i = stride - 1; i >= channels; i--) data[row + i] = data[row + i]! - data[row + i - channels]!;
}

/** Bytes of samples in the file's order. */
function littleEndian(data: Uint8Array | Uint16Array): Uint8Array {
  if (data instanceof Uint8Array) return data;
  const out = new Uint8Array(data.length * 2);
  for (let i = 0; i < data.length; i++) {
    out[i * 2] = data[i]! & 255;
    out[i * 2 + 1] = data[i]! >>> 8;
  }
  return out;
}

/** Writes one picture in strips; texts go into ImageDescription, a line each. */
export function writeTiff(
  image: IntegerImage,
  texts: Readonly<Record<string, string>>,
  deflate: (bytes: Uint8Array, level: number) => Uint8Array,
  settings: TiffSettings,
): Uint8Array {
  const { width, height, channels, depth } = image;
  const stride = width * channels;
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / ((stride * depth) / 8))));
  const strips: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows) {
    const part = image.data.slice(y * stride, Math.min(height, y + rows) * stride);
    if (settings.compression === "deflate") predict(part, stride, channels);
    const bytes = littleEndian(part);
    strips.push(settings.compression === "deflate" ? deflate(bytes, 6) : bytes);
  }
  const { Software, ...others } = texts;
  const entries: { tag: number; type: number; values: readonly number[] | Uint8Array }[] = [
    { tag: TAG.width, type: TYPE.long, values: [width] },
    { tag: TAG.height, type: TYPE.long, values: [height] },
    { tag: TAG.bits, type: TYPE.short, values: Array.from({ length: channels }, () => depth) },
    { tag: TAG.compression, type: TYPE.short, values: [settings.compression === "deflate" ? DEFLATE : 1] },
    { tag: TAG.photometric, type: TYPE.short, values: [channels < 3 ? 1 : 2] },
    { tag: TAG.description, type: TYPE.ascii, values: latin1(`${textLines(others)}\0`) },
    { tag: TAG.offsets, type: TYPE.long, values: strips.map(() => 0) },
    { tag: TAG.samples, type: TYPE.short, values: [channels] },
    { tag: TAG.rows, type: TYPE.long, values: [rows] },
    { tag: TAG.counts, type: TYPE.long, values: strips.map((s) => s.length) },
    { tag: TAG.planar, type: TYPE.short, values: [1] },
    { tag: TAG.software, type: TYPE.ascii, values: latin1(`${Software ?? "Plain Tally"}\0`) },
    ...(settings.compression === "deflate" ? [{ tag: TAG.predictor, type: TYPE.short, values: [2] }] : []),
    ...(hasAlpha(channels)
      ? [{ tag: TAG.extra, type: TYPE.short, values: [settings.alpha === "premultiplied" ? 1 : 2] }]
      : []),
  ];
  const directoryBytes = 2 + entries.length * 12 + 4;
  const sizeOf = (e: (typeof entries)[number]): number => e.values.length * TYPE_BYTES[e.type]!;
  const outside = entries.reduce((sum, e) => sum + (sizeOf(e) > 4 ? sizeOf(e) + (sizeOf(e) & 1) : 0), 0);
  const first = 8 + directoryBytes + outside;
  let at = first;
  entries.find((e) => e.tag === TAG.offsets)!.values = strips.map(
    (strip) => (at += strip.length) - strip.length,
  );
  const head = new Uint8Array(first);
  const view = viewOf(head);
  head.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, 8, true);
  view.setUint16(8, entries.length, true);
  let free = 8 + directoryBytes;
  entries.forEach((entry, i) => {
    const place = 10 + i * 12;
    view.setUint16(place, entry.tag, true);
    view.setUint16(place + 2, entry.type, true);
    view.setUint32(place + 4, entry.values.length, true);
    let target = place + 8;
    if (sizeOf(entry) > 4) {
      view.setUint32(place + 8, free, true);
      target = free;
      free += sizeOf(entry) + (sizeOf(entry) & 1);
    }
    entry.values.forEach((value, k) => {
      if (entry.type === TYPE.ascii) head[target + k] = value;
      else if (entry.type === TYPE.short) view.setUint16(target + k * 2, value, true);
      else view.setUint32(target + k * 4, value, true);
    });
  });
  return joinBytes([head, ...strips]);
}

/** Tags that are read. */
const WANTED: ReadonlySet<number> = new Set(Object.values(TAG));

/** Values by tag. */
type Directory = ReadonlyMap<number, readonly number[]>;

/** By its first four bytes, of either byte order. */
export const isTiff = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 &&
  ((bytes[0] === 0x49 && bytes[1] === 0x49 && bytes[2] === 42 && bytes[3] === 0) ||
    (bytes[0] === 0x4d && bytes[1] === 0x4d && bytes[2] === 0 && bytes[3] === 42));

/** The first directory, or null where it leads out of the file. */
function readDirectory(bytes: Uint8Array): Directory | null {
  const little = bytes[0] === 0x49;
  const view = viewOf(bytes);
  const from = bytes.length < 8 ? Infinity : view.getUint32(4, little);
  if (from + 2 > bytes.length) return null;
  const count = view.getUint16(from, little);
  if (from + 2 + count * 12 > bytes.length) return null;
  const directory = new Map<number, readonly number[]>();
  for (let i = 0; i < count; i++) {
    const place = from + 2 + i * 12;
    const tag = view.getUint16(place, little);
    // Of sixty thousand entries each may point at the whole file: what nobody asks for is not read, nor twice.
    if (!WANTED.has(tag) || directory.has(tag)) continue;
    const type = view.getUint16(place + 2, little);
    const number = view.getUint32(place + 4, little);
    const size = TYPE_BYTES[type];
    if (size === undefined || size === 8) continue;
    const target = number * size > 4 ? view.getUint32(place + 8, little) : place + 8;
    if (target + number * size > bytes.length) return null;
    const read = (at: number): number =>
      size === 1 ? view.getUint8(at) : size === 2 ? view.getUint16(at, little) : view.getUint32(at, little);
    directory.set(
      tag,
      Array.from({ length: number }, (_, k) => read(target + k * size)),
    );
  }
  return directory;
}

/** Our texts from ImageDescription; none where there is none. */
export function readTiffTexts(bytes: Uint8Array): Map<string, string> {
  const values = (isTiff(bytes) ? readDirectory(bytes) : null)?.get(TAG.description) ?? [];
  return readTextLines(fromLatin1(Uint8Array.from(values)).replace(/\0+$/, ""));
}

/**
 * Is a TIFF file whole? Directory, sane sizes, every strip inside the file; deep: every strip unpacks to its
 * length.
 */
export function checkTiff(
  bytes: Uint8Array,
  inflatedLength: (parts: readonly Uint8Array[], most: number) => number,
  deep = false,
): FileVerdict {
  if (bytes.length === 0) return damaged("tiff", "empty", "the file is empty");
  if (!isTiff(bytes))
    return bytes.length < 4
      ? damaged("tiff", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("tiff", "not-an-image", "the file does not begin like a TIFF");
  const directory = readDirectory(bytes);
  if (directory === null)
    return damaged("tiff", "truncated", `cut short after ${bytes.length} bytes, before the directory ends`);
  const one = (tag: number, otherwise: number): number => directory.get(tag)?.[0] ?? otherwise;
  const [width, height, channels, bits] = [
    one(TAG.width, 0),
    one(TAG.height, 0),
    one(TAG.samples, 1),
    one(TAG.bits, 1),
  ];
  const offsets = directory.get(TAG.offsets);
  const counts = directory.get(TAG.counts);
  if (offsets === undefined || counts === undefined)
    return unsupported("tiff", "its picture is not in strips, and cannot be checked");
  const rows = Math.min(height, one(TAG.rows, height));
  if (
    width < 1 ||
    height < 1 ||
    rows < 1 ||
    channels < 1 ||
    offsets.length !== counts.length ||
    offsets.length !== Math.ceil(height / rows)
  )
    return damaged("tiff", "corrupt", "the directory does not fit together");
  const shape = { width, height, channels, bitDepth: bits };
  const whole = offsets.filter((offset, i) => offset + counts[i]! <= bytes.length).length;
  const share = whole / offsets.length;
  if (share < 1)
    return damaged(
      "tiff",
      "truncated",
      `cut short after ${bytes.length} bytes; ${Math.floor(share * 100)} % of the picture is there`,
      shape,
      share,
    );
  const compression = one(TAG.compression, 1);
  const lengthOf = (i: number): number =>
    Math.min(rows, height - i * rows) * Math.ceil((width * channels * bits) / 8);
  if (compression === 1) {
    const short = counts.findIndex((c, i) => c < lengthOf(i));
    if (short >= 0)
      return damaged("tiff", "corrupt", `strip ${short + 1} is too short`, shape, short / offsets.length);
  } else if (deep && compression === DEFLATE) {
    const wrong = offsets.findIndex(
      (offset, i) =>
        inflatedLength([bytes.subarray(offset, offset + counts[i]!)], lengthOf(i)) !== lengthOf(i),
    );
    if (wrong >= 0)
      return damaged("tiff", "corrupt", `strip ${wrong + 1} does not unpack`, shape, wrong / offsets.length);
  }
  return goodVerdict("tiff", shape);
}
