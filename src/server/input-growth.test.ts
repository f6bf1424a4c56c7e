/**
 * Whatever comes from outside costs in proportion to its length: the work for ten times as much is at most
 * 25 times the work. Counted in processor time of this process, which other programs do not lengthen; what
 * collects garbage does, now and then, so that the fact must be seen once in several tries. A reader whose work
 * grows with the square takes a hundred times as much in every one of them.
 */
import zlib from "node:zlib";
import { checker } from "@/contract/validate";
import { matchEdit } from "@/core/edit/edit-use";
import { readEdl } from "@/core/edit/edl";
import { readOtio } from "@/core/edit/otio";
import { EMPTY } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { checkFile, readImageTexts } from "@/core/image/check-file";
import { chunkBytes, PNG_SIGNATURE } from "@/core/image/png-format";
import { jsonFaultLine } from "@/core/json-fault";
import { groupFiles } from "@/core/naming/group-files";
import { parsePattern } from "@/core/naming/pattern";
import { timeCode } from "@/core/timing/time-code";
import { LineCutter } from "./engines/line-cutter";
import { imageTools } from "./files/image-tools";

const RATE = { numerator: 24, denominator: 1 };
const SHOTS = [{ code: "HL010", timeLine: { first: 0, last: 9_000_000, rate: RATE } }];
const crc32 = (bytes: Uint8Array, value = 0): number => zlib.crc32(bytes, value);

const phrase = (text: string): unknown => parsePhrase(text, () => EMPTY);
const edl = (text: string): unknown => {
  const read = readEdl(text, RATE);
  return read.ok ? matchEdit(read.edit, SHOTS) : read;
};
/** Events of two frames each, a gap between them. */
const events = (n: number): string =>
  Array.from({ length: n }, (_, i) => {
    const [from, to] = [timeCode(i * 4, RATE), timeCode(i * 4 + 2, RATE)];
    return `${String(i % 1000).padStart(3, "0")}  HL010  V  C  ${from} ${to} ${from} ${to}\n`;
  }).join("");
const clips = (n: number): string =>
  JSON.stringify({
    OTIO_SCHEMA: "Timeline.1",
    name: "CUT",
    tracks: {
      OTIO_SCHEMA: "Stack.1",
      children: [
        {
          OTIO_SCHEMA: "Track.1",
          kind: "Video",
          children: Array.from({ length: n }, (_, i) => ({
            OTIO_SCHEMA: "Clip.2",
            name: "HL010",
            source_range: {
              OTIO_SCHEMA: "TimeRange.1",
              start_time: { OTIO_SCHEMA: "RationalTime.1", rate: 24, value: i * 4 },
              duration: { OTIO_SCHEMA: "RationalTime.1", rate: 24, value: 2 },
            },
          })),
        },
      ],
    },
  });
const anything = checker<unknown>({ type: "object" });
const broken = (text: string): unknown => {
  try {
    return JSON.parse(text);
  } catch (error) {
    return jsonFaultLine(text, error as Error);
  }
};
const lines = (text: string): unknown => {
  let heard = 0;
  const cutter = new LineCutter(900, () => heard++);
  for (let i = 0; i < text.length; i += 1_000) cutter.write(text.slice(i, i + 1_000));
  cutter.end();
  return heard;
};
/** A picture of one pixel with so many chunks of text. */
function chunks(n: number): Uint8Array {
  const header = Uint8Array.of(0, 0, 0, 1, 0, 0, 0, 1, 8, 0, 0, 0, 0);
  return Buffer.concat([
    PNG_SIGNATURE,
    chunkBytes("IHDR", header, crc32),
    ...Array.from({ length: n }, (_, i) => chunkBytes("tEXt", Buffer.from(`k${i}\0text`), crc32)),
    chunkBytes("IDAT", zlib.deflateSync(Buffer.alloc(2)), crc32),
    chunkBytes("IEND", new Uint8Array(0), crc32),
  ]);
}
/** So many tags, each of which points at the same few bytes. */
function tags(n: number): Uint8Array {
  const bytes = Buffer.alloc(8 + 2 + n * 12 + 4);
  bytes.write("II", "latin1");
  bytes.writeUInt16LE(42, 2);
  bytes.writeUInt32LE(8, 4);
  bytes.writeUInt16LE(n, 8);
  for (let i = 0; i < n; i++) {
    const at = 10 + i * 12;
    bytes.writeUInt16LE(256 + (i % 60), at);
    bytes.writeUInt16LE(3, at + 2);
    bytes.writeUInt32LE(n, at + 4);
    bytes.writeUInt32LE(8, at + 8);
  }
  return bytes;
}
/** So many attributes that nobody asks for, and nothing behind them. */
const attributes = (n: number): Uint8Array =>
  Buffer.concat([
    Buffer.from([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0]),
    ...Array.from({ length: n }, (_, i) => Buffer.from(`a${i}\0string\0\x04\0\0\0text`, "latin1")),
    Buffer.from([0]),
  ]);
