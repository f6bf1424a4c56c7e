/**
 * Scenes come from programs that compute, and what they compute may be nonsense. Each number of a scene that has
 * everything is put out of its range, one at a time: the scene is refused in words, or its picture comes to an
 * end and holds numbers.
 */
import { checkScene, type Scene } from "@/contract/scene";
import { FrameRender } from "./render-frame";

const SCENE: Scene = {
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0.5,
  exposure: 1,
  sky: {
    zenith: [0.3, 0.5, 0.9],
    horizon: [0.9, 0.9, 0.9],
    ground: [0.2, 0.2, 0.2],
    sun: { direction: [0.4, 0.8, 0.3], colour: [1, 0.95, 0.9], strength: 2, angle: 2 },
  },
  cameras: [
    {
      name: "main",
      position: {
        keys: [
          { frame: 1, value: [0, 1.5, 5] },
          { frame: 9, value: [1, 1.5, 5], ease: "smooth" },
        ],
      },
      target: [0, 0.8, 0],
      focalLength: 35,
      sensorWidth: 36,
      lens: { fNumber: 2, focusDistance: 4 },
    },
  ],
  materials: {
    water: {
      kind: "metal",
      colour: [0.9, 0.7, 0.4],
      roughness: 0.1,
      ripples: { height: 0.1, length: 1, speed: 1 },
    },
    wall: { kind: "diffuse", colour: [0.9, 0.9, 0.9], coat: 1.5 },
    pane: { kind: "glass", ior: 1.5, colour: [0.9, 1, 0.9] },
    lamp: { kind: "emitter", colour: [1, 0.8, 0.5], strength: { keys: [{ frame: 1, value: 8 }] }, fade: 0.5 },
  },
  bodies: [
    { shape: "plane", material: "water" },
    {
      position: [-1, 1, 0],
      rotation: [10, 20, 30],
      scale: [1, 2, 1],
      children: [{ shape: "sphere", material: "wall", position: [0.5, 0, 0] }],
    },
    { shape: "box", material: "pane", position: [1.6, 0.8, 1], scale: [0.5, 0.8, 0.05] },
    { shape: "sphere", material: "lamp", position: [-1.5, 2.2, 1], scale: [0.2, 0.2, 0.2] },
    { shape: "torus", material: "wall", tube: 0.3, position: [0, 0.3, 1.5], scale: [0.5, 0.5, 0.5] },
    { shape: "cone", material: "wall", top: 0.2, position: [2, 0, 0], repeat: [3, 3] },
    { shape: "cylinder", material: "wall", position: [-2, 0, 0] },
  ],
};
const EXTREMES = [0, -1, 1e-300, 1e-12, 1e9, -1e9, 1e30, 1e300, -1e300, Number.MAX_VALUE];

type Spot = readonly (string | number)[];
function* numbersIn(value: unknown, at: Spot = []): Generator<Spot> {
  if (typeof value === "number") yield at;
  else if (typeof value === "object" && value !== null)
    for (const [key, inner] of Object.entries(value)) yield* numbersIn(inner, [...at, key]);
}
function withNumber(at: Spot, value: number): unknown {
  const copy = structuredClone(SCENE) as unknown as Record<string | number, unknown>;
  let owner = copy;
  for (const key of at.slice(0, -1)) owner = owner[key] as Record<string | number, unknown>;
  owner[at.at(-1)!] = value;
  return copy;
}
/** Mean of all values of a small picture. */
function meanOf(scene: Scene): number {
  const render = new FrameRender(
    {
      scene,
      textures: new Map(),
      camera: "main",
      frame: 3,
      width: 8,
      height: 5,
      samples: 2,
      seed: 1,
      pixelAspect: 1,
      filter: { kind: "box", radius: 0.5 },
      shading: "full",
      sameGrain: false,
      minSamples: 1,
      layers: true,
      cover: true,
      sampling: "rounds",
    },
    null,
  );
  while (render.renderRow());
  const values = [...render.pictures.beauty(true).data, ...render.pictures.depth().data];
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

const spots = [...numbersIn(SCENE)];

test("the scene itself is in order", () => {
  expect(spots.length).toBeGreaterThan(80);
  expect([checkScene(SCENE).ok, meanOf(SCENE) > 0]).toEqual([true, true]);
});

test("no number of a scene makes a picture that never ends, or one that holds no numbers", () => {
  const broken: string[] = [];
  for (const at of spots)
    for (const value of EXTREMES) {
      const checked = checkScene(withNumber(at, value));
      if (!checked.ok) continue;
      if (!Number.isFinite(meanOf(checked.value))) broken.push(`${at.join("/")}: ${value}`);
    }
  expect(broken).toEqual([]);
});

test("a material that every object has by nature is none of the scene's", () => {
  const scene = { ...SCENE, bodies: [{ shape: "sphere", material: "constructor" }] };
  expect(checkScene(scene)).toMatchObject({ ok: false, faults: [{ path: "/bodies/0/material" }] });
});
