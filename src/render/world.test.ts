import type { Scene, SceneBody } from "@/contract/scene";
import { buildTree } from "./bounds-tree";
import { compose, IDENTITY, invertInto, placement } from "./matrix";
import { SampleRandom } from "./random";
import { sampleTexture, textureFromRgb8 } from "./texture";
import { toDisplay } from "./layers";
import { quantize } from "@/core/image/pixels";
import { Tracer } from "./tracer";
import { footprintsOf, makeCamera, makeWorld } from "./world";

/** A fixed generator for made-up scenes and rays. */
function generator(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
}

describe("transforms", () => {
  test("an inverse undoes its transform", () => {
    const random = generator(5);
    for (let i = 0; i < 50; i++) {
      const m = placement(
        [random() * 9, random() * 9, random() * 9],
        [random() * 360, random() * 360, random() * 360],
        [0.2 + random(), 0.2 + random(), 0.2 + random()],
      );
      const inverse = new Float64Array(12);
      invertInto(inverse, 0, m, 0);
      compose(m, inverse).forEach((value, k) => expect(value).toBeCloseTo(IDENTITY[k]!, 9));
    }
  });

  test("scale, then turn about x, y, z, then move", () => {
    const m = placement([10, 0, 0], [0, 90, 0], [2, 1, 1]);
    // The point (1, 0, 0): scaled to 2, turned to -z, moved along x.
    expect([m[0]! + m[3]!, m[4]! + m[7]!, m[8]! + m[11]!].map((x) => Math.round(x * 1e9) / 1e9)).toEqual([
      10, 0, -2,
    ]);
  });
});

const bodyAt = (random: () => number): SceneBody => ({
  shape: (["sphere", "box", "cylinder", "cone", "torus"] as const)[Math.floor(random() * 5)]!,
  material: "m",
  position: [random() * 10 - 5, random() * 10 - 5, random() * 10 - 5],
  rotation: [random() * 360, random() * 360, 0],
  scale: [0.3 + random(), 0.3 + random(), 0.3 + random()],
});
const sceneOf = (bodies: readonly SceneBody[]): Scene => ({
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0,
  exposure: 1,
  sky: { zenith: [1, 1, 1], horizon: [1, 1, 1], ground: [1, 1, 1] },
  cameras: [{ name: "main", position: [0, 0, 10], target: [0, 0, 0], focalLength: 36 }],
  materials: { m: { kind: "diffuse", colour: [1, 1, 1] } },
  bodies,
});

test("the tree finds the same nearest hit as a walk over every body", () => {
  const random = generator(11);
  const bodies = Array.from({ length: 40 }, () => bodyAt(random));
  const all = new Tracer(makeWorld(sceneOf(bodies), new Map(), 1));
  const each = bodies.map((body) => new Tracer(makeWorld(sceneOf([body]), new Map(), 1)));
  let hits = 0;
  for (let i = 0; i < 400; i++) {
    const from = [random() * 16 - 8, random() * 16 - 8, random() * 16 - 8] as const;
    const aim = [random() - 0.5, random() - 0.5, random() - 0.5];
    const length = Math.hypot(...aim);
    const [dx, dy, dz] = aim.map((a) => a / length) as [number, number, number];
    const nearest = Math.min(
      ...each.map((tracer) => (tracer.nearest(...from, dx, dy, dz, 1e9) ? tracer.t : Infinity)),
    );
    const found = all.nearest(...from, dx, dy, dz, 1e9);
    expect(found).toBe(nearest < Infinity);
    if (!found) continue;
    hits++;
    expect(all.t).toBeCloseTo(nearest, 9);
    all.surface(...from, dx, dy, dz);
    expect(Math.hypot(all.nx, all.ny, all.nz)).toBeCloseTo(1, 9);
  }
  expect(hits).toBeGreaterThan(40);
});

test("every body hangs in the tree once, below boxes that hold it", () => {
  const random = generator(3);
  const items = Array.from({ length: 33 }, (_, index) => {
    const min = [random() * 9, random() * 9, random() * 9] as const;
    return {
      index,
      bounds: { min, max: [min[0] + random(), min[1] + random(), min[2] + random()] as const },
    };
  });
  const tree = buildTree(items);
  expect([...tree.body].filter((b) => b >= 0).sort((a, b) => a - b)).toEqual(items.map((i) => i.index));
  tree.body.forEach((body, node) => {
    const box = tree.boxes.subarray(node * 6, node * 6 + 6);
    const inside = body >= 0 ? [body] : [...tree.body.subarray(node, tree.skip[node])].filter((b) => b >= 0);
    for (const b of inside)
      for (let k = 0; k < 3; k++) {
        expect(items[b]!.bounds.min[k]).toBeGreaterThanOrEqual(box[k]!);
        expect(items[b]!.bounds.max[k]).toBeLessThanOrEqual(box[k + 3]!);
      }
  });
});

