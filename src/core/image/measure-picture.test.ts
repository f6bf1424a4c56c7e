import { measurePicture } from "./measure-picture";
import { rgb8 } from "./pixels";
import { edgesOf, gridOf, regionOf } from "./sketch";

const even = (width: number, height: number, ...colour: number[]) =>
  rgb8(
    width,
    height,
    Uint8Array.from({ length: width * height * 3 }, (_, i) => colour[i % 3]!),
  );

test("an even picture: its luminance by Rec. 709, no spread, no grain, and every block its colour", () => {
  const { measures, sketch } = measurePicture(even(64, 36, 255, 0, 0), false);
  expect(measures).toMatchObject({ noise: 0, black: 0, clipped: 1, hot: 0, nan: 0, alpha: null });
  expect(measures.spread).toBeCloseTo(0, 6);
  expect(measures.luminance).toBeCloseTo(0.2126, 4);
  expect(sketch.values.length).toBe(32 * 18 * 3);
  expect([...sketch.values.slice(0, 3)]).toEqual([65_535, 0, 0]);
});

test("black and clipped are shares, alpha is its mean", () => {
  const data = Uint8Array.from([0, 0, 0, 255, 255, 255, 255, 0, 9, 9, 9, 255, 9, 9, 9, 0]);
  const { measures } = measurePicture({ width: 4, height: 1, channels: 4, depth: 8, data }, false);
  expect([measures.black, measures.clipped, measures.alpha]).toEqual([0.25, 0.25, 0.5]);
});

test("scene light goes through the curve of displays, and what is no number is counted and black", () => {
  const data = Float32Array.from([0.18, 0.18, 0.18, NaN, 1, 1, 4, 4, 4]);
  const { measures } = measurePicture({ width: 3, height: 1, channels: 3, data }, true);
  const grey = 1.055 * 0.18 ** (1 / 2.4) - 0.055;
  expect(measures.luminance).toBeCloseTo((grey + (0.7152 + 0.0722) + 1) / 3, 3);
  expect(measures.nan).toBe(1);
});

test("equal pixels have equal sums, others have others, in any place", () => {
  const sums = new Set(
    Array.from({ length: 500 }, (_, i) => {
      const picture = even(20, 10, 100, 100, 100);
      (picture.data as Uint8Array)[i]!++;
      return measurePicture(picture, false).pixels;
    }),
  );
  expect(sums.size).toBe(500);
  expect(measurePicture(even(20, 10, 1, 2, 3), false).pixels).toBe(
    measurePicture(even(20, 10, 1, 2, 3), false).pixels,
  );
});

test.each([
  [1, 1],
  [1, 500],
  [500, 1],
  [3, 2],
  [1920, 1080],
])("blocks cover a picture of %i x %i, each pixel once", (width, height) => {
  const { columns, rows } = gridOf(width, height);
  for (const [side, parts] of [
    [width, columns],
    [height, rows],
  ] as const) {
    const edges = [...edgesOf(side, parts)];
    expect([edges[0], edges.at(-1)]).toEqual([0, side]);
    expect(edges.every((edge, i) => i === 0 || edge > edges[i - 1]!)).toBe(true);
  }
  expect(regionOf([0, columns * rows - 1], { columns, rows }, width, height)).toEqual([0, 0, width, height]);
});

test("one bright pixel is hot wherever it is inside; a bright stroke is a thing in the picture", () => {
  const lit = (...places: readonly (readonly [x: number, y: number])[]): number => {
    const picture = even(40, 30, 40, 40, 40);
    for (const [x, y] of places)
      (picture.data as Uint8Array).fill(250, (y * 40 + x) * 3, (y * 40 + x) * 3 + 3);
    return measurePicture(picture, false).measures.hot;
  };
  expect([lit(), lit([7, 9]), lit([1, 1], [38, 28]), lit([7, 9], [8, 9])]).toEqual([0, 1, 2, 2]);
  expect(lit([5, 5], [6, 5], [7, 5], [8, 5], [5, 6], [6, 6], [7, 6], [8, 6])).toBe(0);
});
