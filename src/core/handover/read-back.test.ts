import { GIF_GRAIN, movieFaults, USUAL_GRAIN } from "./read-back";

const NTSC = { numerator: 24000, denominator: 1001 };
const asked = { frames: 48, rate: NTSC, size: { width: 960, height: 540 }, grain: USUAL_GRAIN };
const seen = { frames: 48, rate: NTSC, duration: 2.002, width: 960, height: 540 };

test("a movie that is as it was asked for has no fault", () => {
  expect(movieFaults(asked, seen)).toEqual([]);
});

test.each([
  [{ frames: 47 }, "47 frames in the place of 48"],
  [{ width: 480 }, "480 x 540 pixels in the place of 960 x 540"],
  [{ rate: { numerator: 24, denominator: 1 } }, "plays at 24 in the place of 23.976"],
  [{ duration: 2.1 }, "lasts 2.1 s in the place of 2.002 s"],
])("%j is told", (other, words) => {
  const faults = movieFaults(asked, { ...seen, ...other });
  expect(faults).toHaveLength(1);
  expect(faults[0]).toContain(words);
});

test("hundredths of a second are no fault of a GIF, more of them are", () => {
  const gif = { ...asked, grain: GIF_GRAIN };
  const rate = { numerator: 100, denominator: 4 };
  expect(movieFaults(gif, { ...seen, rate, duration: 2 })).toEqual([]);
  expect(movieFaults(gif, { ...seen, rate, duration: 1.9 })).toHaveLength(1);
});
