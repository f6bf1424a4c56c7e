import { meanLuminance, noiseOf } from "./measure";
import { type FloatImage, quantize } from "./pixels";

const [W, H] = [160, 120];
/** Normal numbers from a fixed seed (Box and Muller 1958). */
function normalOf(seed: number): () => number {
  let a = seed;
  const even = (): number => {
    a = (Math.imul(a, 1_664_525) + 1_013_904_223) >>> 0;
    return (a + 0.5) / 4_294_967_296;
  };
  return () => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());
}
const picture = (value: (x: number, y: number) => number): FloatImage => ({
  width: W,
  height: H,
  channels: 1,
  data: Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W))),
});

describe("the noise of a picture with added noise of known size is told to within a tenth", () => {
  const grounds: Readonly<Record<string, (x: number, y: number) => number>> = {
    "an even grey": () => 0.5,
    "a slope": (x, y) => 0.3 + (0.4 * x) / W + (0.05 * y) / H,
    "a soft round": (x, y) => 0.4 + 0.2 * Math.exp(-((x - 80) ** 2 + (y - 60) ** 2) / 1800),
  };
  const sizes = [0.01, 0.03, 0.06];
  test.each(Object.keys(grounds).flatMap((name) => sizes.map((size) => [name, size] as const)))(
    "%s, sigma %p",
    (name, sigma) => {
      const normal = normalOf(11);
      const noisy = picture((x, y) => grounds[name]!(x, y) + sigma * normal());
      for (const depth of [8, 16] as const)
        expect(Math.abs(noiseOf(quantize(noisy, depth, false)) / sigma - 1)).toBeLessThan(0.1);
    },
  );
  test("a picture without noise has none, one too small to tell too", () => {
    expect(noiseOf(quantize(picture(grounds["a slope"]!), 16, false))).toBeLessThan(1e-4);
    expect(
      noiseOf(quantize({ width: 2, height: 2, channels: 1, data: Float32Array.of(0, 1, 0, 1) }, 8, false)),
    ).toBe(0);
  });
});

test("luminance weighs colours as Rec. 709 does, and leaves alpha out", () => {
  const one = (channels: 3 | 4, ...data: number[]): number =>
    meanLuminance(quantize({ width: 1, height: 1, channels, data: Float32Array.from(data) }, 16, false));
  expect(
    [one(3, 1, 0, 0), one(3, 0, 1, 0), one(3, 0, 0, 1), one(4, 1, 1, 1, 0)].map(
      (v) => Math.round(v * 1e4) / 1e4,
    ),
  ).toEqual([0.2126, 0.7152, 0.0722, 1]);
});

describe("dither", () => {
  test("between two steps the mean of many pixels is the value itself, not the nearer step", () => {
    const level = 100.3 / 255;
    const mean = (dither: boolean): number =>
      [
        ...quantize(
          picture(() => level),
          8,
          dither,
        ).data,
      ].reduce((a, b) => a + b, 0) /
      (W * H);
    expect([mean(false), Math.abs(mean(true) - 100.3) < 0.02]).toEqual([100, true]);
  });
  test("white stays white where alpha is concerned, and nothing leaves its limits", () => {
    const { data } = quantize(
      {
        width: 64,
        height: 1,
        channels: 4,
        data: Float32Array.from({ length: 256 }, (_, i) => (i % 4 === 3 ? 1 : i % 2)),
      },
      8,
      true,
    );
    expect([...data].filter((_, i) => i % 4 === 3)).toEqual(Array(64).fill(255));
  });
});
