import type { Scene, SceneBody, SceneMaterial } from "@/contract/scene";
import { quantize } from "@/core/image/pixels";
import { Integrator } from "./integrator";
import { toDisplay } from "./layers";
import { SampleRandom } from "./random";
import { FrameRender, type FrameRequest, UnknownCamera } from "./render-frame";
import type { Texture } from "./texture";
import { Tracer } from "./tracer";
import { makeWorld } from "./world";

const sceneOf = (material: SceneMaterial, body: SceneBody, change: Partial<Scene> = {}): Scene => ({
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0,
  exposure: 1,
  sky: { zenith: [1, 1, 1], horizon: [1, 1, 1], ground: [1, 1, 1] },
  cameras: [{ name: "main", position: [0, 0, 6], target: [0, 0, 0], focalLength: 50 }],
  materials: { m: material },
  bodies: [{ material: "m", ...body }],
  ...change,
});

/** Mean radiance of many paths along one ray: exact but for the noise. */
function meanRadiance(
  scene: Scene,
  from: readonly number[],
  towards: readonly number[],
  paths = 20_000,
  textures = new Map<string, Texture>(),
): number[] {
  const random = new SampleRandom(3, 1);
  const integrator = new Integrator(new Tracer(makeWorld(scene, textures, 1)), random);
  const sum = [0, 0, 0];
  for (let s = 0; s < paths; s++) {
    random.begin(s % 997, Math.floor(s / 997));
    for (let k = 0; k < 3; k++) random.next();
    integrator.trace(from[0]!, from[1]!, from[2]!, towards[0]!, towards[1]!, towards[2]!);
    for (let k = 0; k < 3; k++) sum[k]! += integrator.radiance[k]!;
  }
  return sum.map((x) => x / paths);
}

describe("light adds up as it does in nature", () => {
  test("a convex diffuse body under an even sky shows its own colour times the sky", () => {
    const [r, g, b] = meanRadiance(
      sceneOf({ kind: "diffuse", colour: [0.8, 0.5, 0.2] }, { shape: "sphere" }),
      [0, 0, 6],
      [0, 0, -1],
    );
    expect(r).toBeCloseTo(0.8, 2);
    expect(g).toBeCloseTo(0.5, 2);
    expect(b).toBeCloseTo(0.2, 2);
  });

  test.each<[string, SceneMaterial]>([
    ["a perfect mirror", { kind: "metal", colour: [1, 1, 1] }],
    ["clear glass", { kind: "glass", ior: 1.5 }],
    ["a thin pane", { kind: "glass", thin: true }],
  ])("%s in an even sky cannot be seen: no light is lost or made", (_name, material) => {
    for (const value of meanRadiance(sceneOf(material, { shape: "sphere" }), [0.4, 0.3, 6], [0, 0, -1]))
      expect(value).toBeCloseTo(1, 2);
  });

  test("a sun of irradiance 3 straight above a plane of albedo 0.5 gives 0.5 x 3 / pi", () => {
    const dark: Scene["sky"] = {
      zenith: [0, 0, 0],
      horizon: [0, 0, 0],
      ground: [0, 0, 0],
      sun: { direction: [0, 1, 0], colour: [1, 1, 1], strength: 3, angle: 1 },
    };
    const [r] = meanRadiance(
      sceneOf({ kind: "diffuse", colour: [0.5, 0.5, 0.5] }, { shape: "plane" }, { sky: dark }),
      [0, 2, 0],
      [0.6, -0.8, 0],
    );
    expect(r).toBeCloseTo((0.5 * 3) / Math.PI, 3);
  });

  test("a lamp lights a plane as the formula for a small sphere says, and a body between makes a shadow", () => {
    const dark: Scene["sky"] = { zenith: [0, 0, 0], horizon: [0, 0, 0], ground: [0, 0, 0] };
    const lamp = {
      ...sceneOf({ kind: "diffuse", colour: [1, 1, 1] }, { shape: "plane" }, { sky: dark }),
      materials: {
        m: { kind: "diffuse", colour: [1, 1, 1] },
        lamp: { kind: "emitter", colour: [1, 1, 1], strength: 50 },
      },
    } as Scene;
    const lit = {
      ...lamp,
      bodies: [
        ...lamp.bodies,
        { shape: "sphere", material: "lamp", position: [0, 4, 0], scale: [0.2, 0.2, 0.2] },
      ],
    } as Scene;
    // E = L pi r² / d² for a sphere straight above; outgoing radiance is albedo E / pi.
    const [r] = meanRadiance(lit, [1.2, 1.6, 0], [-0.6, -0.8, 0]);
    expect(r).toBeCloseTo((50 * 0.2 ** 2) / 4 ** 2, 3);
    const shaded = {
      ...lit,
      bodies: [...lit.bodies, { shape: "box", material: "m", position: [0, 2.5, 0], scale: [1, 0.1, 1] }],
    } as Scene;
    expect(meanRadiance(shaded, [1.2, 1.6, 0], [-0.6, -0.8, 0])[0]).toBeLessThan(0.2 * r!);
  });

  test("a texture colours what it lies on", () => {
    const texture: Texture = { width: 1, height: 1, data: Float32Array.of(0.5, 0.25, 1) };
    const [r, g, b] = meanRadiance(
      sceneOf({ kind: "diffuse", colour: [1, 1, 0.5], texture: "a.png" }, { shape: "sphere" }),
      [0, 0, 6],
      [0, 0, -1],
      20_000,
      new Map([["a.png", texture]]),
    );
    expect([r!, g!, b!].map((x) => Math.round(x * 50) / 50)).toEqual(
      [0.5, 0.26, 0.5].map((x) => Math.round(x * 50) / 50),
    );
  });
});

