import type { FloatImage } from "@/core/image/pixels";
import { denoise, type DenoiseInput } from "./denoise";
import { SKY_DEPTH } from "@/core/image/tone";

const [W, H] = [48, 32];
/** A small generator with a fixed seed (mulberry32). */
function randomOf(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const image = (channels: 1 | 3, value: (x: number, y: number) => readonly number[]): FloatImage => ({
  width: W,
  height: H,
  channels,
  data: Float32Array.from(
    { length: W * H * channels },
    (_, i) => value(Math.floor(i / channels) % W, Math.floor(i / channels / W))[i % channels]!,
  ),
});

/** A wall lit at 0.5 with grain; its right half is another surface, at 0.2. */
function scene(change: Partial<DenoiseInput> = {}): DenoiseInput {
  const random = randomOf(7);
  return {
    beauty: image(3, (x) => {
      const v = (x < W / 2 ? 0.5 : 0.2) + (random() - 0.5) * 0.2;
      return [v, v, v];
    }),
    albedo: image(3, (x) => (x < W / 2 ? [0.8, 0.8, 0.8] : [0.3, 0.3, 0.3])),
    normal: image(3, () => [0, 0, 1]),
    depth: image(1, () => [5]),
    ...change,
  };
}
const spread = (picture: FloatImage, from: number, to: number): { mean: number; deviation: number } => {
  const values = Array.from({ length: W * H }, (_, p) => p)
    .filter((p) => p % W >= from && p % W < to)
    .map((p) => picture.data[p * 3]!);
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return { mean, deviation: Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length) };
};

test("grain on a wall goes, its light stays", () => {
  const input = scene();
  const before = spread(input.beauty, 2, W / 2 - 2),
    after = spread(denoise(input), 2, W / 2 - 2);
  expect(after.deviation).toBeLessThan(before.deviation / 5);
  expect(after.mean).toBeCloseTo(before.mean, 2);
});

test("an edge between two surfaces stays as sharp as it was", () => {
  const out = denoise(scene());
  expect(
    [spread(out, W / 2 - 1, W / 2).mean, spread(out, W / 2, W / 2 + 1).mean].map(
      (v) => Math.round(v * 20) / 20,
    ),
  ).toEqual([0.5, 0.2]);
});

test("surfaces that face another way, or lie farther off, are not mixed", () => {
  const plain = scene();
  const grey = image(3, () => [0.5, 0.5, 0.5]);
  for (const change of [
    { normal: image(3, (x) => (x < W / 2 ? [0, 0, 1] : [1, 0, 0])) },
    { depth: image(1, (x) => [x < W / 2 ? 5 : 50]) },
  ]) {
    const out = denoise({ ...plain, albedo: grey, ...change });
    expect(Math.abs(spread(out, W / 2 - 1, W / 2).mean - 0.5)).toBeLessThan(0.03);
  }
});

test("sky stays as it is, a lone bright pixel is brought down, and the same input gives the same picture", () => {
  const sky = scene({ depth: image(1, () => [SKY_DEPTH]) });
  const off = denoise(sky).data.reduce((most, v, i) => Math.max(most, Math.abs(v - sky.beauty.data[i]!)), 0);
  expect(off).toBeLessThan(1e-6);
  const spot = scene();
  const at = (10 * W + 10) * 3;
  spot.beauty.data.set([50, 50, 50], at);
  expect(denoise(spot).data[at]).toBeLessThan(1);
  expect(denoise(scene()).data).toEqual(denoise(scene()).data);
});