/** JPEG segments of comment. */
const comments = (n: number): Uint8Array =>
  Buffer.concat([
    Buffer.from([0xff, 0xd8]),
    ...Array.from({ length: n }, () => Buffer.from([0xff, 0xfe, 0, 6, 65, 66, 67, 68])),
    Buffer.from([0xff, 0xd9]),
  ]);
/** A progressive JPEG of many scans, each of one code that stands for all of its blocks. */
function scans(n: number): Uint8Array {
  const segment = (marker: number, ...data: number[]): Buffer =>
    Buffer.from([0xff, marker, (data.length + 2) >> 8, (data.length + 2) & 255, ...data]);
  const scan = Buffer.concat([segment(0xda, 1, 1, 0, 1, 63, 0), Buffer.from([0, 0, 0])]);
  return Buffer.concat([
    Buffer.from([0xff, 0xd8]),
    segment(0xc2, 8, 0x20, 0, 0x20, 0, 1, 1, 0x11, 0),
    // One code of one bit: the end of a band of up to 32,767 blocks.
    segment(0xc4, 0x10, 1, ...Array.from({ length: 15 }, () => 0), 0xe0),
    ...Array.from({ length: n }, () => scan),
    Buffer.from([0xff, 0xd9]),
  ]);
}
/** Chunks of a RIFF container that nobody knows. */
const riff = (n: number): Uint8Array =>
  Buffer.concat([
    Buffer.from("RIFF\xff\xff\xff\x7fWEBP", "latin1"),
    Buffer.from("JUNK\0\0\0\0".repeat(n), "latin1"),
  ]);
/** Lines of a Radiance picture, each of as few runs as there can be. */
const hdrLines = (n: number): Uint8Array => {
  const line = Buffer.concat([Buffer.from([2, 2, 0, 127]), Buffer.from([255, 0, 255, 0, 255, 0, 255, 0])]);
  const head = Buffer.from(`#?RADIANCE\n\n-Y ${n} +X 127\n`, "latin1");
  return Buffer.concat([head, ...Array.from({ length: n }, () => line)]);
};
/** Packets of run lengths. */
const tgaRuns = (n: number): Uint8Array => {
  const head = Buffer.alloc(18);
  head[2] = 11;
  head.writeUInt16LE(65_535, 12);
  head.writeUInt16LE(65_535, 14);
  head[16] = 8;
  return Buffer.concat([head, Buffer.alloc(n * 2, 0x80)]);
};
const picture =
  (name: string) =>
  (bytes: Uint8Array): unknown => [checkFile(name, bytes, imageTools), readImageTexts(bytes)];
/** Most: where the form itself allows no more. */
const reader = <T>(read: (input: T) => unknown, make: (n: number) => T, most = 300_000) => ({
  most,
  make,
  read: (input: unknown) => read(input as T),
});

