/**
 * OpenEXR 2.0, the part that renders need: one part, scan lines from the top, half or float, without
 * compression, with run lengths (a line a block) or zlib (16 lines a block).
 *
 *     magic 20000630 (4) · version 2 (4) · attributes: name\0 type\0 size (4) value · \0
 *     offsets of the blocks (8 each) · blocks: first line (4), size (4), data
 *
 * Inside a block the lines follow one another, in a line the channels in alphabetical order. Before
 * compression bytes are split into even and odd ones and replaced by their differences.
 */
import { joinBytes, latin1, viewOf } from "./bytes";
import { fromHalf, toHalf } from "./half";
import { type Inflate, MOST_RATIO } from "./inflate";
import { type Channels, type FloatImage, MAX_SIDE } from "./pixels";
import { EXR_CODE, EXR_LINES, EXR_MAGIC, heightOf, readExrHeader, typeBytes, widthOf } from "./exr-header";

/** Compressions that are written; of each other one the check says that it cannot judge it. */
export const EXR_COMPRESSIONS = ["none", "rle", "zip"] as const;
export type ExrCompression = (typeof EXR_COMPRESSIONS)[number];

export interface ExrSettings {
  /** Bits of a channel: 16 or 32, both floating point. */
  readonly depth: "half" | "float";
  readonly compression: ExrCompression;
  /** Width of a pixel over its height. */
  readonly pixelAspect: number;
  /** Names of the channels in the order of the picture's data: R G B A, Y, Z. */
  readonly names: readonly string[];
}

/** Of a channel, as the header has it. */
const TYPE = { half: 1, float: 2 } as const;
/** Shorter runs cost as much as they save. */
const MIN_RUN = 3;
/** What the length's signed byte can say. */
const MAX_RUN = 127;
/** Two bytes stand for at most 128. */
const MOST_RUN_RATIO = 64;

/** A text with the zero that ends it. */
const nul = (text: string): Uint8Array => latin1(`${text}\0`);

function int32(...values: readonly number[]): Uint8Array {
  const out = new Uint8Array(values.length * 4);
  values.forEach((v, i) => viewOf(out).setInt32(i * 4, v, true));
  return out;
}

function float32(...values: readonly number[]): Uint8Array {
  const out = new Uint8Array(values.length * 4);
  values.forEach((v, i) => viewOf(out).setFloat32(i * 4, v, true));
  return out;
}

const attribute = (name: string, type: string, value: Uint8Array): Uint8Array =>
  joinBytes([nul(name), nul(type), int32(value.length), value]);

/** Splits bytes into even and odd ones, then keeps differences. */
function rearrange(raw: Uint8Array): Uint8Array {
  const out = new Uint8Array(raw.length);
  const half = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i]!;
  let before = out[0] ?? 0;
  for (let i = 1; i < out.length; i++) {
    const value = out[i]!;
    out[i] = value - before + 384;
    before = value;
  }
  return out;
}

/** Undoes the differences and the split into halves that make compression better. */
function arrangeBack(bytes: Uint8Array): Uint8Array {
  for (let i = 1; i < bytes.length; i++) bytes[i] = bytes[i - 1]! + bytes[i]! - 128;
  const out = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0; i < out.length; i++) out[i] = bytes[(i & 1 ? half : 0) + (i >> 1)]!;
  return out;
}

/** Run lengths: a count n >= 0 repeats the next byte n + 1 times, -n copies n bytes. */
function runLengths(bytes: Uint8Array): Uint8Array {
  const out: number[] = [];
  let from = 0;
  const runAt = (i: number): number => {
    let n = 1;
    while (n <= MAX_RUN && i + n < bytes.length && bytes[i + n] === bytes[i]) n++;
    return n;
  };
  while (from < bytes.length) {
    const run = runAt(from);
    if (run >= MIN_RUN) {
      out.push(run - 1, bytes[from]!);
      from += run;
      continue;
    }
    let end = from + 1;
    while (end < bytes.length && end - from < MAX_RUN && runAt(end) < MIN_RUN) end++;
    out.push(256 - (end - from));
    for (let i = from; i < end; i++) out.push(bytes[i]!);
    from = end;
  }
  return Uint8Array.from(out);
}

/** Null where the runs say more or less than the block holds: the file is damaged. */
export function expandRuns(bytes: Uint8Array, length: number): Uint8Array | null {
  // Nothing is made room for that cannot be in there.
  if (length > bytes.length * MOST_RUN_RATIO) return null;
  const out = new Uint8Array(length);
  let at = 0;
  for (let i = 0; i < bytes.length;) {
    const count = (bytes[i]! << 24) >> 24;
    if (count < 0) {
      if (at - count > length || i + 1 - count > bytes.length) return null;
      out.set(bytes.subarray(i + 1, i + 1 - count), at);
      at -= count;
      i += 1 - count;
    } else {
      if (at + count + 1 > length || i + 1 >= bytes.length) return null;
      out.fill(bytes[i + 1]!, at, at + count + 1);
      at += count + 1;
      i += 2;
    }
  }
  return at === length ? out : null;
}

/**
 * Writes channels in the order of their names, as the format asks. @param texts header attributes of type
 * string
 */
