import { forecastBytes, type MadeMovie, type MovieMeasure } from "./size-forecast";

const RATE = { numerator: 24, denominator: 1 };
const movie = (settings: Partial<MovieMeasure["settings"]>, width = 100, shown = 240): MovieMeasure => ({
  settings: { codec: "h264", quality: null, bitRate: null, ...settings },
  size: { width, height: 50 },
  shown,
});
const made = (bytes: number, ...facts: Parameters<typeof movie>): MadeMovie => ({
  ...movie(...facts),
  bytes,
});

test("a bit rate tells by itself, whatever was made before", () => {
  expect(forecastBytes(movie({ bitRate: 4000 }), RATE, [made(7, { bitRate: 4000 })])).toBe(5_000_000);
});

test("a quality is told by the newest movie of the same codec and quality, by its pixels and pictures", () => {
  const before = [made(1, { quality: 30 }), made(1000, {}), made(9, {}), made(5, { codec: "vp9" })];
  expect(forecastBytes(movie({}), RATE, before)).toBe(1000);
  expect(forecastBytes(movie({ quality: 16 }), RATE, before)).toBe(1000);
  expect(forecastBytes(movie({}, 200, 480), RATE, before)).toBe(4000);
});

test("nothing is told where no like of it was made, or it showed nothing", () => {
  expect(forecastBytes(movie({}), RATE, [made(5, { codec: "vp9" }), made(5, { bitRate: 1000 })])).toBeNull();
  expect(forecastBytes(movie({}), RATE, [made(5, {}, 100, 0)])).toBeNull();
});
