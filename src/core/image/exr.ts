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
import { fromLatin1, joinBytes, latin1, viewOf } from "./bytes";
import { fromHalf, toHalf } from "./half";
import { type Channels, type FloatImage, MAX_SIDE } from "./pixels";
import { damaged, type FileVerdict, goodVerdict, unsupported } from "./verdict";

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

/** First four bytes, little-endian. */
const MAGIC = 20_000_630;
/** Of the compression, as the header has it. */
const CODE: Readonly<Record<ExrCompression, number>> = { none: 0, rle: 1, zip: 3 };
/** Scan lines in a block, by the compression's code. */
const LINES: Readonly<Record<number, number>> = { 0: 1, 1: 1, 2: 1, 3: 16 };
/** Of a channel, as the header has it. */
const TYPE = { half: 1, float: 2 } as const;
/** Shorter runs cost as much as they save. */
const MIN_RUN = 3;
/** What the length's signed byte can say. */
const MAX_RUN = 127;

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
function expandRuns(bytes: Uint8Array, length: number): Uint8Array | null {
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
  const code = CODE[settings.compression];
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
    int32(MAGIC, 2),
    ...sorted.map(([name, type, value]) => attribute(name, type, value)),
    Uint8Array.of(0),
  ]);
  const lines = LINES[code]!;
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

/** Channels lie in alphabetical order, whatever order somebody asked for. */
interface ExrChannel {
  readonly name: string;
  /** 0 whole numbers, 1 half, 2 float. */
  readonly type: number;
}

interface ExrHeader {
  readonly width: number;
  readonly height: number;
  /** Its code. */
  readonly compression: number;
  readonly channels: readonly ExrChannel[];
  /** Attributes of type string, by name. */
  readonly texts: ReadonlyMap<string, string>;
  /** Where the offsets begin. */
  readonly end: number;
}

/** By its magic number alone. */
export const isExr = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && viewOf(bytes).getInt32(0, true) === MAGIC;

/** The header, or null where the file ends inside it. */
function readHeader(bytes: Uint8Array): ExrHeader | null {
  const view = viewOf(bytes);
  let at = 8;
  const text = (): string | null => {
    const end = bytes.indexOf(0, at);
    if (end < 0) return null;
    const value = fromLatin1(bytes.subarray(at, end));
    at = end + 1;
    return value;
  };
  let width = 0,
    height = 0,
    compression = -1;
  let channels: ExrChannel[] = [];
  const texts = new Map<string, string>();
  for (;;) {
    const name = text();
    if (name === null) return null;
    if (name === "") break;
    const type = text();
    if (type === null || at + 4 > bytes.length) return null;
    const size = view.getInt32(at, true);
    at += 4;
    if (size < 0 || at + size > bytes.length) return null;
    const value = bytes.subarray(at, at + size);
    const next = at + size;
    if (name === "compression") compression = value[0] ?? -1;
    else if (name === "dataWindow" && size === 16)
      [width, height] = [
        view.getInt32(at + 8, true) - view.getInt32(at, true) + 1,
        view.getInt32(at + 12, true) - view.getInt32(at + 4, true) + 1,
      ];
    else if (type === "string") texts.set(name, fromLatin1(value));
    else if (name === "channels") {
      channels = [];
      while (at < next - 1) {
        const channel = text();
        if (channel === null || at + 16 > next) return null;
        channels.push({ name: channel, type: view.getInt32(at, true) });
        at += 16;
      }
    }
    at = next;
  }
  return { width, height, compression, channels, texts, end: at };
}

/** Header attributes of type string; none where the header cannot be read. */
export const readExrTexts = (bytes: Uint8Array): ReadonlyMap<string, string> =>
  (isExr(bytes) ? readHeader(bytes) : null)?.texts ?? new Map<string, string>();

/** Bytes of one value. */
const typeBytes = (type: number): number => (type === 1 ? 2 : 4);

/** The closest that zlib can pack, to one (its technical details, "Maximum Compression Factor": 1032). */
const MOST_RATIO = 1_100;

/** Null where the bytes cannot be inflated, or come to more than `most`. */
type Inflate = (bytes: Uint8Array, most: number) => Uint8Array | null;

