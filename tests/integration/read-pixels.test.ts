/** Pixels of pictures that other programs wrote, against what those programs say is in them. */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { promisify } from "node:util";
import { isInteger, type ReadPicture, readPixels } from "@/server/files/read-pixels";

const run = promisify(execFile);
const [WIDTH, HEIGHT] = [37, 21];
let folder: string;
const place = (name: string): string => path.join(folder, name);
const convert = (...words: string[]): Promise<unknown> => run("convert", words, { cwd: folder });
const ffmpeg = (...words: string[]): Promise<unknown> =>
  run("ffmpeg", ["-v", "error", "-y", ...words], { cwd: folder });

beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-pixels-"));
  const size = `${WIDTH}x${HEIGHT}`;
  // Every channel runs a way of its own, so that no two can be mistaken for one another, or a line for another.
  await convert(
    "-size",
    size,
    "gradient:red-blue",
    "(",
    "-size",
    size,
    "plasma:green-orange",
    ")",
    "-average",
    "-depth",
    "16",
    "colour.png",
  );
  await convert(
    "colour.png",
    "(",
    "-size",
    size,
    "gradient:white-black",
    ")",
    "-compose",
    "CopyOpacity",
    "-composite",
    "-depth",
    "16",
    "alpha.png",
  );
});
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

/** Values from 0 to 1, red, green, blue and alpha; grey is spread, no alpha is whole. */
function spread(picture: ReadPicture): Float64Array {
  const top = isInteger(picture) ? (picture.depth === 8 ? 255 : 65_535) : 1;
  const { channels, data } = picture;
  const out = new Float64Array(picture.width * picture.height * 4);
  for (let p = 0; p < picture.width * picture.height; p++)
    for (let c = 0; c < 4; c++) {
      const from = c === 3 ? (channels % 2 === 0 ? channels - 1 : -1) : channels < 3 ? 0 : c;
      out[p * 4 + c] = from < 0 ? 1 : data[p * channels + from]! / top;
    }
  return out;
}

/** As the other program reads it. @returns values from 0 to 1 */
async function wantedOf(name: string): Promise<Float64Array> {
  // ImageMagick takes DPX for densities and makes light of them, and minds not where a TGA's first line stands.
  const isFfmpegs = /\.(?:dpx|tga)$/.test(name);
  const [program, words] = isFfmpegs
    ? (["ffmpeg", ["-v", "error", "-i", name, "-f", "rawvideo", "-pix_fmt", "rgba64le", "-"]] as const)
    : (["convert", [name, "-depth", "16", "-endian", "LSB", "rgba:-"]] as const);
  const { stdout } = await run(program, words, { cwd: folder, encoding: "buffer", maxBuffer: 1 << 26 });
  const words16 = new Uint16Array(stdout.buffer, stdout.byteOffset, stdout.length / 2);
  return Float64Array.from(words16, (value) => value / 65_535);
}

const largestGap = (one: Float64Array, other: Float64Array): number => {
  expect(one.length).toBe(other.length);
  return one.reduce((gap, value, i) => Math.max(gap, Math.abs(value - other[i]!)), 0);
};

const read = async (name: string): Promise<ReadPicture> => readPixels(name, await fs.readFile(place(name)));