const moving = sceneOf(
  { kind: "emitter", colour: [1, 1, 1], strength: 1 },
  {
    shape: "sphere",
    position: {
      keys: [
        { frame: 1, value: [-2, 0, 0], ease: "linear" },
        { frame: 2, value: [2, 0, 0] },
      ],
    },
  },
  { sky: { zenith: [0, 0, 0], horizon: [0, 0, 0], ground: [0, 0, 0] } },
);
const request = (change: Partial<FrameRequest> = {}): FrameRequest => ({
  scene: moving,
  textures: new Map(),
  camera: "main",
  frame: 1,
  width: 48,
  height: 27,
  samples: 4,
  seed: 1,
  ...change,
});
const rendered = (r: FrameRequest): Uint8Array => {
  const frame = new FrameRender(r);
  while (frame.renderRow());
  return quantize(toDisplay(frame.pictures.beauty(), "beauty"), 8, false).data as Uint8Array;
};
const columnsWithLight = (data: Uint8Array): number[] =>
  Array.from({ length: 48 }, (_, x) => x).filter((x) =>
    Array.from({ length: 27 }, (_, y) => data[(y * 48 + x) * 3]!).some((v) => v > 0),
  );

const whole = (r: FrameRequest): FrameRender => {
  const frame = new FrameRender(r);
  while (frame.renderRow());
  return frame;
};
const lit = sceneOf(
  { kind: "diffuse", colour: [0.8, 0.4, 0.2] },
  { shape: "sphere", position: [0, 1, 0] },
  {
    sky: {
      zenith: [0.4, 0.5, 0.8],
      horizon: [0.8, 0.8, 0.8],
      ground: [0.1, 0.1, 0.1],
      sun: { direction: [0.5, 0.8, 0.4], colour: [1, 1, 1], strength: 2, angle: 2 },
    },
    bodies: [
      { shape: "plane", material: "m" },
      { shape: "sphere", material: "m", position: [0, 1, 0] },
    ],
  },
);