/** Bytes of a block as they were before compression, or null when they do not unpack. */
function unpack(header: ExrHeader, bytes: Uint8Array, length: number, inflate: Inflate): Uint8Array | null {
  if (bytes.length === length) return bytes;
  // Nothing is made room for that cannot be in there.
  if (header.compression === 0 || length > bytes.length * MOST_RATIO) return null;
  const flat = header.compression === 1 ? expandRuns(bytes, length) : inflate(bytes, length);
  return flat === null || flat.length !== length ? null : arrangeBack(flat);
}

/**
 * Is an OpenEXR file whole? Header, offsets, every block inside the file with its line; deep: every block
 * unpacks.
 */
export function checkExr(bytes: Uint8Array, inflate: Inflate, deep = false): FileVerdict {
  if (bytes.length === 0) return damaged("exr", "empty", "the file is empty");
  if (!isExr(bytes))
    return bytes.length < 4
      ? damaged("exr", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("exr", "not-an-image", "the file does not begin like an OpenEXR picture");
  const header = readHeader(bytes);
  if (header === null)
    return damaged("exr", "truncated", `cut short after ${bytes.length} bytes, before the header ends`);
  const { width, height, channels } = header;
  if (width < 1 || height < 1 || channels.length === 0)
    return damaged("exr", "corrupt", "the header does not fit together");
  const lines = LINES[header.compression];
  if (lines === undefined) return unsupported("exr", "its compression cannot be checked");
  const shape = { width, height, channels: channels.length, bitDepth: typeBytes(channels[0]!.type) * 8 };
  const count = Math.ceil(height / lines);
  const view = viewOf(bytes);
  const lineBytes = width * channels.reduce((sum, c) => sum + typeBytes(c.type), 0);
  for (let i = 0; i < count; i++) {
    const share = i / count;
    const place = header.end + i * 8;
    const offset = place + 8 > bytes.length ? Infinity : Number(view.getBigUint64(place, true));
    const size = offset + 8 > bytes.length ? Infinity : view.getInt32(offset + 4, true);
    if (offset + 8 + size > bytes.length)
      return damaged(
        "exr",
        "truncated",
        `cut short after ${bytes.length} bytes; ${Math.floor(share * 100)} % of the picture is there`,
        shape,
        share,
      );
    if (size < 1 || view.getInt32(offset, true) !== i * lines)
      return damaged("exr", "corrupt", `block ${i + 1} is not where it must be`, shape, share);
    if (
      deep &&
      unpack(
        header,
        bytes.subarray(offset + 8, offset + 8 + size),
        Math.min(lines, height - i * lines) * lineBytes,
        inflate,
      ) === null
    )
      return damaged("exr", "corrupt", `block ${i + 1} does not unpack`, shape, share);
  }
  return goodVerdict("exr", shape);
}

/**
 * Pixels of a whole file. Channels in the order R G B A, or Y A, where they are there, else as the file has them. Null
 * where a block does not unpack.
 */
export function readExr(
  bytes: Uint8Array,
  inflate: Inflate,
): (FloatImage & { readonly names: readonly string[] }) | null {
  const header = readHeader(bytes);
  const lines = header === null ? undefined : LINES[header.compression];
  if (header === null || lines === undefined || header.channels.length > 4) return null;
  const { width, height } = header;
  if (width > MAX_SIDE || height > MAX_SIDE) return null;
  const usual = ["R", "G", "B", "Y", "A"].filter((name) => header.channels.some((c) => c.name === name));
  const names = usual.length === header.channels.length ? usual : header.channels.map((c) => c.name);
  const n = names.length as Channels;
  const data = new Float32Array(width * height * n);
  const view = viewOf(bytes);
  const lineBytes = width * header.channels.reduce((sum, c) => sum + typeBytes(c.type), 0);
  for (let y = 0, i = 0; y < height; y += lines, i++) {
    const offset = Number(view.getBigUint64(header.end + i * 8, true));
    const end = Math.min(height, y + lines);
    const raw = unpack(
      header,
      bytes.subarray(offset + 8, offset + 8 + view.getInt32(offset + 4, true)),
      (end - y) * lineBytes,
      inflate,
    );
    if (raw === null) return null;
    const block = viewOf(raw);
    let at = 0;
    for (let line = y; line < end; line++) {
      for (const { name, type } of header.channels) {
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
