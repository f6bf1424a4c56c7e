import sharp from "sharp";
import { readPng } from "@/core/image/png-read";
import { checkReading } from "./check-deep";
import { imageTools } from "./image-tools";
import { repackedPng } from "../../../tests/support/repacked-png";

const [WIDTH, HEIGHT] = [37, 23];

/** Slopes, edges and grain, so that an encoder that chooses filters chooses each of them. */
const wild = (channels: number, top: number): number[] =>
  Array.from({ length: WIDTH * HEIGHT * channels }, (_, i) => {
    const [x, y] = [Math.floor(i / channels) % WIDTH, Math.floor(i / channels / WIDTH)];
    const grain = y > 15 ? ((i * 2654435761) >>> 0) / 2 ** 32 : 0;
    return Math.floor(top * Math.min(1, (y < 8 ? x / 40 : x > y ? 0.8 : (x + y) / 90) * 0.7 + 0.3 * grain));
  });

const written = (channels: 1 | 2 | 3 | 4, depth: 8 | 16, adaptiveFiltering: boolean): Promise<Buffer> =>
  sharp(depth === 8 ? Uint8Array.from(wild(channels, 255)) : Uint16Array.from(wild(channels, 65_535)), {
    raw: { width: WIDTH, height: HEIGHT, channels },
  })
    .toColourspace(channels < 3 ? (depth === 8 ? "b-w" : "grey16") : depth === 8 ? "srgb" : "rgb16")
    .png({ adaptiveFiltering, compressionLevel: 6 })
    .toBuffer();

test.each(
  ([1, 2, 3, 4] as const).flatMap((channels) =>
    ([8, 16] as const).flatMap((depth) =>
      [false, true].map((filters) => [channels, depth, filters] as const),
    ),
  ),
)("%i channels of %i bits, rows filtered: %s, come out as they went in", async (channels, depth, filters) => {
  const picture = readPng(await written(channels, depth, filters), imageTools.inflate)!;
  expect([picture.width, picture.height, picture.channels, picture.depth]).toEqual([
    WIDTH,
    HEIGHT,
    channels,
    depth,
  ]);
  expect([...picture.data]).toEqual(wild(channels, depth === 8 ? 255 : 65_535));
});

test("rows that are too few, or filtered in a way that there is none of, are damage that only a deep look sees", async () => {
  const whole = await written(3, 8, false);
  const cut = repackedPng(whole, (rows) => rows.subarray(0, rows.length - 40));
  const strange = repackedPng(whole, (rows) => Buffer.from(rows).fill(9, 0, 1));
  for (const [bytes, why] of [
    [cut, /does not unpack/],
    [strange, /row 0 is filtered by 9/],
  ] as const) {
    const { verdict, picture } = await checkReading("quay.0001.png", bytes);
    expect([verdict.verdict, verdict.code, picture]).toEqual(["damaged", "corrupt", null]);
    expect(verdict.detail).toMatch(why);
  }
  const { verdict, picture } = await checkReading("quay.0001.png", whole);
  expect([verdict.verdict, picture?.width]).toEqual(["good", WIDTH]);
});

test("palettes, interlaced ones and those that say how to take their numbers are the codec's, and are read", async () => {
  const colours = sharp(Uint8Array.from(wild(3, 255)), {
    raw: { width: WIDTH, height: HEIGHT, channels: 3 },
  });
  for (const bytes of [
    await colours.clone().png({ palette: true }).toBuffer(),
    await colours.clone().png({ progressive: true }).toBuffer(),
    await colours.clone().withIccProfile("p3").png().toBuffer(),
  ]) {
    expect(readPng(bytes, imageTools.inflate)).toBeNull();
    const { verdict, picture } = await checkReading("quay.0001.png", bytes);
    expect([verdict.verdict, picture?.width, picture?.height]).toEqual(["good", WIDTH, HEIGHT]);
  }
});