/** Name, how it is made, and by how much a value may be off: a step of its depth, or what its codec loses. */
const STEP = { 8: 0.75 / 255, 16: 0.6 / 65_535, 10: 0.6 / 1_023, 12: 0.6 / 4_095 } as const;
test.each<[string, (name: string) => Promise<unknown>, number]>([
  ["p16.png", (name) => convert("colour.png", name), STEP[16]],
  ["p8.png", (name) => convert("colour.png", "-depth", "8", name), STEP[8]],
  ["pa16.png", (name) => convert("alpha.png", name), STEP[16]],
  ["grey16.png", (name) => convert("colour.png", "-colorspace", "Gray", name), STEP[16]],
  ["t8.tif", (name) => convert("colour.png", "-depth", "8", "-compress", "LZW", name), STEP[8]],
  ["t16.tif", (name) => convert("alpha.png", "-compress", "Zip", name), STEP[16]],
  [
    "tf.tif",
    (name) => convert("colour.png", "-depth", "32", "-define", "quantum:format=floating-point", name),
    STEP[16],
  ],
  ["j.jpg", (name) => convert("colour.png", "-quality", "100", name), 3 / 255],
  [
    "w.webp",
    (name) =>
      convert(
        "alpha.png",
        "-depth",
        "8",
        "-define",
        "webp:lossless=true",
        "-define",
        "webp:exact=true",
        name,
      ),
    STEP[8],
  ],
  ["a.tga", (name) => convert("colour.png", "-depth", "8", name), STEP[8]],
  ["rle.tga", (name) => convert("alpha.png", "-depth", "8", "-compress", "RLE", name), STEP[8]],
  ["down.tga", (name) => convert("colour.png", "-depth", "8", "-orient", "TopLeft", name), STEP[8]],
  ["24.bmp", (name) => convert("colour.png", "-type", "TrueColor", "-depth", "8", `BMP3:${name}`), STEP[8]],
  [
    "first.bmp",
    (name) => convert("colour.png", "-type", "TrueColor", "-depth", "8", `BMP2:${name}`),
    STEP[8],
  ],
  ["alpha.bmp", (name) => convert("alpha.png", "-depth", "8", name), STEP[8]],
  [
    "table.bmp",
    (name) => convert("colour.png", "-colors", "90", "-type", "Palette", `BMP3:${name}`),
    STEP[8],
  ],
  ["four.bmp", (name) => convert("colour.png", "-colors", "11", "-type", "Palette", `BMP3:${name}`), STEP[8]],
  ["one.bmp", (name) => convert("colour.png", "-monochrome", `BMP3:${name}`), STEP[8]],
  ["rle8.bmp", (name) => convert("colour.png", "-colors", "90", "-compress", "RLE", `BMP3:${name}`), STEP[8]],
  ["565.bmp", (name) => ffmpeg("-i", "colour.png", "-pix_fmt", "rgb565le", name), 4 / 255],
  ["555.bmp", (name) => ffmpeg("-i", "colour.png", "-pix_fmt", "rgb555le", name), 4 / 255],
  ["8.dpx", (name) => ffmpeg("-i", "colour.png", "-pix_fmt", "rgb24", name), STEP[8]],
  ["10.dpx", (name) => convert("colour.png", "-depth", "10", name), STEP[10]],
  ["10f.dpx", (name) => ffmpeg("-i", "colour.png", "-pix_fmt", "gbrp10be", name), STEP[10]],
  ["12.dpx", (name) => ffmpeg("-i", "colour.png", "-pix_fmt", "gbrp12be", name), STEP[12]],
  ["16.dpx", (name) => ffmpeg("-i", "colour.png", "-pix_fmt", "rgb48be", name), STEP[16]],
])("%s holds what its writer says", async (name, make, off) => {
  await make(name);
  const picture = await read(name);
  expect([picture.width, picture.height]).toEqual([WIDTH, HEIGHT]);
  expect(largestGap(spread(picture), await wantedOf(name))).toBeLessThanOrEqual(off);
});

/** One line of floating point numbers, as a TIFF without compression: no program here writes any. */
function floatTiff(values: readonly number[], channels: number): Uint8Array {
  const [short, long] = [3, 4];
  const tags: readonly (readonly [tag: number, type: number, value: number])[] = [
    [256, long, values.length / channels],
    [257, long, 1],
    [258, short, 32],
    [259, short, 1],
    [262, short, channels === 1 ? 1 : 2],
    [273, long, 8],
    [277, short, channels],
    [278, long, 1],
    [279, long, values.length * 4],
    [339, short, 3],
  ];
  const pixels = values.length * 4;
  const bits = 8 + pixels;
  const directory = bits + 12;
  const out = Buffer.alloc(directory + 2 + tags.length * 12 + 4);
  out.write("II*\0", 0, "latin1");
  out.writeUInt32LE(directory, 4);
  values.forEach((value, i) => out.writeFloatLE(value, 8 + i * 4));
  // Depth and kind of each channel: three of them do not fit into the tag itself.
  for (let c = 0; c < 3; c++) {
    out.writeUInt16LE(32, bits + c * 2);
    out.writeUInt16LE(3, bits + 6 + c * 2);
  }
  out.writeUInt16LE(tags.length, directory);
  tags.forEach(([tag, type, value], i) => {
    const at = directory + 2 + i * 12;
    const isList = channels === 3 && (tag === 258 || tag === 339);
    out.writeUInt16LE(tag, at);
    out.writeUInt16LE(type, at + 2);
    out.writeUInt32LE(isList ? 3 : 1, at + 4);
    out.writeUInt32LE(isList ? (tag === 258 ? bits : bits + 6) : value, at + 8);
  });
  return out;
}

