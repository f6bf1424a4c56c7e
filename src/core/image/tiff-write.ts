/**
 * Writing TIFF 6.0 (Adobe, 1992), the part that renders need: one picture, little-endian, in strips, grey or
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
import { joinBytes, latin1, textLines, viewOf } from "./bytes";
import { hasAlpha, type IntegerImage } from "./pixels";
import { TAG } from "./tiff-tags";

/** Compressions that are written. */
export const TIFF_COMPRESSIONS = ["none", "deflate"] as const;
export type TiffCompression = (typeof TIFF_COMPRESSIONS)[number];

export interface TiffSettings {
  /** Plain or deflated. */
  readonly compression: TiffCompression;
  /** What the alpha channel means to the colours. */
  readonly alpha: "straight" | "premultiplied";
}

/** Types of values that are written. */
const TYPE = { ascii: 2, short: 3, long: 4 } as const;
/** Bytes of a value, by its type. */
const TYPE_BYTES: Readonly<Record<number, number>> = { 2: 1, 3: 2, 4: 4 };
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