export function writeExr(
  image: FloatImage,
  texts: Readonly<Record<string, string>>,
  deflate: (bytes: Uint8Array, level: number) => Uint8Array,
  settings: ExrSettings,
): Uint8Array {
  const { width, height, channels, data } = image;
  const order = settings.names
    .map((name, index) => ({ name, index }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const size = settings.depth === "half" ? 2 : 4;
  const code = EXR_CODE[settings.compression];
  const window = int32(0, 0, width - 1, height - 1);
  const channelList = joinBytes([
    ...order.map(({ name }) => joinBytes([nul(name), int32(TYPE[settings.depth], 0, 1, 1)])),
    Uint8Array.of(0),
  ]);
  const attributes: readonly (readonly [name: string, type: string, value: Uint8Array])[] = [
    ...Object.entries(texts).map(([name, value]) => [name, "string", latin1(value)] as const),
    ["channels", "chlist", channelList],
    ["compression", "compression", Uint8Array.of(code)],
    ["dataWindow", "box2i", window],
    ["displayWindow", "box2i", window],
    ["lineOrder", "lineOrder", Uint8Array.of(0)],
    ["pixelAspectRatio", "float", float32(settings.pixelAspect)],
    ["screenWindowCenter", "v2f", float32(0, 0)],
    ["screenWindowWidth", "float", float32(1)],
  ];
  // In the order of their names, as the OpenEXR library writes them: ffmpeg 5.1 loses what stands right
  // behind a long text, and behind PlainTally that is Software then, not the channels or the first block.
  const sorted = [...attributes].sort(([x], [y]) => (x < y ? -1 : 1));
  const header = joinBytes([
    int32(EXR_MAGIC, 2),
    ...sorted.map(([name, type, value]) => attribute(name, type, value)),
    Uint8Array.of(0),
  ]);
  const lines = EXR_LINES[code]!;
  const blocks: Uint8Array[] = [];
  for (let y = 0; y < height; y += lines) {
    const end = Math.min(height, y + lines);
    const raw = new Uint8Array((end - y) * width * channels * size);
    const view = viewOf(raw);
    let at = 0;
    for (let line = y; line < end; line++) {
      for (const { index } of order) {
        for (let x = 0; x < width; x++, at += size) {
          const value = data[(line * width + x) * channels + index]!;
          if (size === 2) view.setUint16(at, toHalf(value), true);
          else view.setFloat32(at, value, true);
        }
      }
    }
    const packed = code === 0 ? raw : code === 1 ? runLengths(rearrange(raw)) : deflate(rearrange(raw), 6);
    // A block that does not become smaller is kept as it is: its size says so.
    const bytes = packed.length < raw.length ? packed : raw;
    blocks.push(joinBytes([int32(y, bytes.length), bytes]));
  }
  const offsets = new Uint8Array(blocks.length * 8);
  let place = header.length + offsets.length;
  blocks.forEach((block, i) => {
    viewOf(offsets).setBigUint64(i * 8, BigInt(place), true);
    place += block.length;
  });
  return joinBytes([header, offsets, ...blocks]);
}

/** Bytes of a block as they were before compression, or null when they do not unpack. */
function unpack(compression: number, bytes: Uint8Array, length: number, inflate: Inflate): Uint8Array | null {
  if (bytes.length === length) return bytes;
  // Nothing is made room for that cannot be in there.
  if (compression === 0 || length > bytes.length * MOST_RATIO) return null;
  const flat = compression === 1 ? expandRuns(bytes, length) : inflate(bytes, length);
  return flat === null || flat.length !== length ? null : arrangeBack(flat);
}

/**
 * Pixels of a whole file. Channels in the order R G B A, or Y A, where they are there, else as the file has them. Null
 * where a block does not unpack.
 */
export function readExr(
  bytes: Uint8Array,
  inflate: Inflate,
): (FloatImage & { readonly names: readonly string[] }) | null {
  const header = readExrHeader(bytes);
  const [part, ...more] = header?.parts ?? [];
  // Later ones are packed by more than zlib.
  if (part === undefined || part.compression > EXR_CODE.zip || more.length > 0 || part.data === null)
    return null;
  const lines = EXR_LINES[part.compression];
  if (lines === undefined) return null;
  if (part.tiles !== null || part.isDeep || part.channels.length > 4) return null;
  if (part.channels.some(({ every }) => every.x !== 1 || every.y !== 1)) return null;
  const { channels, compression } = part;
  const [width, height] = [widthOf(part.data), heightOf(part.data)];
  if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) return null;
  const table = header!.end;
  const usual = ["R", "G", "B", "Y", "A"].filter((name) => channels.some((c) => c.name === name));
  const names = usual.length === channels.length ? usual : channels.map((c) => c.name);
  const n = names.length as Channels;
  const data = new Float32Array(width * height * n);
  const view = viewOf(bytes);
  const lineBytes = width * channels.reduce((sum, c) => sum + typeBytes(c.type), 0);
  for (let y = 0, i = 0; y < height; y += lines, i++) {
    const offset = Number(view.getBigUint64(table + i * 8, true));
    const end = Math.min(height, y + lines);
    const raw = unpack(
      compression,
      bytes.subarray(offset + 8, offset + 8 + view.getInt32(offset + 4, true)),
      (end - y) * lineBytes,
      inflate,
    );
    if (raw === null) return null;
    const block = viewOf(raw);
    let at = 0;
    for (let line = y; line < end; line++) {
      for (const { name, type } of channels) {
        const index = names.indexOf(name);
        for (let x = 0; x < width; x++, at += typeBytes(type))
          data[(line * width + x) * n + index] =
            type === 1
              ? fromHalf(block.getUint16(at, true))
              : type === 2
                ? block.getFloat32(at, true)
                : block.getUint32(at, true);
      }
    }
  }
  return { width, height, channels: n, data, names };
}