describe("layers of one render", () => {
  const frame = whole(request({ scene: lit, samples: 8, layers: true }));
  test("direct and indirect light add up to the beauty", () => {
    const [beauty, direct, indirect] = [
      frame.pictures.beauty().data,
      frame.pictures.direct().data,
      frame.pictures.indirect().data,
    ];
    for (let i = 0; i < beauty.length; i++) expect(direct[i]! + indirect[i]!).toBeCloseTo(beauty[i]!, 4);
    expect(indirect.some((v) => v > 0.01)).toBe(true);
  });
  test("depth is metres to what is met, normals are unit vectors, albedo is the colour of the surface", () => {
    // The camera stands 6 m from the origin; the sphere's front is 5 m and a bit away.
    const middle = 8 * 48 + 24;
    expect(Math.min(...frame.pictures.depth().data)).toBeGreaterThan(4.9);
    const n = frame.pictures.normal().data;
    for (let p = 0; p < 48 * 27; p++)
      expect([0, 1]).toContain(Math.round(Math.hypot(n[p * 3]!, n[p * 3 + 1]!, n[p * 3 + 2]!) * 1000) / 1000);
    expect(
      [...frame.pictures.albedo().data.subarray(middle * 3, middle * 3 + 3)].map(
        (v) => Math.round(v * 100) / 100,
      ),
    ).toEqual([0.8, 0.4, 0.2]);
  });
  test("alpha is 1 on bodies and 0 where there is only sky", () => {
    const alpha = frame.pictures.alpha();
    expect([alpha[0], alpha[8 * 48 + 24]]).toEqual([0, 1]);
  });
  test("quick shading leaves out the light from surface to surface", () => {
    const quick = whole(request({ scene: lit, samples: 8, layers: true, shading: "direct" }));
    expect(Math.max(...quick.pictures.indirect().data.map(Math.abs))).toBeLessThan(1e-6);
  });

  test("without light every surface is seen in its own colour: few rays, the same first surfaces, whatever the sky", () => {
    const [full, flat, bright] = [
      whole(request({ scene: lit, samples: 4, layers: true })),
      whole(request({ scene: lit, samples: 4, layers: true, shading: "flat" })),
      whole(
        request({
          scene: { ...lit, sky: { ...lit.sky, zenith: [9, 9, 9], ground: [9, 9, 9] } },
          samples: 4,
          shading: "flat",
        }),
      ),
    ];
    expect(flat.rays).toBe(48 * 27 * 4);
    expect(full.rays).toBeGreaterThan(flat.rays);
    expect(flat.pictures.normal().data).toEqual(full.pictures.normal().data);
    const middle = (8 * 48 + 24) * 3;
    const [r, g, b] = flat.pictures.beauty().data.subarray(middle, middle + 3);
    expect([g! / r!, b! / r!].map((v) => Math.round(v * 100) / 100)).toEqual([0.5, 0.25]);
    expect(bright.pictures.beauty().data.subarray(middle, middle + 3)).toEqual(
      flat.pictures.beauty().data.subarray(middle, middle + 3),
    );
  });
  test("a line drawing is ink where a body ends, and paper inside and outside of it, at any exposure", () => {
    for (const exposure of [0.2, 1, 30]) {
      const { data } = whole(
        request({ scene: { ...lit, exposure }, samples: 4, shading: "line" }),
      ).pictures.beauty();
      const tones = Array.from({ length: data.length / 3 }, (_, i) => data[i * 3]!);
      expect(Math.min(...tones)).toBeLessThan(1);
      expect(tones.filter((tone) => tone > 2).length).toBeGreaterThan(tones.length * 0.8);
    }
  });
});

