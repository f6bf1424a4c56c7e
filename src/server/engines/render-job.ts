/**
 * Renders one job with the stand-in renderer in this process. Used by the engine child and by `plain-tally
 * render`.
 */
import { readExr } from "@/core/image/exr";
import type { FloatImage } from "@/core/image/pixels";
import { type GatherWork, NO_GATHER } from "@/core/run/gathered-light";
import { isStandInPass, type Pass } from "@/core/plan/passes";
import { type Plan, readPlan } from "@/core/plan/plan";
import { denoise } from "@/render/denoise";
import { requestOf } from "@/render/plan-request";
import type { FramePictures } from "@/render/frame-sums";
import { type FrameRequest, UnknownCamera } from "@/render/render-frame";
import { TallyError } from "../errors";
import { imageTools } from "../files/image-tools";
import { encodePicture } from "../files/write-picture";
import { asksGatheredLight, makeGatheredLight } from "./gathered-light";
import { SceneKeeper } from "./loaded-scene";
import { type RenderControl, UNWATCHED } from "./render-control";
import { writeWhole } from "./write-whole";
import {
  type EngineHooks,
  type FrameJob,
  type FrameOutput,
  type Guides,
  type PassOutput,
  RenderFailed,
  type RenderResult,
} from "./engine";
import { beginSampling, meanSamples, sample, type Sampling, trySaving } from "./sampling";
import { ENGINE } from "../scenes/stand-in";
import { FILE_TEXT } from "../files/origin";
import { fileFaultCode } from "@/contract/faults";
import { readRegular } from "../files/read-regular";

/** Pictures of a frame, made when asked for, in scene values. */
interface WantedPictures {
  readonly picture: (pass: Pass) => FloatImage;
  /** Coverage, where the plan asks for alpha. */
  readonly alpha: Float32Array | null;
}

function picturesOf(render: FramePictures, plan: Plan): WantedPictures {
  const isolated = plan.alpha !== "none";
  const make = (pass: Pass): FloatImage => {
    if (!isStandInPass(pass))
      throw new RenderFailed("plan-wrong", { message: `The stand-in renderer writes no ${pass}.` });
    switch (pass) {
      case "beauty":
        return render.beauty(isolated);
      case "denoised":
        return render.denoised(isolated);
      case "direct":
        return render.direct(isolated);
      case "indirect":
        return render.indirect();
      case "background":
        return render.background();
      case "albedo":
        return render.albedo();
      case "normal":
        return render.normal();
      case "depth":
        return render.depth();
    }
  };
  return { picture: make, alpha: isolated ? render.alpha() : null };
}

async function readGuide(file: string): Promise<FloatImage & { readonly names: readonly string[] }> {
  const image = readExr(await readRegular(file), imageTools.inflate);
  if (image === null) throw new RenderFailed("guide-unreadable", { file });
  return image;
}

const withoutAlpha = (image: FloatImage): FloatImage =>
  image.channels !== 4
    ? image
    : {
        ...image,
        channels: 3,
        data: Float32Array.from(
          { length: image.width * image.height * 3 },
          (_, i) => image.data[Math.floor(i / 3) * 4 + (i % 3)]!,
        ),
      };

/** The denoised twin from the frame's kept files: beauty and guides in linear light. */
async function denoiseFromFiles(guides: Guides): Promise<WantedPictures> {
  const beauty = await readGuide(guides.beauty);
  const alpha =
    beauty.channels === 4
      ? Float32Array.from({ length: beauty.width * beauty.height }, (_, p) => beauty.data[p * 4 + 3]!)
      : null;
  const input = {
    beauty: withoutAlpha(beauty),
    albedo: await readGuide(guides.albedo),
    normal: await readGuide(guides.normal),
    depth: await readGuide(guides.depth),
  };
  return { alpha, picture: () => denoise(input) };
}

/** The first part of a run whose scene asks for it: the cache of one frame. */
async function makeLightAlone(
  job: FrameJob,
  request: FrameRequest,
  hooks: EngineHooks,
  control: RenderControl,
  began: number,
  cpu: NodeJS.CpuUsage,
): Promise<RenderResult> {
  const started = performance.now();
  if (!(await makeGatheredLight(job, request, hooks, control))) return { kind: "stopped", saved: null };
  const used = process.cpuUsage(cpu);
  const cpuSeconds = (used.user + used.system) / 1e6;
  return {
    kind: "done",
    saved: null,
    output: {
      cpuSeconds,
      cpuShare: cpuSeconds / ((performance.now() - began) / 1000),
      startupSeconds: (started - began) / 1000,
      batchStartupSeconds: (started - began) / 1000,
      light: { made: 1, seconds: (performance.now() - started) / 1000 },
      renderSeconds: 0,
      denoiseSeconds: 0,
      writeSeconds: 0,
      samples: 0,
      samplesAdded: 0,
      stoppedBy: null,
      passes: [],
    },
  };
}

