/** Renders one job with the stand-in renderer in this process, yielding between rows. Used by the engine child and by `plain-tally render`. */
import fs from "node:fs/promises";
import sharp from "sharp";
import type { Scene } from "@/contract/scene";
import { meanLuminance } from "@/core/image/measure";
import { writePng } from "@/core/image/png-write";
import { FrameRender, UnknownCamera } from "@/render/render-frame";
import { GREY_TEXTURE, type Texture, textureFromRgb8 } from "@/render/texture";
import { TallyError } from "../errors";
import { fileHash } from "../files/content";
import { pngTools } from "../files/png-tools";
import { readSceneFile, texturePaths } from "../files/scene-files";
import { type EngineHooks, type FrameJob, type FrameOutput, RenderFailed } from "./engine";

/** Yield often enough to hear a message, seldom enough not to matter. */
const YIELD_MS = 30;

/** Decoded textures by content, so that a long-lived child decodes each once. */
const decoded = new Map<string, Texture>();

async function loadTexture(place: string): Promise<Texture> {
  const hash = await fileHash(place);
  const known = decoded.get(hash);
  if (known !== undefined) return known;
  const { data, info } = await sharp(place).removeAlpha().toColourspace("srgb").raw().toBuffer({ resolveWithObject: true });
  const texture = textureFromRgb8(info.width, info.height, data);
  decoded.set(hash, texture);
  return texture;
}

async function loadTextures(scenePath: string, scene: Scene, job: FrameJob, hooks: EngineHooks): Promise<Map<string, Texture>> {
  const textures = new Map<string, Texture>();
  for (const [name, place] of await texturePaths(scenePath, scene)) {
    if (job.hidden.includes(name)) {
      hooks.log("warning", `${name} is not to be had on this node; plain grey stands in for it`);
      textures.set(name, GREY_TEXTURE);
      continue;
    }
    textures.set(name, await loadTexture(place).catch((error: Error) => {
      throw new RenderFailed("texture-missing", `The scene needs ${name}, and it cannot be read: ${error.message}`);
    }));
  }
  return textures;
}

/** @param isOrphaned asked between rows; true ends the work */
export async function renderJob(job: FrameJob, hooks: EngineHooks, isOrphaned: () => boolean = () => false): Promise<FrameOutput> {
  const began = performance.now();
  try {
    const scene = await readSceneFile(job.scene);
    const textures = await loadTextures(job.scene, scene, job, hooks);
    const render = new FrameRender({ scene, textures, camera: job.camera, frame: job.frame, width: job.width, height: job.height, samples: job.samples, seed: job.seed });
    const started = performance.now();
    let yielded = started;
    while (render.renderRow()) {
      if (isOrphaned()) throw new RenderFailed("orphaned", "The node of this render is gone.");
      const now = performance.now();
      if (now - yielded > YIELD_MS) {
        hooks.progress(render.progress);
        await new Promise((resolve) => setImmediate(resolve));
        yielded = performance.now();
      }
    }
    const rendered = performance.now();
    const image = render.image();
    const file = await fs.open(job.output, "w");
    try {
      await file.writeFile(writePng(image, job.texts, pngTools));
      await file.sync();
    } finally {
      await file.close();
    }
    return {
      startupSeconds: (started - began) / 1000,
      renderSeconds: (rendered - started) / 1000,
      writeSeconds: (performance.now() - rendered) / 1000,
      samples: job.samples,
      luminance: meanLuminance(image),
    };
  } catch (error) {
    if (error instanceof TallyError || error instanceof UnknownCamera) throw new RenderFailed(error.code, error.message);
    const { code } = error as NodeJS.ErrnoException;
    if (typeof code === "string" && !(error instanceof RenderFailed)) throw new RenderFailed(`file-${code.toLowerCase()}`, (error as Error).message);
    throw error;
  }
}
