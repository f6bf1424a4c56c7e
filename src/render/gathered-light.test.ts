import type { Scene, SceneLighting } from "@/contract/scene";
import { LightGather } from "./gather-light";
import { BlendedLight, type LightLookup, LightRecords, RECORD } from "./gathered-light";
import { FrameRender, type FrameRequest } from "./render-frame";

/**
 * A corner of three white walls under a sky, with a red ball in it: much of its light comes over the walls.
 */
const corner = (change: Partial<Scene> = {}): Scene => ({
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0,
  exposure: 1,
  sky: { zenith: [1, 1, 1], horizon: [1, 1, 1], ground: [0, 0, 0] },
  cameras: [{ name: "main", position: [5, 4, 5], target: [0, 0.8, 0], focalLength: 35 }],
  materials: {
    wall: { kind: "diffuse", colour: [0.8, 0.8, 0.8] },
    ball: { kind: "diffuse", colour: [0.8, 0.1, 0.1] },
  },
  bodies: [
    { shape: "plane", material: "wall" },
    { shape: "box", material: "wall", position: [-2, 2, 0], scale: [0.2, 4, 8] },
    { shape: "box", material: "wall", position: [0, 2, -2], scale: [8, 4, 0.2] },
    { shape: "sphere", material: "ball", position: [0, 0.8, 0], scale: [0.8, 0.8, 0.8] },
  ],
  ...change,
});
const request = (samples: number, more: Partial<FrameRequest> = {}): FrameRequest => ({
  scene: corner(),
  textures: new Map(),
  camera: "main",
  frame: 1,
  width: 24,
  height: 18,
  samples,
  seed: 1,
  ...more,
});

function gathered(
  of: FrameRequest,
  settings: SceneLighting = { every: 8, points: 24, rays: 64 },
): LightRecords {
  const gather = new LightGather(of, settings);
  while (gather.gatherRow());
  return gather.records;
}

function rendered(of: FrameRequest): FrameRender {
  const render = new FrameRender(of);
  while (render.renderRow());
  return render;
}

const means = (render: FrameRender): number[] => {
  const { data } = render.pictures.beauty();
  return [0, 1, 2].map(
    (c) => data.filter((_, i) => i % 3 === c).reduce((a, b) => a + b, 0) / (data.length / 3),
  );
};

test("a picture with the cache is as bright, in every colour, as one whose paths find their own light, and has less grain at as many samples", () => {
  const lighting = gathered(request(1));
  expect(lighting.records.length / RECORD).toBeGreaterThan(300);
  const [own, cached] = [means(rendered(request(64))), means(rendered(request(64, { lighting })))];
  for (let c = 0; c < 3; c++) expect(Math.abs(cached[c]! / own[c]! - 1)).toBeLessThan(0.03);
  // The light over the walls is a good part of it: the cache is not just not there.
  const direct = means(rendered(request(64, { shading: "direct" })));
  expect(own[1]! / direct[1]!).toBeGreaterThan(1.1);
  expect(rendered(request(16, { lighting })).noise).toBeLessThan(rendered(request(16)).noise);
});

test("it is gathered the same, bit for bit, every time", () =>
  expect(gathered(request(1)).records).toEqual(gathered(request(1)).records));

test("where no record reaches, nothing is given", () => {
  const one = new LightRecords(Float32Array.of(0, 0, 0, 0, 1, 0, 0.5, 0.6, 0.7, 2));
  expect(one.find(0.1, 0, 0, 0, 1, 0)).toBe(true);
  expect([...one.light].map((v) => Math.round(v * 10))).toEqual([5, 6, 7]);
  expect(one.find(1.3, 0, 0, 0, 1, 0)).toBe(false);
  expect(one.find(0, 0, 0, 1, 0, 0)).toBe(false);
  expect(new LightRecords(new Float32Array(0)).find(0, 0, 0, 0, 1, 0)).toBe(false);
});

test("between two records the value is between theirs", () => {
  const two = new LightRecords(Float32Array.of(0, 0, 0, 0, 1, 0, 0, 0, 0, 2, 1, 0, 0, 0, 1, 0, 1, 1, 1, 2));
  expect(two.find(0.5, 0, 0, 0, 1, 0)).toBe(true);
  expect(two.light[0]).toBeCloseTo(0.5, 6);
  two.find(0.8, 0, 0, 0, 1, 0);
  expect(two.light[0]).toBeGreaterThan(0.5);
});

test("a frame between two caches reads both in proportion, and one alone where only that reaches", () => {
  const at = (x: number, light: number): LightRecords =>
    new LightRecords(Float32Array.of(x, 0, 0, 0, 1, 0, light, light, light, 2));
  const blend = (share: number): LightLookup => new BlendedLight(at(0, 1), at(0.2, 3), share);
  expect([blend(0), blend(0.25), blend(1)].map((b) => (b.find(0.1, 0, 0, 0, 1, 0), b.light[0]))).toEqual([
    1, 1.5, 3,
  ]);
  const apart = new BlendedLight(at(0, 1), at(50, 3), 0.5);
  expect([
    apart.find(0, 0, 0, 0, 1, 0),
    apart.light[0],
    apart.find(50, 0, 0, 0, 1, 0),
    apart.light[0],
    apart.find(20, 0, 0, 0, 1, 0),
  ]).toEqual([true, 1, true, 3, false]);
});
