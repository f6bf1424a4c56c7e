import { spawnSync } from "node:child_process";
import path from "node:path";
import { measureRows } from "./picture-rows";
import { PICTURE_ROWS_WASM } from "./picture-rows-wasm";
import type { Channels, FloatImage, IntegerImage } from "./pixels";
import { shownRows } from "./shown-rows";

const HOME = path.join(__dirname, "../../..");

test("the module in the repository is what the compiler makes of its source", () => {
  const made = spawnSync(
    "node",
    [
      "--input-type=module",
      "-e",
      `const { pictureRowsModule } = await import("./scripts/lib/wasm.mjs");
       process.stdout.write(await pictureRowsModule(process.cwd()));`,
    ],
    { cwd: HOME, encoding: "utf8" },
  );
  expect(made.stderr).toBe("");
  expect(made.stdout).toContain(PICTURE_ROWS_WASM);
});

/** Even numbers from 0 to 1 from a fixed seed. */
function randomOf(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return (state + 0.5) / 4_294_967_296;
  };
}

const KINDS = [8, 16, "float"] as const;
type Kind = (typeof KINDS)[number];
const CHANNELS: readonly Channels[] = [1, 2, 3, 4];

/** A soft picture with grain, black and white spots and single bright pixels. */
function picture(width: number, height: number, channels: Channels, kind: Kind): FloatImage | IntegerImage {
  const random = randomOf(width * 1000 + height * 10 + channels);
  const top = kind === 8 ? 255 : kind === 16 ? 65_535 : 1;
  const values = Float64Array.from({ length: width * height * channels }, (_, i) => {
    const pixel = Math.floor(i / channels);
    if (pixel % 97 === 5) return 0;
    if (pixel % 89 === 7) return top;
    return (0.2 + 0.2 * Math.sin(pixel / 50) + 0.1 * random()) * top;
  });
  const shape = { width, height, channels };
  if (kind === 8) return { ...shape, depth: 8, data: Uint8Array.from(values, Math.round) };
  if (kind === 16) return { ...shape, depth: 16, data: Uint16Array.from(values, Math.round) };
  return { ...shape, data: Float32Array.from(values) };
}

/** The same measures in the plainest way there is: from all luminances at once, each rule as it is said. */
function plainly(width: number, height: number, channels: Channels, data: ArrayLike<number>, white: number) {
  const at = (x: number, y: number, c: number): number =>
    data[(y * width + x) * channels + (channels < 3 ? 0 : c)]! / white;
  const l = (x: number, y: number): number =>
    0.2126 * at(x, y, 0) + 0.7152 * at(x, y, 1) + 0.0722 * at(x, y, 2);
  const all: number[] = [];
  let [black, clipped, grain, hot] = [0, 0, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const colours = [0, 1, 2].map((c) => at(x, y, c));
      all.push(l(x, y));
      if (colours.some((v) => v === 1)) clipped++;
      else if (colours.every((v) => v === 0)) black++;
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) continue;
      const nine = [-1, 0, 1].flatMap((dy) => [-1, 0, 1].map((dx) => l(x + dx, y + dy)));
      const mask = [1, -2, 1, -2, 4, -2, 1, -2, 1];
      grain += Math.abs(nine.reduce((sum, v, i) => sum + v * mask[i]!, 0));
      const own = nine[4]!;
      const bright = nine.filter((v, i) => i !== 4 && own - v < 0.3).length;
      if (bright <= 1 && own - nine.toSorted((a, b) => a - b)[4]! >= 0.3) hot++;
    }
  const mean = all.reduce((a, b) => a + b, 0) / all.length;
  const spread = Math.sqrt(all.reduce((sum, v) => sum + (v - mean) ** 2, 0) / all.length);
  const inner = (width - 2) * (height - 2);
  const noise = width < 3 || height < 3 ? 0 : (Math.sqrt(Math.PI / 2) * grain) / (6 * inner);
  return { luminance: mean, spread, noise, black, clipped, hot };
}

/** Widths that no four pixels fill, that are less than four, and with blocks of every length. */
const SIZES = [
  [1, 1],
  [2, 5],
  [3, 3],
  [5, 4],
  [31, 9],
  [97, 41],
  [130, 33],
] as const;

describe.each(KINDS)("%s", (kind) => {
  test.each(CHANNELS)("four at a time and pixel by pixel give the same, %i channels", (channels) => {
    for (const [width, height] of SIZES) {
      const image = picture(width, height, channels, kind);
      const white = kind === 8 ? 255 : kind === 16 ? 65_535 : 1;
      const plain = plainly(width, height, channels, image.data, white);
      const { hot, sketch, ...found } = measureRows(width, height, shownRows(image, false));
      expect({ black: found.black, clipped: found.clipped, hot: hot.count }).toEqual({
        black: plain.black,
        clipped: plain.clipped,
        hot: plain.hot,
      });
      for (const name of ["luminance", "spread", "noise"] as const)
        expect(Math.abs(found[name] - plain[name])).toBeLessThan(2e-6);
      const means = [0, 1, 2].map((c) => {
        let sum = 0;
        for (let block = 0; block < sketch.columns * sketch.rows; block++)
          sum += sketch.values[block * 3 + c]!;
        return sum / (sketch.columns * sketch.rows);
      });
      if (channels < 3) expect(new Set(means).size).toBe(1);
    }
  });
});

test("a small picture after a large one is measured by itself", () => {
  const small = picture(7, 5, 3, 8);
  const alone = measureRows(7, 5, shownRows(small, false));
  measureRows(400, 300, shownRows(picture(400, 300, 4, "float"), false));
  expect(measureRows(7, 5, shownRows(small, false))).toEqual(alone);
});
