import { EMPTY, rangeSet } from "../frames/frame-set";
import { measurePicture } from "../image/measure-picture";
import { rgb8 } from "../image/pixels";
import { type MeasuredFrame, type Odd, USUAL_THRESHOLDS } from "./odd";
import { profileOf } from "./profile";
import { oddOnes } from "./odd-ones";

const [WIDTH, HEIGHT] = [128, 72];
const { sin } = Math;
const NOTHING = { flashes: EMPTY, holds: EMPTY };

interface Shown {
  readonly gain?: number;
  readonly pan?: number;
  /** A grey patch at 32, 16 of 32 x 16 pixels. */
  readonly patch?: boolean;
  readonly hot?: number;
  /** Added to 4 x 4 pixels. */
  readonly faint?: number;
}

/** Soft stripes that wander: everything moves a little, as under a camera. */
function frame(
  number: number,
  { gain = 1, pan = number, patch = false, hot = 0, faint = 0 }: Shown = {},
): MeasuredFrame {
  const data = new Uint8Array(WIDTH * HEIGHT * 3);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      for (let c = 0; c < 3; c++, i++)
        data[i] =
          patch && x >= 32 && x < 64 && y >= 16 && y < 32
            ? 60
            : gain * (110 + 40 * sin((x + pan) / 9 + y / 13 + c));
  for (let n = 0; n < hot; n++)
    data.fill(255, ((20 + 9 * n) * WIDTH + 100) * 3, ((20 + 9 * n) * WIDTH + 100) * 3 + 3);
  for (let y = 40; y < 44; y++)
    for (let x = 60; x < 64; x++) for (let c = 0; c < 3; c++) data[(y * WIDTH + x) * 3 + c]! += faint;
  const measured = measurePicture(rgb8(WIDTH, HEIGHT, data), false);
  return {
    frame: number,
    ...measured,
    bytes: 9_000,
    content: measured.pixels,
    seconds: 4,
    samples: 64,
    modifiedMs: number * 60_000,
  };
}
/** Of a frame, beside its picture. */
const MEASURED: ReadonlySet<string> = new Set(["bytes", "seconds", "samples", "modifiedMs"]);
const shot = (changes: Readonly<Record<number, Shown | Partial<MeasuredFrame>>> = {}): MeasuredFrame[] =>
  Array.from({ length: 30 }, (_, i) => {
    const change = changes[i + 1] ?? {};
    return {
      ...frame(i + 1, change as Shown),
      ...(Object.keys(change).some((key) => MEASURED.has(key)) ? change : {}),
    };
  });
const told = (frames: readonly MeasuredFrame[], named = NOTHING): string[] =>
  oddOnes(profileOf(frames), USUAL_THRESHOLDS, named).map(({ frame: number, code }) => `${number} ${code}`);
const only = (frames: readonly MeasuredFrame[], code: string): Odd =>
  oddOnes(profileOf(frames), USUAL_THRESHOLDS, NOTHING).find((odd) => odd.code === code)!;

test("a shot in which everything moves evenly has nothing odd; neither has one frame, or none", () => {
  expect(told(shot())).toEqual([]);
  expect(told(shot().slice(0, 1))).toEqual([]);
  expect(told([])).toEqual([]);
});

test("a frame that is brighter than both of its neighbours is a pop, and says by how much", () => {
  const frames = shot({ 12: { gain: 1.3 } });
  expect(told(frames)).toEqual(["12 pop", "12 brightness"]);
  const pop = only(frames, "pop");
  expect(pop.region).toBeNull();
  expect(pop.value).toBeGreaterThan(5 * pop.expected);
  expect(pop.sentence).toMatch(/^The whole picture changes by [\d.]+ % of white and back/);
});

test("what a marker names is none", () => {
  const frames = shot({ 12: { gain: 1.3 }, 20: { pan: 19 } });
  expect(told(frames)).toContain("20 frozen");
  expect(told(frames, { flashes: rangeSet(12, 12), holds: rangeSet(20, 20) })).toEqual([]);
});

test("a cut is none: what is behind it stays so", () => {
  const cut = Array.from({ length: 30 }, (_, i) => frame(i + 1, i < 15 ? {} : { gain: 0.6, pan: 400 + i }));
  expect(told(cut)).toEqual([]);
});

