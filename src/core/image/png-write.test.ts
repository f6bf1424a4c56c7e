import zlib from "node:zlib";
import sharp from "sharp";
import { meanLuminance } from "./measure";
import { checkPng, filteredLength, type PngTools } from "./png-check";
import { chunksOf, readHeader, readTexts } from "./png-format";
import { type IntegerImage, rgb8 } from "./pixels";
import { writePng } from "./png-write";

const tools: PngTools & { deflate: (b: Uint8Array, level: number) => Uint8Array } = {
  crc32: (bytes, value) => zlib.crc32(bytes, value),
  deflate: (bytes, level) => zlib.deflateSync(bytes, { level }),
  inflate: (bytes) => zlib.inflateSync(bytes),
  inflatedLength: (parts) => zlib.inflateSync(Buffer.concat(parts)).length,
};

function image(width: number, height: number, at: (x: number, y: number, c: number) => number): IntegerImage {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) data[(y * width + x) * 3 + c] = at(x, y, c);
  return rgb8(width, height, data);
}

const PICTURES: readonly (readonly [string, IntegerImage])[] = [
  ["one pixel", image(1, 1, () => 200)],
  ["a single row", image(17, 1, (x) => x * 15)],
  ["a single column", image(1, 17, (_x, y) => y * 15)],
  ["a slope, which predicts well", image(64, 48, (x, y, c) => (x * 2 + y * 3 + c * 40) & 255)],
  [
    "grain, which does not",
    image(64, 48, (x, y, c) => (Math.imul(x * 7919 + y * 104729 + c * 1299709, 2654435761) >>> 24) & 255),
  ],
];

describe("what is written", () => {
  test.each(PICTURES)("%s is read by another decoder as the very same pixels", async (_name, picture) => {
    const { data, info } = await sharp(writePng(picture, { Software: "test" }, tools))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, info.channels]).toEqual([picture.width, picture.height, 3]);
    expect(Uint8Array.from(data)).toEqual(picture.data);
  });

  test.each(PICTURES)("%s passes our own deep check", (_name, picture) =>
    expect(checkPng(writePng(picture, {}, tools), tools, true).verdict).toBe("good"),
  );

  test("a slope is smaller with row filters than its bytes", () => {
    const slope = PICTURES[3]![1];
    expect(writePng(slope, {}, tools).length).toBeLessThan(slope.data.length / 8);
  });

  test("texts outside Latin-1 lose those letters and nothing else", () => {
    const texts = readTexts(writePng(PICTURES[0]![1], { Title: "Mole 1 – Übung" }, tools));
    expect(texts.get("Title")).toBe("Mole 1 ? Übung");
  });
});

describe("files of other writers", () => {
  const raw = { raw: { width: 33, height: 21, channels: 4 as const } };
  const pixels = Buffer.alloc(33 * 21 * 4, 77);
  test.each([
    ["with alpha", () => sharp(pixels, raw).png()],
    ["interlaced", () => sharp(pixels, raw).png({ progressive: true })],
    ["with a palette", () => sharp(pixels, raw).png({ palette: true })],
    ["grey", () => sharp(pixels, raw).removeAlpha().toColourspace("b-w").png()],
    ["16 bits", () => sharp(pixels, raw).removeAlpha().toColourspace("rgb16").png()],
  ])("%s are whole, and unpack to as many bytes as their header says", async (_name, make) => {
    const bytes = await make().toBuffer();
    expect(checkPng(bytes, tools, true)).toMatchObject({ verdict: "good", width: 33, height: 21 });
    const header = readHeader([...chunksOf(bytes)][0]!.data);
    const parts = [...chunksOf(bytes)].filter((c) => c.type === "IDAT").map((c) => c.data);
    expect(filteredLength(header)).toBe(tools.inflatedLength(parts, filteredLength(header)));
  });
});

test.each([
  ["black", 0, 0, 0, 0],
  ["white", 255, 255, 255, 1],
  ["pure red weighs 0.2126", 255, 0, 0, 0.2126],
  ["pure green weighs 0.7152", 0, 255, 0, 0.7152],
  ["pure blue weighs 0.0722", 0, 0, 255, 0.0722],
])("mean luminance: %s", (_name, r, g, b, luminance) =>
  expect(meanLuminance(image(5, 3, (_x, _y, c) => [r, g, b][c]!))).toBeCloseTo(luminance, 6),
);