/** @param scenes keeps the scene from one job to the next */
export async function renderJob(
  job: FrameJob,
  hooks: EngineHooks,
  control: RenderControl = UNWATCHED,
  scenes = new SceneKeeper(),
): Promise<RenderResult> {
  const began = performance.now();
  const cpu = process.cpuUsage();
  const { plan } = job;
  try {
    const read = readPlan(plan);
    if (!read.ok) throw new RenderFailed("plan-wrong", { message: read.faults[0]!.message });
    let pictures: WantedPictures;
    let sampling: Sampling | null = null;
    let started = began;
    let lit: GatherWork = NO_GATHER;
    if (job.guides !== null) {
      pictures = await denoiseFromFiles(job.guides);
      started = performance.now();
    } else {
      const { scene, textures } = await scenes.load(job, hooks);
      if (scene.lighting?.only === true) throw new RenderFailed("scene-writes-no-pictures");
      const at = (frame: number): FrameRequest =>
        requestOf({
          read: read.value,
          scene,
          textures,
          camera: job.camera,
          frame,
          passes: job.passes.map((p) => p.pass),
        });
      if (job.light?.output != null)
        return await makeLightAlone(job, at(job.frame), hooks, control, began, cpu);
      const lighting = asksGatheredLight(scene, plan)
        ? await scenes.lighting.find(job, at, hooks, control)
        : null;
      if (lighting === "stopped") return { kind: "stopped", saved: null };
      if (lighting !== null) lit = lighting.work;
      sampling = await beginSampling(
        job,
        { ...at(job.frame), ...(lighting === null ? {} : { lighting: lighting.lookup }) },
        lighting?.id ?? null,
        hooks,
      );
      started = performance.now();
      if (!(await sample(sampling, hooks, control)))
        return {
          kind: "stopped",
          saved: job.checkpoint?.whenStopped === true ? await trySaving(sampling, hooks) : null,
        };
      pictures = picturesOf(sampling.render.pictures, plan);
    }
    const rendered = performance.now();
    const denoised = job.passes.some((p) => p.pass === "denoised") ? pictures.picture("denoised") : null;
    const written = performance.now();
    const passes: PassOutput[] = [];
    const made = sampling === null ? {} : { samples: sampling.render.samples };
    for (const { pass, output, made: maker } of job.passes) {
      const texts = {
        Software: `Plain Tally, ${ENGINE}`,
        [FILE_TEXT]: JSON.stringify({ ...maker, ...made }),
      };
      const encoded = await encodePicture(
        pass === "denoised" ? denoised! : pictures.picture(pass),
        pictures.alpha,
        pass,
        plan,
        texts,
      );
      const isWritten = await writeWhole(output, encoded.bytes, (need) => {
        if (control.isOrphaned()) throw new RenderFailed("orphaned");
        hooks.noRoom(need);
        return !control.isStopping();
      });
      if (!isWritten) return { kind: "stopped", saved: null };
      passes.push({ pass, luminance: encoded.luminance, noise: encoded.noise });
    }
    const saved =
      sampling !== null && job.checkpoint?.whenDone === true ? await trySaving(sampling, hooks) : null;
    const used = process.cpuUsage(cpu);
    const startupSeconds = Math.max(0, (started - began) / 1000 - lit.seconds);
    const output: FrameOutput = {
      cpuSeconds: (used.user + used.system) / 1e6,
      cpuShare: sampling === null || sampling.renderMs === 0 ? null : sampling.cpuMs / sampling.renderMs,
      startupSeconds,
      batchStartupSeconds: startupSeconds,
      light: lit,
      renderSeconds: (sampling?.renderMs ?? rendered - started) / 1000,
      denoiseSeconds: (written - rendered) / 1000,
      writeSeconds: (performance.now() - written + (sampling?.saveMs ?? 0)) / 1000,
      samples: sampling?.render.samples ?? plan.samples,
      samplesAdded: sampling === null ? 0 : meanSamples(sampling.render.sums) - sampling.savedSamples,
      stoppedBy: sampling?.render.stoppedBy ?? null,
      passes,
    };
    return { kind: "done", output, saved };
  } catch (error) {
    if (error instanceof TallyError || error instanceof UnknownCamera)
      throw RenderFailed.told(error.code, error.message);
    const { code } = error as NodeJS.ErrnoException;
    if (typeof code === "string" && !(error instanceof RenderFailed))
      throw RenderFailed.told(fileFaultCode(code), (error as Error).message);
    throw error;
  }
}
