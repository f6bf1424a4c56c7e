/**
 * Error of the denoised demo scenes against 4,096 samples, as a ratio to no denoise; and what a megapixel
 * takes.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { readSceneOnDisk } from "@/server/scenes/scene-files";
import { loadTexture } from "@/server/scenes/textures";
import type { Texture } from "@/render/texture";
import { denoise as clean } from "@/render/denoise";
import { FrameRender } from "@/render/render-frame";
import { readExr } from "@/core/image/exr";
import { imageTools } from "@/server/files/image-tools";
import { REFERENCES, shownError } from "../tests/support/references";
import { type Measured, rounded } from "./measured";

const [WIDTH, HEIGHT, SAMPLES] = [96, 54, 8];
const LIMIT = 0.5;

export async function denoise(home: string): Promise<Measured> {
  const ratios: number[] = [];
  let seconds = 0;
  for (const { scene: name, camera, frame } of REFERENCES) {
    const onDisk = await readSceneOnDisk(path.join(home, "src/demo/scenes", `${name}.json`));
    const textures = new Map<string, Texture>();
    for (const [texture, place] of onDisk.textures) textures.set(texture, await loadTexture(place));
    const render = new FrameRender({
      scene: onDisk.scene,
      textures,
      camera,
      frame,
      width: WIDTH,
      height: HEIGHT,
      samples: SAMPLES,
      seed: 1,
      layers: true,
    });
    while (render.renderRow());
    const { pictures } = render;
    const input = {
      beauty: pictures.beauty(),
      albedo: pictures.albedo(),
      normal: pictures.normal(),
      depth: pictures.depth(),
    };
    clean(input);
    const began = performance.now();
    const cleaned = clean(input);
    seconds += (performance.now() - began) / 1000;
    const reference = readExr(
      await fs.readFile(path.join(home, "tests/fixtures/reference", `${name}.exr`)),
      imageTools.inflate,
    );
    if (reference === null) throw new Error(`The reference of ${name} does not unpack.`);
    ratios.push(shownError(cleaned, reference) / shownError(input.beauty, reference));
  }
  const worst = Math.max(...ratios);
  const aMegapixel = seconds / ((WIDTH * HEIGHT * REFERENCES.length) / 1e6);
  return {
    name: "denoise",
    value: rounded(aMegapixel),
    unit: "s/megapixel",
    yardstick: 1,
    ratio: rounded(worst),
    goal: `mean squared error of what is shown, at 8 samples against 4,096, at most ${LIMIT} of no denoise in each demo scene (measured ${REFERENCES.map((r, i) => `${r.scene} ${ratios[i]!.toFixed(2)}`).join(", ")}); the ratio is the worst of them`,
    holds: worst <= LIMIT,
  };
}
