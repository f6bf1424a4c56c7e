/** Renders one job with the stand-in renderer in this process, yielding between rows. Used by the engine child and by `plain-tally render`. */
import fs from "node:fs/promises";
import type { Scene } from "@/contract/scene";
import { readExr } from "@/core/image/exr";
import type { FloatImage } from "@/core/image/pixels";
import type { Pass } from "@/core/plan/passes";
import { type Plan, readPlan } from "@/core/plan/plan";
import { denoise } from "@/render/denoise";
import { requestOf } from "@/render/plan-request";
import { FrameRender, UnknownCamera } from "@/render/render-frame";
import { GREY_TEXTURE, type Texture } from "@/render/texture";
import { TallyError } from "../errors";
import { imageTools } from "../files/image-tools";
import { readSceneFile, texturePaths } from "../files/scene-files";
import { encodePicture } from "../files/write-picture";
import { loadTexture } from "./textures";
import { ENGINE, type EngineHooks, FILE_TEXT, type FrameJob, type FrameOutput, type Guides, type PassOutput, RenderFailed } from "./engine";

/** Yield often enough to hear a message, seldom enough not to matter. */
const YIELD_MS = 30;

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

/** Pictures of a frame, made when asked for, in scene values. */
interface FramePictures {
  readonly picture: (pass: Pass) => FloatImage;
  /** Coverage, where the plan asks for alpha. */
  readonly alpha: Float32Array | null;
}

function picturesOf(render: FrameRender, plan: Plan): FramePictures {
  const isolated = plan.alpha !== "none";
  const make = (pass: Pass): FloatImage => {
    switch (pass) {
      case "beauty": return render.beauty(isolated);
      case "denoised": return render.denoised(isolated);
      case "direct": return render.direct(isolated);
      case "indirect": return render.indirect();
      case "albedo": return render.albedo();
      case "normal": return render.normal();
      case "depth": return render.depth();
    }
  };
  return { picture: make, alpha: isolated ? render.alpha() : null };
}

async function readGuide(file: string): Promise<FloatImage & { readonly names: readonly string[] }> {
  const image = readExr(await fs.readFile(file), imageTools.inflate);
  if (image === null) throw new RenderFailed("guide-unreadable", `${file} cannot be read: the frame must be rendered again.`);
  return image;
}

const withoutAlpha = (image: FloatImage): FloatImage =>
  image.channels !== 4 ? image : { ...image, channels: 3, data: Float32Array.from({ length: image.width * image.height * 3 }, (_, i) => image.data[Math.floor(i / 3) * 4 + (i % 3)]!) };

/** The denoised twin from the frame's kept files: beauty and guides in linear light. */
async function denoiseFromFiles(guides: Guides): Promise<FramePictures> {
  const beauty = await readGuide(guides.beauty);
  const alpha = beauty.channels === 4 ? Float32Array.from({ length: beauty.width * beauty.height }, (_, p) => beauty.data[p * 4 + 3]!) : null;
  const input = { beauty: withoutAlpha(beauty), albedo: await readGuide(guides.albedo), normal: await readGuide(guides.normal), depth: await readGuide(guides.depth) };
  return { alpha, picture: () => denoise(input) };
}

async function writeWhole(file: string, bytes: Uint8Array): Promise<void> {
  const handle = await fs.open(file, "w");
  try {
    await handle.writeFile(bytes);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** @param isOrphaned asked between rows; true ends the work */
export async function renderJob(job: FrameJob, hooks: EngineHooks, isOrphaned: () => boolean = () => false): Promise<FrameOutput> {
  const began = performance.now();
  const cpu = process.cpuUsage();
  const { plan } = job;
  try {
    const read = readPlan(plan);
    if (!read.ok) throw new RenderFailed("plan-wrong", read.faults[0]!.message);
    let pictures: FramePictures;
    let render: FrameRender | null = null;
    let started = began;
    if (job.guides !== null) {
      pictures = await denoiseFromFiles(job.guides);
      started = performance.now();
    } else {
      const scene = await readSceneFile(job.scene);
      const textures = await loadTextures(job.scene, scene, job, hooks);
      render = new FrameRender(requestOf({ read: read.value, scene, textures, camera: job.camera, frame: job.frame, passes: job.passes.map((p) => p.pass) }));
      started = performance.now();
      // At least one round is taken, whatever was spent: a frame without samples is no frame.
      await sample(render, plan.timeLimit === null ? null : Math.max(0, plan.timeLimit - job.spentSeconds), hooks, isOrphaned);
      pictures = picturesOf(render, plan);
    }
    const rendered = performance.now();
    const denoised = job.passes.some((p) => p.pass === "denoised") ? pictures.picture("denoised") : null;
    const written = performance.now();
    const passes: PassOutput[] = [];
    const made = render === null ? {} : { samples: render.samples };
    for (const { pass, output, made: maker } of job.passes) {
      const texts = { Software: `Plain Tally, ${ENGINE}`, [FILE_TEXT]: JSON.stringify({ ...maker, ...made }) };
      const encoded = await encodePicture(pass === "denoised" ? denoised! : pictures.picture(pass), pictures.alpha, pass, plan, texts);
      await writeWhole(output, encoded.bytes);
      passes.push({ pass, luminance: encoded.luminance, noise: encoded.noise });
    }
    const used = process.cpuUsage(cpu);
    return {
      cpuSeconds: (used.user + used.system) / 1e6,
      startupSeconds: (started - began) / 1000, renderSeconds: (rendered - started) / 1000, denoiseSeconds: (written - rendered) / 1000, writeSeconds: (performance.now() - written) / 1000,
      samples: render?.samples ?? plan.samples, stoppedBy: render?.stoppedBy ?? null, passes,
    };
  } catch (error) {
    if (error instanceof TallyError || error instanceof UnknownCamera) throw new RenderFailed(error.code, error.message);
    const { code } = error as NodeJS.ErrnoException;
    if (typeof code === "string" && !(error instanceof RenderFailed)) throw new RenderFailed(`file-${code.toLowerCase()}`, (error as Error).message);
    throw error;
  }
}

/** Takes samples until the plan has enough, or its time is over. */
async function sample(render: FrameRender, timeLimit: number | null, hooks: EngineHooks, isOrphaned: () => boolean): Promise<void> {
  const started = performance.now();
  let yielded = started;
  while (render.renderRow()) {
    if (isOrphaned()) throw new RenderFailed("orphaned", "The node of this render is gone.");
    const now = performance.now();
    if (timeLimit !== null && now - started > timeLimit * 1000 && render.stop("time")) return;
    if (now - yielded > YIELD_MS) {
      hooks.progress(render.progress);
      await new Promise((resolve) => setImmediate(resolve));
      yielded = performance.now();
    }
  }
}