const FLOATS = [0, 0.18, 1, 7.5, 300, 0.001, -0.25, 42, 0.5, 2, 3, 4];

test.each([
  ["exr", 3],
  ["tif", 3],
  ["tif", 1],
])(
  "floating point numbers in %s, %i channels: light above white and below nought stays what it is",
  async (ending, channels) => {
    const name = `floats${channels}.${ending}`;
    await fs.writeFile(place("floats.raw"), new Uint8Array(Float32Array.from(FLOATS).buffer));
    const width = FLOATS.length / channels;
    if (ending === "exr") {
      // A plane a channel, in the order green, blue, red.
      const planes = [1, 2, 0].flatMap((c) => FLOATS.filter((_, i) => i % 3 === c));
      await fs.writeFile(place("floats.raw"), new Uint8Array(Float32Array.from(planes).buffer));
      await ffmpeg(
        "-f",
        "rawvideo",
        "-pix_fmt",
        "gbrpf32le",
        "-s",
        `${width}x1`,
        "-i",
        "floats.raw",
        "-format",
        "float",
        name,
      );
    } else await fs.writeFile(place(name), floatTiff(FLOATS, channels));
    const picture = await read(name);
    expect([picture.width, picture.channels]).toEqual([width, channels]);
    expect([...picture.data]).toEqual([...Float32Array.from(FLOATS)]);
  },
);

test("Radiance: the light of each pixel, to a share of its brightest", async () => {
  await convert("colour.png", "-colorspace", "RGB", "plain.exr");
  await convert("colour.png", "-colorspace", "RGB", "r.hdr");
  // Both from the same numbers; a common exponent leaves the dark channels of a bright pixel some 1/256 of it.
  expect(largestGap(spread(await read("r.hdr")), spread(await read("plain.exr")))).toBeLessThan(1 / 128);
});

describe("OpenEXR", () => {
  beforeAll(() => convert("alpha.png", "-colorspace", "RGB", "base.exr"));

  test.each(["none", "rle", "zip", "piz"])("%s, in lines and in tiles: bit for bit", async (compression) => {
    await convert("alpha.png", "-colorspace", "RGB", "-compress", compression, `${compression}.exr`);
    await run("exrmaketiled", ["-t", "16", "16", "-z", compression, "base.exr", `${compression}-tiles.exr`], {
      cwd: folder,
    });
    const wanted = spread(await read("base.exr"));
    for (const name of [`${compression}.exr`, `${compression}-tiles.exr`])
      expect([name, largestGap(spread(await read(name)), wanted)]).toEqual([name, 0]);
  });

  test.each([
    ["pxr24", 0],
    ["b44", 0.03],
    ["b44a", 0.03],
    ["dwab", 0.05],
  ])("%s loses no more than it may", async (compression, off) => {
    await run("exrmaketiled", ["-t", "64", "64", "-z", compression, "base.exr", `${compression}.exr`], {
      cwd: folder,
    });
    expect(
      largestGap(spread(await read(`${compression}.exr`)), spread(await read("base.exr"))),
    ).toBeLessThanOrEqual(off);
  });
});

test("what is cut short says how much is there, and what is deep is told by name", async () => {
  await convert("colour.png", "whole.png");
  const bytes = await fs.readFile(place("whole.png"));
  await expect(readPixels("whole.png", bytes.subarray(0, bytes.length >> 1))).rejects.toMatchObject({
    code: "picture-unreadable",
    message: expect.stringContaining("cut short"),
  });
  await expect(readPixels("notes.txt", Buffer.from("a note"))).rejects.toMatchObject({
    code: "picture-unreadable",
  });
});
