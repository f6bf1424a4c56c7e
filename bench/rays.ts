/**
 * Rays a second and core of a whole render, against a loop that only intersects the same rays with the same
 * bodies.
 */
import { median } from "@/core/many";
import path from "node:path";
import sharp from "sharp";
import type { Scene } from "@/contract/scene";
import { readSceneFile, texturePaths } from "@/server/scenes/scene-files";
import { FrameRender } from "@/render/render-frame";
import { type Texture, textureFromRgb8 } from "@/render/texture";
import { Tracer } from "@/render/tracer";
import { makeWorld } from "@/render/world";
import { type Measured, rounded } from "./measured";

const FRAME = 1040;
const [WIDTH, HEIGHT, SAMPLES] = [192, 108, 6];
const ROUNDS = 5;
/** Numbers a recorded query: origin, direction, limit. */
const STRIDE = 7;

async function load(file: string): Promise<{ scene: Scene; textures: Map<string, Texture> }> {
  const scene = await readSceneFile(file);
  const textures = new Map<string, Texture>();
  for (const [name, place] of await texturePaths(file, scene)) {
    const { data, info } = await sharp(place).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    textures.set(name, textureFromRgb8(info.width, info.height, data));
  }
  return { scene, textures };
}

/** Every query of one render, in order. */
function record(request: ConstructorParameters<typeof FrameRender>[0]): Float64Array {
  const queries: number[] = [];
  const nearest = Tracer.prototype.nearest;
  Tracer.prototype.nearest = function (ox, oy, oz, dx, dy, dz, tMax) {
    queries.push(ox, oy, oz, dx, dy, dz, tMax);
    return nearest.call(this, ox, oy, oz, dx, dy, dz, tMax);
  };
  try {
    const render = new FrameRender(request);
    while (render.renderRow());
    return Float64Array.from(queries);
  } finally {
    Tracer.prototype.nearest = nearest;
  }
}

export async function rays(home: string): Promise<Measured> {
  const { scene, textures } = await load(path.join(home, "src/demo/scenes/hl010.json"));
  const request = {
    scene,
    textures,
    camera: scene.cameras[0]!.name,
    frame: FRAME,
    width: WIDTH,
    height: HEIGHT,
    samples: SAMPLES,
    seed: 1,
  };
  const queries = record(request);
  const count = queries.length / STRIDE;
  const whole: number[] = [];
  const only: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    let began = performance.now();
    const render = new FrameRender(request);
    while (render.renderRow());
    whole.push(performance.now() - began);
    if (render.rays !== count)
      throw new Error(`The render asked ${render.rays} rays, the record has ${count}.`);
    const tracer = new Tracer(makeWorld(scene, textures, FRAME));
    began = performance.now();
    for (let i = 0; i < queries.length; i += STRIDE)
      tracer.nearest(
        queries[i]!,
        queries[i + 1]!,
        queries[i + 2]!,
        queries[i + 3]!,
        queries[i + 4]!,
        queries[i + 5]!,
        queries[i + 6]!,
      );
    only.push(performance.now() - began);
  }
  const [value, yardstick] = [(count * 1000) / median(whole), (count * 1000) / median(only)];
  return {
    name: "rays",
    value: rounded(value),
    unit: "rays/s",
    yardstick: rounded(yardstick),
    ratio: rounded(value / yardstick),
    goal: "a whole render traces at least 0.5 of the rays a second that only intersecting them would",
    holds: value / yardstick >= 0.5,
  };
}