test("children move with their group", () => {
  const group: SceneBody = {
    position: [0, 5, 0],
    rotation: [0, 0, 90],
    children: [{ shape: "sphere", material: "m", position: [2, 0, 0], scale: [0.5, 0.5, 0.5] }],
  };
  const tracer = new Tracer(makeWorld(sceneOf([group]), new Map(), 1));
  // (2, 0, 0) turned a quarter about z is (0, 2, 0), then moved up by five.
  expect(tracer.nearest(0, 7, 10, 0, 0, -1, 1e9)).toBe(true);
  expect(tracer.t).toBeCloseTo(9.5, 9);
});

test("a camera looks at its target with up upwards; there is none of an unknown name", () => {
  const camera = makeCamera(sceneOf([]), "main", 1)!;
  expect([camera.forward, camera.right, camera.up].map((v) => v.map((x) => x + 0))).toEqual([
    [0, 0, -1],
    [1, 0, 0],
    [0, 1, 0],
  ]);
  expect(camera.halfWidth).toBe(0.5);
  expect(makeCamera(sceneOf([]), "top", 1)).toBeNull();
});

describe("random numbers of a sample", () => {
  const first = (seed: number, frame: number, pixel: number, sample: number): number[] => {
    const random = new SampleRandom(seed, frame);
    random.begin(pixel, sample);
    return Array.from({ length: 12 }, () => random.next());
  };
  test("depend on seed, frame, pixel and sample, and on nothing that was asked before", () => {
    const random = new SampleRandom(1, 7);
    random.begin(3, 4);
    for (let i = 0; i < 100; i++) random.next();
    random.begin(5, 6);
    expect(Array.from({ length: 12 }, () => random.next())).toEqual(first(1, 7, 5, 6));
    for (const other of [
      first(2, 7, 5, 6),
      first(1, 8, 5, 6),
      first(1, 7.5, 5, 6),
      first(1, 7, 6, 6),
      first(1, 7, 5, 7),
    ])
      expect(other).not.toEqual(first(1, 7, 5, 6));
  });
  test("lie in [0, 1), and the few samples of a pixel spread more evenly than chance", () => {
    let spread = 0;
    for (let pixel = 0; pixel < 200; pixel++) {
      const values = Array.from({ length: 16 }, (_, s) => first(1, 1, pixel, s)[0]!);
      expect(values.every((v) => v >= 0 && v < 1)).toBe(true);
      spread += new Set(values.map((v) => Math.floor(v * 16))).size;
    }
    // By chance 16 numbers meet 16 (1 - (15/16)^16) = 10.3 of 16 cells.
    expect(spread / 200).toBeGreaterThan(12);
  });
});

test("a texture repeats, runs upwards, and is even between its pixels", () => {
  const texture = textureFromRgb8(2, 2, Uint8Array.from([255, 255, 255, 0, 0, 0, 0, 0, 0, 0, 0, 0]));
  const at = (u: number, v: number): number => {
    const out = new Float64Array(3);
    sampleTexture(texture, u, v, out);
    return out[0]!;
  };
  expect([at(0.25, 0.75), at(1.25, -0.25), at(0.75, 0.75), at(0.25, 0.25)]).toEqual([1, 1, 0, 0]);
  expect(at(0.5, 0.75)).toBeCloseTo(0.5, 9);
});

test("display bytes rise with light, from black to white", () => {
  const light = {
    width: 7,
    height: 1,
    channels: 1 as const,
    data: Float32Array.from([0, 0.01, 0.1, 0.5, 1, 4, 100]),
  };
  const bytes = [...quantize(toDisplay(light, "beauty"), 8, false).data];
  expect(bytes[0]).toBe(0);
  expect(bytes.at(-1)).toBe(255);
  expect([...bytes].sort((a, b) => a - b)).toEqual(bytes);
  expect(new Set(bytes).size).toBeGreaterThan(5);
});

test("seen from above, bodies cover what they cover, moved and turned with their groups; ground that never ends is none", () => {
  const bodies: SceneBody[] = [
    { shape: "plane", material: "m" },
    { name: "rock", shape: "sphere", material: "m", position: [1, 5, 2], scale: [2, 1, 0.5] },
    {
      position: [10, 0, 0],
      children: [
        {
          name: "mast",
          shape: "box",
          material: "m",
          position: [0, 0, 3],
          rotation: [0, 90, 0],
          scale: [3, 1, 1],
        },
      ],
    },
  ];
  const scene = { bodies } as unknown as Scene;
  const [mast, rock, ...more] = footprintsOf(scene, 1);
  expect(more).toEqual([]);
  expect(rock).toEqual({ name: "rock", x: [-1, 3], z: [1.5, 2.5] });
  expect(mast!.name).toBe("mast");
  expect(mast!.x.map(Math.round)).toEqual([9, 11]);
  expect(mast!.z.map(Math.round)).toEqual([0, 6]);
});