describe("what a plan may change", () => {
  const spot = sceneOf(
    { kind: "emitter", colour: [1, 1, 1], strength: 1 },
    { shape: "sphere", scale: [0.3, 0.3, 0.3] },
    { sky: moving.sky },
  );
  const width = (change: Partial<FrameRequest>): number =>
    columnsWithLight(rendered(request({ scene: spot, samples: 64, ...change }))).length;
  test("a lens blurs what lies off its plane of focus, the wider open the more, and keyed over time", () => {
    const sharp = width({});
    const near = (fNumber: number): number => width({ lens: { fNumber, focusDistance: 2 } });
    expect([
      width({ lens: { fNumber: 0.1, focusDistance: 6 } }) - sharp <= 1,
      near(0.1) > sharp + 2,
      near(0.1) > near(1.2),
    ]).toEqual([true, true, true]);
    const pulled = {
      fNumber: 0.1,
      focusDistance: {
        keys: [
          { frame: 1, value: 2, ease: "linear" as const },
          { frame: 11, value: 6 },
        ],
      },
    };
    expect(width({ lens: pulled, frame: 11 })).toBeLessThan(width({ lens: pulled, frame: 1 }));
  });
  test("a soft filter reaches into the next pixels; pixels twice as wide show things half as wide", () => {
    expect(width({ filter: { kind: "gaussian", radius: 2.5 } })).toBeGreaterThan(width({}));
    // The angle of view across stays: with pixels twice as wide, half as much is seen from top to bottom, and
    // a ball is twice as many rows high.
    const rows = (pixelAspect: number): number => {
      const data = rendered(request({ scene: spot, samples: 64, pixelAspect }));
      return Array.from({ length: 27 }, (_, y) => y).filter((y) =>
        Array.from({ length: 48 }, (_, x) => data[(y * 48 + x) * 3]!).some((v) => v > 0),
      ).length;
    };
    expect(Math.abs(rows(2) / rows(1) - 2)).toBeLessThan(0.4);
  });
  test("the shutter of the plan wins over the scene's", () => {
    expect(columnsWithLight(rendered(request({ samples: 16, shutter: 1 }))).length).toBeGreaterThan(
      columnsWithLight(rendered(request({ samples: 16, shutter: 0 }))).length * 1.8,
    );
  });
  test("a noise target ends early, never before the least samples, and the picture is that of so many samples", () => {
    const early = whole(request({ scene: lit, samples: 4_000, noiseTarget: 0.2, minSamples: 8 }));
    expect([early.stoppedBy, early.samples]).toEqual(["noise", 8]);
    expect(early.pictures.beauty().data).toEqual(
      whole(request({ scene: lit, samples: 8 })).pictures.beauty().data,
    );
  });
  test("the same grain on every frame, where it is asked for", () => {
    const still = (frame: number, sameGrain: boolean) =>
      whole(request({ scene: lit, frame, sameGrain })).pictures.beauty().data;
    expect(still(3, true)).toEqual(still(9, true));
    expect(still(3, false)).not.toEqual(still(9, false));
  });
});

describe("pictures", () => {
  test("the same frame is the same picture bit for bit; another seed or frame is not", () => {
    const once = rendered(request({ scene: { ...moving, shutter: 0.5 } }));
    expect(rendered(request({ scene: { ...moving, shutter: 0.5 } }))).toEqual(once);
    expect(rendered(request({ scene: { ...moving, shutter: 0.5 }, seed: 2 }))).not.toEqual(once);
    expect(rendered(request({ scene: { ...moving, shutter: 0.5 }, frame: 1.25 }))).not.toEqual(once);
  });

  test("sub-frame time moves what is keyed; an open shutter smears it over its path", () => {
    const middle = (data: Uint8Array): number => {
      const lit = columnsWithLight(data);
      return (lit[0]! + lit.at(-1)!) / 2;
    };
    expect(middle(rendered(request({ frame: 1.5 })))).toBeGreaterThan(21);
    expect(middle(rendered(request({ frame: 1.5 })))).toBeLessThan(26);
    expect(middle(rendered(request({ frame: 1 })))).toBeLessThan(14);
    const still = columnsWithLight(rendered(request()));
    const smeared = columnsWithLight(rendered(request({ scene: { ...moving, shutter: 1 }, samples: 16 })));
    expect(smeared.length).toBeGreaterThan(still.length * 1.8);
  });

  test("twice the focal length shows things twice as large", () => {
    const centred = sceneOf(
      { kind: "emitter", colour: [1, 1, 1], strength: 1 },
      { shape: "sphere", scale: [0.5, 0.5, 0.5] },
      { sky: moving.sky },
    );
    const wide = columnsWithLight(rendered(request({ scene: centred }))).length;
    const long = columnsWithLight(
      rendered(request({ scene: { ...centred, cameras: [{ ...centred.cameras[0]!, focalLength: 100 }] } })),
    ).length;
    expect(long / wide).toBeCloseTo(2, 0);
  });

  test("a camera that the scene does not have is named, with those it has", () => {
    expect(() => new FrameRender(request({ camera: "top" }))).toThrow(UnknownCamera);
    expect(() => new FrameRender(request({ camera: "top" }))).toThrow("it has main");
  });
});