const READERS: Readonly<Record<string, ReturnType<typeof reader>>> = {
  "blanks in the brackets of a phrase": reader(phrase, (n) => `marker(${" ".repeat(n)}x`),
  "a phrase of many ranges": reader(phrase, (n) => "1-999999/2,".repeat(n / 10)),
  "a phrase of ranges side by side": reader(phrase, (n) =>
    Array.from({ length: n / 10 }, (_, i) => `${i * 3}-${i * 3 + 1}`).join(","),
  ),
  "a phrase of brackets": reader(phrase, (n) => "marker(".repeat(n / 7)),
  "a phrase of exceptions": reader(phrase, (n) => `1-9999999${" not 5".repeat(n / 6)}`),
  "a name pattern of braces": reader(
    (text: string) => parsePattern(text, 4),
    (n) => "{".repeat(n),
  ),
  "a name pattern of parts": reader(
    (text: string) => parsePattern(text, 4),
    (n) => "{shot}".repeat(n / 6),
  ),
  "an edit list of many events": reader(edl, (n) => events(n / 60)),
  "an edit list of blanks": reader(edl, (n) => `001${" ".repeat(n)}HL010`),
  "an edit list of comments": reader(
    edl,
    (n) => `001  HL010  V\n${"* FROM CLIP NAME: HL010\n".repeat(n / 24)}`,
  ),
  "an interchange of many clips": reader(
    (text: string) => {
      const read = readOtio(text, RATE);
      return read.ok ? matchEdit(read.edit, SHOTS) : read;
    },
    (n) => clips(n / 200),
  ),
  "an interchange that is nested": reader(
    (text: string) => readOtio(text, RATE),
    (n) => `${'{"OTIO_SCHEMA":"Stack.1","children":['.repeat(n / 40)}${"]}".repeat(n / 40)}`,
  ),
  "a body of many members": reader(anything, (n) =>
    Object.fromEntries(Array.from({ length: n / 10 }, (_, i) => [`k${i}`, "v"])),
  ),
  "a body that is nested": reader(
    (text: string) => anything(JSON.parse(text)),
    (n) => `${'{"a":'.repeat(n / 6)}1${"}".repeat(n / 6)}`,
    // Of JSON.parse itself, deeper is the end of its stack.
    30_000,
  ),
  "a body that breaks off": reader(broken, (n) => `[${"1,\n".repeat(n / 3)}`),
  "output without a line's end": reader(lines, (n) => "x".repeat(n * 10), 3_000_000),
  "output of short lines": reader(lines, (n) => "x\n".repeat(n)),
  "a PNG of many texts": reader(picture("x.png"), (n) => chunks(n / 25)),
  "a TIFF of many tags": reader(picture("x.tif"), (n) => tags(Math.min(65_000, Math.floor(n / 12))), 78_000),
  "an OpenEXR of many attributes": reader(picture("x.exr"), (n) => attributes(n / 25)),
  "a JPEG of many comments": reader(picture("x.jpg"), (n) => comments(n / 8)),
  "a JPEG of many scans": reader(picture("x.jpg"), (n) => scans(n / 10)),
  "a WebP of many chunks": reader(picture("x.webp"), (n) => riff(n / 8)),
  "a Radiance picture of many lines": reader(picture("x.hdr"), (n) => hdrLines(n / 12)),
  "a TGA of many packets": reader(picture("x.tga"), (n) => tgaRuns(n / 2)),
  "a folder of one sequence": reader(groupFiles, (n) =>
    Array.from({ length: n / 20 }, (_, i) => ({ name: `quay.${String(i).padStart(6, "0")}.png`, bytes: 1 })),
  ),
  "a folder of single files": reader(groupFiles, (n) =>
    Array.from({ length: n / 20 }, (_, i) => ({ name: `take${i}_a.1.png`, bytes: 1 })),
  ),
};

const GROWTH = 10;
/**
 * For ten times the length: what grows with the square takes a hundred times. Cleaning up behind a large input costs
 * more than behind ten small ones, and all the more while other tests share the memory: 15 times was seen.
 */
const MOST_GROWTH = 25;
const TRIES = 20;
const WARM_UP = 20;
/** Shorter than that, and a measure says nothing. */
const LEAST_MS = 1;

function cpuMs(work: () => unknown): number {
  const before = process.cpuUsage();
  work();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1_000;
}

/**
 * How many times the work of the short one the long one takes. Ten short ones stand beside each long one, so that
 * both meet the same machine; it is the best of several tries, and the first that is within bounds will do.
 */
function growthOf<T>(read: (input: T) => unknown, short: T, long: T, tries = TRIES): number {
  for (let i = 0; i < WARM_UP; i++) read(short);
  let growth = Infinity;
  for (let i = 0; i < tries && growth > MOST_GROWTH; i++) {
    const ten = cpuMs(() => Array.from({ length: GROWTH }, () => read(short)));
    growth = Math.min(growth, (cpuMs(() => read(long)) * GROWTH) / Math.max(ten, 0.001));
  }
  return growth;
}

test.each(Object.keys(READERS))("%s: ten times as much is at most 25 times the work", (name) => {
  const { read, make, most } = READERS[name]!;
  let n = 600;
  for (; n * 2 * GROWTH <= most && cpuMs(() => read(make(n))) < LEAST_MS; n *= 2);
  expect(growthOf(read, make(n), make(n * GROWTH))).toBeLessThanOrEqual(MOST_GROWTH);
});

test("the measure itself tells a reader whose work grows faster, however busy the machine is", () => {
  const cube = (n: number): number => {
    let sum = 0;
    for (let i = 0; i < n * n * n; i++) sum = (sum + i) % 1_009;
    return sum;
  };
  expect(growthOf(cube, 60, 600, 3)).toBeGreaterThan(MOST_GROWTH);
});
