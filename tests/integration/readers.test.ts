/**
 * Picture files that are not ours: whole ones are never called damaged, damaged ones never whole, and no file that lies
 * is anything but judged.
 */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { checkFile, kindOfName, readImageTexts } from "@/core/image/check-file";
import { checkDeep } from "@/server/files/check-deep";
import { imageTools } from "@/server/files/image-tools";
import { type ForeignPicture, HEIGHT, WIDTH, writeForeignPictures } from "../support/foreign-pictures";

interface Loaded extends ForeignPicture {
  readonly bytes: Buffer;
}

let folder: string;
let pictures: readonly Loaded[];
let refused: readonly string[];
beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-readers-"));
  const all = await writeForeignPictures(folder);
  refused = all.refused;
  pictures = await Promise.all(
    all.written.map(async (picture) => ({
      ...picture,
      bytes: await fs.readFile(path.join(folder, picture.name)),
    })),
  );
}, 900_000);
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

/** The same numbers each time: a seed that fails stays one. */
function randomFrom(seed: number): (below: number) => number {
  let state = seed >>> 0;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

const judge = ({ name, bytes }: { name: string; bytes: Uint8Array }, deep = false) =>
  checkFile(name, bytes, imageTools, deep);

/** What a program of this machine may not be able to write; everything else has to be there. */
const MAY_LACK = /^(i-.*\.exr|float32\.tif|s-fax\.tif|s-zstd\.tif|c-lerc\.tif)$/;

test("files of every format, depth and compression that public programs write are whole, and of their size", () => {
  expect(refused.filter((line) => !MAY_LACK.test(line.split(":")[0]!))).toEqual([]);
  for (const kind of ["png", "jpeg", "tiff", "exr", "bmp", "hdr", "webp", "tga", "dpx"])
    expect([kind, pictures.some(({ name }) => kindOfName(name) === kind)]).toEqual([kind, true]);
  const wrong = pictures.flatMap((picture) =>
    [false, true].flatMap((deep) => {
      const verdict = judge(picture, deep);
      return verdict.verdict === "good" && verdict.width === WIDTH && verdict.height === HEIGHT
        ? []
        : [{ name: picture.name, deep, ...verdict }];
    }),
  );
  expect(wrong).toEqual([]);
});

test("cut anywhere, none of them is whole, and how much is said to be there grows with what is there", () => {
  const random = randomFrom(1);
  const missed: string[] = [];
  for (const { name, bytes } of pictures) {
    const places = Array.from({ length: 200 }, () => random(bytes.length)).sort((a, b) => a - b);
    let share = 0;
    for (const length of places) {
      const verdict = judge({ name, bytes: bytes.subarray(0, length) });
      // A picture of this kind may stand without the mark behind it, which is all that is cut off here.
      const isMark = name.endsWith(".tga") && bytes.length - length < 26;
      if (verdict.verdict !== "damaged" && !isMark) missed.push(`${name} at ${length} of ${bytes.length}`);
      // Of a progressive picture that lacks finer scans it cannot be told.
      if (verdict.share !== null && verdict.share < share - 1e-9)
        missed.push(`${name}: less of it at ${length}`);
      share = Math.max(share, verdict.share ?? 0);
    }
  }
  expect(missed).toEqual([]);
});

test("one bit that is turned over is found where the format carries a check value", () => {
  const random = randomFrom(2);
  /** Flips that were not found, of so many. */
  const flip = (
    { name, bytes }: Loaded,
    from: number,
    to: number,
    deep: boolean,
  ): readonly [number, number] => {
    const flips = 60;
    let missed = 0;
    for (let i = 0; i < flips; i++) {
      const at = Math.floor(bytes.length * from) + random(Math.floor(bytes.length * (to - from)));
      const bent = Buffer.from(bytes);
      bent[at]! ^= 1 << random(8);
      if (judge({ name, bytes: bent }, deep).verdict !== "damaged") missed++;
    }
    return [missed, flips];
  };
  const sum = (counts: readonly (readonly [number, number])[]): readonly [number, number] =>
    counts.reduce(([a, b], [c, d]) => [a + c, b + d], [0, 0]);
  const named = (pattern: RegExp): Loaded[] => pictures.filter(({ name }) => pattern.test(name));
  expect(sum(named(/\.png$/).map((p) => flip(p, 0, 1, false)))[0]).toBe(0);
  // In the middle lie the packed pixels, with the sum that zlib puts behind them: some bits of a stream can be written
  // either way, and a sum of 32 bits has its doubles.
  const [missed, flips] = sum([
    ...named(/^(zip|c-zip2|c-big|planes|f-deflate|cmyk)\.tif$/).map((p) => flip(p, 0.3, 0.6, true)),
    ...named(/^(f-zip16|f-zip1|i-zips?|i-pxr24)\.exr$/).map((p) => flip(p, 0.4, 0.9, true)),
  ]);
  expect(flips).toBeGreaterThan(400);
  expect(missed / flips).toBeLessThan(0.02);
});

test("a hole of noughts in packed pixels is found by unpacking them", () => {
  const missed: string[] = [];
  for (const { name, bytes } of pictures) {
    if (!/^(f-zip16|i-zips?|i-pxr24)\.exr$|^(zip|lzw|c-zip2|c-lzw2|planes)\.tif$|\.png$/.test(name)) continue;
    const holed = Buffer.from(bytes);
    const at = Math.floor(bytes.length * 0.45);
    holed.fill(0, at, at + 64);
    if (holed.equals(bytes)) continue;
    if (judge({ name, bytes: holed }, true).verdict !== "damaged") missed.push(name);
  }
  expect(missed).toEqual([]);
});

test("noughts from somewhere to the end are found where lines, blocks or codes tell their place", () => {
  const random = randomFrom(3);
  const found = { all: 0, seen: 0 };
  for (const { name, bytes } of pictures) {
    // Plain pixels that are nought are black, and nothing in the file says otherwise.
    if (/\.(bmp|tga|dpx|webp)$/.test(name)) continue;
    for (let i = 0; i < 10; i++) {
      const tail = Buffer.from(bytes);
      tail.fill(0, random(Math.floor(bytes.length * 0.95)));
      found.all++;
      if (judge({ name, bytes: tail }).verdict === "damaged") found.seen++;
    }
  }
  expect(found.seen / found.all).toBeGreaterThan(0.95);
});

test("the deep check calls a codec where the core unpacks nothing itself, and finds every whole file whole", async () => {
  const wrong: unknown[] = [];
  for (const { name, bytes } of pictures) {
    const verdict = await checkDeep(name, bytes);
    if (verdict.verdict !== "good") wrong.push([name, verdict.detail]);
  }
  expect(wrong).toEqual([]);
  const { bytes } = pictures.find(({ name }) => name === "lossless.webp")!;
  const bent = Buffer.from(bytes).fill(0xff, Math.floor(bytes.length / 2));
  expect(await checkDeep("a.webp", bent)).toMatchObject({
    verdict: "damaged",
    detail: expect.stringContaining("does not unpack"),
    width: WIDTH,
  });
});

test("TIFFs that are packed in ways of their own are unpacked piece by piece, and a hole in one is found", async () => {
  const packed = pictures.filter(({ name }) => /(zstd|lerc).*\.tif$/.test(name));
  expect(packed.length).toBeGreaterThanOrEqual(1);
  for (const { name, bytes } of packed) {
    const holed = Buffer.from(bytes);
    holed.fill(0, Math.floor(bytes.length * 0.3), Math.floor(bytes.length * 0.6));
    expect([name, await checkDeep(name, holed)]).toEqual([
      name,
      expect.objectContaining({ verdict: "damaged", code: "corrupt", width: WIDTH }),
    ]);
  }
});

test("a plain picture that is nought from a sector on to its end is told of, and not judged for it", () => {
  const { name, bytes } = pictures.find((picture) => picture.name === "rgb24.tga")!;
  const tail = Buffer.from(bytes);
  tail.fill(0, 4_096);
  expect(judge({ name, bytes: tail })).toMatchObject({
    verdict: "good",
    notes: ["nothing but noughts from byte 4096 on, as of a copy that ended there"],
  });
});

test("nothing at all, noughts alone, another kind of file and two files in one are told apart", () => {
  const png = pictures.find(({ name }) => name === "rgb16.png")!.bytes;
  const jpeg = pictures.find(({ name }) => name === "baseline.jpg")!.bytes;
  expect(judge({ name: "a.0001.hdr", bytes: Buffer.alloc(0) })).toMatchObject({ code: "empty" });
  expect(judge({ name: "a.0001.dpx", bytes: Buffer.alloc(5_000) })).toMatchObject({
    code: "not-an-image",
    detail: "all of its 5000 bytes are nought",
  });
  expect(judge({ name: "a.0001.tif", bytes: png })).toMatchObject({
    code: "not-an-image",
    detail: "it is named as a TIFF, and is a PNG",
  });
  expect(judge({ name: "a.0001.bmp", bytes: Buffer.from("once upon a time") })).toMatchObject({
    code: "not-an-image",
  });
  for (const [name, bytes] of [
    ["a.png", png],
    ["a.jpg", jpeg],
  ] as const)
    expect(judge({ name, bytes: Buffer.concat([bytes, bytes]) })).toMatchObject({
      verdict: "good",
      notes: [`${bytes.length} bytes follow the end`],
    });
});

test("junk between the segments of a JPEG, and fill bytes, do the picture no harm", () => {
  const { bytes } = pictures.find(({ name }) => name === "progressive.jpg")!;
  const after = 2 + 2 + bytes.readUInt16BE(4);
  for (const junk of [Buffer.from([0xff, 0xff]), Buffer.from("junk"), Buffer.from([0xff, 0x00, 7])])
    expect(
      judge({
        name: "a.jpg",
        bytes: Buffer.concat([bytes.subarray(0, after), junk, bytes.subarray(after)]),
      }),
    ).toMatchObject({ verdict: "good", width: WIDTH });
});

test("bytes that fill up the end of a scan are none of its picture, however many", () => {
  const { bytes } = pictures.find(({ name }) => name === "baseline.jpg")!;
  const filled = Buffer.concat([bytes.subarray(0, -2), Buffer.alloc(3_000, 0xff), bytes.subarray(-2)]);
  expect(judge({ name: "a.jpg", bytes: filled })).toMatchObject({ verdict: "good", notes: [] });
});

test("whatever a file says of itself, it is judged: numbers that lie, bytes that are gone, doubled or bent", () => {
  const random = randomFrom(4);
  const LIES = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff];
  for (const { name, bytes } of pictures) {
    for (let i = 0; i < 80; i++) {
      const bent = Buffer.from(bytes);
      const at = random(i % 2 === 0 ? Math.min(400, bent.length - 4) : bent.length - 4);
      if (i % 4 < 2) bent.writeUInt32LE(LIES[random(LIES.length)]!, at);
      else if (i % 4 === 2) bent.copy(bent, at, random(bent.length));
      else for (let k = 0; k < 8; k++) bent[random(bent.length)] = random(256);
      const verdict = judge({ name, bytes: bent }, i % 8 === 0);
      expect([name, i, ["good", "damaged", "unsupported"].includes(verdict.verdict)]).toEqual([
        name,
        i,
        true,
      ]);
      readImageTexts(bent);
    }
  }
});