test("a patch that comes and goes is flicker, with the place in the picture", () => {
  const frames = shot({ 9: { patch: true }, 17: { patch: true }, 18: { patch: true } });
  expect(told(frames)).toEqual(["9 flicker", "17 flicker", "18 flicker"]);
  const [x, y, width, height] = only(frames, "flicker").region!;
  expect([x >= 28 && x + width <= 68, y >= 12 && y + height <= 36]).toEqual([true, true]);
});

test("of three frames nothing says what is usual, and none is off", () => {
  expect(told(shot({ 2: { gain: 1.4 } }).slice(0, 3))).toEqual([]);
  expect(told(shot({ 2: { patch: true } }).slice(0, 3))).toEqual([]);
  expect(told(shot({ 3: { patch: true } }).slice(0, 6))).toEqual(["3 flicker"]);
});

test("an edge that sways into a block and back is too small and too faint; the same place in white is not", () => {
  expect(told(shot({ 9: { faint: 9 }, 17: { faint: 9 }, 18: { faint: 9 } }))).toEqual([]);
  expect(told(shot({ 9: { faint: 90 } }))).toEqual(["9 flicker"]);
});

test("a frame that shows the one before stands still, while things move; where nothing moves it does not", () => {
  expect(told(shot({ 20: { pan: 19 } }))).toEqual(["20 frozen"]);
  expect(told(Array.from({ length: 30 }, (_, i) => frame(i + 1, { pan: 1 })))).toEqual([]);
  // On twos: every picture twice is the manner of the shot.
  expect(told(Array.from({ length: 30 }, (_, i) => frame(i + 1, { pan: 2 * Math.floor(i / 2) })))).toEqual(
    [],
  );
});

test("a file that is there twice is told with the other one", () => {
  const frames = shot({ 25: { pan: 5 } });
  expect(only(frames, "double")).toMatchObject({ frame: 25, value: 5 });
});

test("single bright pixels are told with what they lie in, one is enough", () => {
  const frames = shot({ 7: { hot: 1 }, 15: { hot: 3 } });
  expect(told(frames)).toEqual(["7 hot-pixels", "15 hot-pixels"]);
  expect(only(frames, "hot-pixels")).toMatchObject({ value: 1, expected: 0, region: [100, 20, 1, 1] });
});

test("small files and long times are told with what is usual", () => {
  expect(told(shot({ 6: { bytes: 4_000 }, 22: { seconds: 40 } }))).toEqual(["6 size", "22 seconds"]);
});

test("samples that are not as around it, and files left from an earlier render, are told", () => {
  const frames = shot({ 6: { samples: 16 }, 22: { modifiedMs: -3_600_000 } });
  expect(told(frames)).toEqual(["6 samples", "22 older"]);
  expect(only(frames, "samples").sentence).toBe("It has 16 samples a pixel, around it 64.");
  expect(only(frames, "older").sentence).toMatch(/^Its file is 81 min older than that of frame 21 before it/);
});

test("where the renderer counts no samples nothing is said of them", () => {
  expect(told(shot({ 6: { samples: null }, 7: { samples: null } }))).toEqual([]);
});

test("what is no number is odd wherever it is", () => {
  const data = new Float32Array(64 * 36 * 3).fill(0.2);
  data[300] = NaN;
  data[600] = Infinity;
  const measured = measurePicture({ width: 64, height: 36, channels: 3, data }, true);
  expect(measured.measures.nan).toBe(2);
  const frames = [
    { frame: 1, ...measured, bytes: 1, content: "a", seconds: null, samples: null, modifiedMs: 0 },
  ];
  expect(told(frames)).toEqual(["1 not-a-number"]);
});

test("pictures of other sizes among them are compared with none, and break nothing", () => {
  const data = new Uint8Array(10 * 10 * 3).fill(100);
  const small = measurePicture(rgb8(10, 10, data), false);
  const frames = shot();
  frames[14] = { ...frames[14]!, ...small, content: "s" };
  expect(told(frames).every((line) => line.startsWith("15 "))).toBe(true);
});
