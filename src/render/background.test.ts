import { PLAN } from "../../tests/support/plan";
import { sumsOfPlan } from "@/core/run/checkpoint";
import type { Scene } from "@/contract/scene";
import { FrameRender } from "./render-frame";

const scene: Scene = {
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0.5,
  exposure: 1.7,
  sky: { zenith: [0.2, 0.3, 0.8], horizon: [0.8, 0.8, 0.8], ground: [0.1, 0.1, 0.1] },
  cameras: [{ name: "main", position: [0, 1, 6], target: [0, 1, 0], focalLength: 50 }],
  materials: { clay: { kind: "diffuse", colour: [0.8, 0.4, 0.2] } },
  bodies: [{ shape: "sphere", material: "clay", position: [0, 1, 0] }],
};

test("the background put under the picture with alpha makes it what it is without: what alpha took away comes back", () => {
  const render = new FrameRender({
    ...{ scene, textures: new Map(), camera: "main", frame: 1, width: 24, height: 16 },
    ...{ samples: 4, seed: 3, cover: true },
  });
  while (render.renderRow());
  const { pictures } = render;
  const [whole, cut, behind] = [pictures.beauty(), pictures.beauty(true), pictures.background()];
  const alpha = pictures.alpha();
  // Bodies, sky and edges are in sight.
  expect(new Set(alpha).size).toBeGreaterThan(2);
  expect(alpha.includes(0) && alpha.includes(1)).toBe(true);
  whole.data.forEach((value, i) => expect(cut.data[i]! + behind.data[i]!).toBeCloseTo(value, 5));
  // Where a body covers all of a pixel nothing is behind it.
  alpha.forEach((a, pixel) => {
    if (a === 1) expect(behind.data[pixel * 3]).toBe(0);
  });
});

test("a plan with the background keeps the sums that it is made of, and no others", () => {
  expect(sumsOfPlan({ ...PLAN, passes: ["beauty", "background"], alpha: "none" })).toEqual({
    cover: true,
    layers: false,
  });
});
