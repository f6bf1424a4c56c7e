/**
 * The samples of one frame: begun or gone on with, taken row by row with a breath between, saved by the clock
 * and when asked to stop.
 */
import fs from "node:fs/promises";
import sharp from "sharp";
import { CHECKPOINT_FORMAT, type CheckpointHeader } from "@/contract/checkpoint";
import { quantize } from "@/core/image/pixels";
import { type ResumeBar, resumeBar, savedText } from "@/core/run/checkpoint";
import type { FrameSums } from "@/render/frame-sums";
import { toDisplay } from "@/render/layers";
import { FrameRender, type FrameRequest, sumsKeptBy } from "@/render/render-frame";
import { type Checkpoint, readCheckpoint, writeCheckpoint } from "../files/checkpoint-file";
import { type EngineHooks, type FrameJob, RenderFailed, type SavedCheckpoint } from "./engine";
import type { RenderControl } from "./render-control";

/** Yield often enough to hear a message, seldom enough not to matter. */
const YIELD_MS = 30;
/**
 * Between two pictures of a frame in work, for those who look at it; and how many times their cost must lie
 * between.
 */
const PREVIEW_MS = 3_000;
const PREVIEW_SHARE = 100;
const PREVIEW_WIDTH = 480;

export interface Sampling {
  readonly job: FrameJob;
  readonly request: FrameRequest;
  readonly render: FrameRender;
  /** The gathered light that its samples are lit by; null for none. */
  readonly lighting: string | null;
  /** Mean samples a pixel, and render seconds, that it began with. */
  readonly savedSamples: number;
  /** Render seconds that went into them. */
  readonly savedSeconds: number;
  /** Milliseconds in which samples were taken: what a time limit counts. */
  renderMs: number;
  /** Processor milliseconds of these. */
  cpuMs: number;
  /** Milliseconds in which samples were saved on the way. */
  saveMs: number;
  /** Checkpoints saved so far. */
  saves: number;
}

/** Samples of a pixel in the mean: with a noise limit pixels have different numbers. */
export const meanSamples = ({ counts }: FrameSums): number =>
  counts.reduce((sum, n) => sum + n, 0) / counts.length;

/** Why saved samples cannot be used, as the end of a sentence. */
export const barText = (bar: ResumeBar): string =>
  bar.code === "sums-not-kept"
    ? "a pass was added that needs what was not kept"
    : `${bar.changes.map((c) => c.setting).join(", ")} ${bar.changes.length === 1 ? "is" : "are"} not what ${bar.changes.length === 1 ? "it was" : "they were"}${bar.code === "tiles-are-final" ? ", and tiles are final" : ""}`;

/** The newest saved samples that are whole and fit; why others do not is said in the log. */
async function findSaved(
  job: FrameJob,
  request: FrameRequest,
  lighting: string | null,
  hooks: EngineHooks,
): Promise<Checkpoint | null> {
  if (job.checkpoint === null) return null;
  for (const file of job.checkpoint.resumeFrom) {
    const found = await readCheckpoint(file).catch((error: NodeJS.ErrnoException) => {
      if (error.code === "ENOENT") return undefined;
      throw error;
    });
    if (found === undefined) continue;
    if (found === null) {
      hooks.log("warning", "saved samples are damaged and cannot be used");
      continue;
    }
    const { header } = found;
    if (
      header.camera !== job.camera ||
      header.frame !== job.frame ||
      header.width !== request.width ||
      header.height !== request.height
    )
      continue;
    if ((header.lighting ?? null) !== lighting) {
      hooks.log("warning", "saved samples cannot be used: they were lit by other gathered light");
      continue;
    }
    const bar = resumeBar(header, { ...job.checkpoint.made, ...sumsKeptBy(request) });
    if (bar === null) return found;
    hooks.log("warning", `saved samples cannot be used: ${barText(bar)}`);
  }
  return null;
}

/** Begins a frame, or goes on with what was saved of it.
 * @param lighting names the gathered light of the request; null for none
 */
export async function beginSampling(
  job: FrameJob,
  request: FrameRequest,
  lighting: string | null,
  hooks: EngineHooks,
): Promise<Sampling> {
  const saved = await findSaved(job, request, lighting, hooks);
  if (saved !== null)
    hooks.log("info", `goes on from ${savedText(saved.header, job.plan)}, as saved on ${saved.header.node}`);
  // What was kept for passes that this task does not write is kept on: the next one may want it.
  const wanted =
    saved === null ? request : { ...request, layers: saved.header.layers, cover: saved.header.cover };
  const render = new FrameRender(
    wanted,
    saved === null ? null : { sums: saved.sums, cursor: saved.header.cursor },
  );
  return {
    job,
    request: wanted,
    render,
    lighting,
    savedSamples: saved === null ? 0 : meanSamples(saved.sums),
    savedSeconds: saved?.header.seconds ?? 0,
    renderMs: 0,
    cpuMs: 0,
    saveMs: 0,
    saves: 0,
  };
}

/** Saves, or says why not: without a place to go on from, the frame itself still goes on. */
export async function trySaving(sampling: Sampling, hooks: EngineHooks): Promise<SavedCheckpoint | null> {
  try {
    return await save(sampling);
  } catch (error) {
    await fs.rm(`${sampling.job.checkpoint!.temporary}-${sampling.saves}`, { force: true });
    hooks.log("warning", `samples could not be saved: ${(error as Error).message}`);
    return null;
  }
}

/** Writes what there is under a temporary name; null where nothing is to be kept, or no row was taken yet. */
async function save(sampling: Sampling): Promise<SavedCheckpoint | null> {
  const { job, request, render, lighting } = sampling;
  if (job.checkpoint === null || render.sums.counts[0] === 0) return null;
  const header: CheckpointHeader = {
    format: CHECKPOINT_FORMAT,
    ...job.checkpoint.made,
    lighting,
    camera: job.camera,
    frame: job.frame,
    width: request.width,
    height: request.height,
    exposure: request.scene.exposure,
    cursor: render.cursor,
    ...sumsKeptBy(request),
    samples: render.samples,
    share: render.progress,
    seconds: sampling.savedSeconds + sampling.renderMs / 1000,
  };
  const temporary = `${job.checkpoint.temporary}-${++sampling.saves}`;
  return { temporary, header, bytes: await writeCheckpoint(temporary, header, render.sums) };
}

async function previewOf({ render, request: { width, height } }: Sampling): Promise<Uint8Array> {
  const { data } = quantize(toDisplay(render.pictures.beauty(), "beauty"), 8, false);
  const image = sharp(data as Uint8Array, { raw: { width, height, channels: 3 } });
  return image
    .resize({ width: Math.min(width, PREVIEW_WIDTH) })
    .jpeg({ quality: 80 })
    .toBuffer();
}

/** A row, and the time that it took; false when there are no more. */
function takeRow(sampling: Sampling): boolean {
  const began = performance.now();
  const cpu = process.cpuUsage();
  const hasMore = sampling.render.renderRow();
  const { user, system } = process.cpuUsage(cpu);
  sampling.renderMs += performance.now() - began;
  sampling.cpuMs += (user + system) / 1000;
  return hasMore;
}

/** Takes samples until the plan has enough or its time is over: true. False when asked to stop before. */
export async function sample(
  sampling: Sampling,
  hooks: EngineHooks,
  { isOrphaned, isStopping }: RenderControl,
): Promise<boolean> {
  const { job, render } = sampling;
  const startedAt = performance.now();
  const { timeLimit } = job.plan;
  const everyMs =
    job.checkpoint?.everySeconds == null ? Number.POSITIVE_INFINITY : job.checkpoint.everySeconds * 1000;
  // At least one round is taken, whatever was spent: a frame without samples is no frame.
  const leftMs =
    timeLimit === null
      ? Number.POSITIVE_INFINITY
      : Math.max(0, timeLimit - Math.max(job.spentSeconds, sampling.savedSeconds)) * 1000;
  let yielded = startedAt;
  let saved = startedAt;
  let previewAt = startedAt + PREVIEW_MS;
  while (takeRow(sampling)) {
    if (isOrphaned()) throw new RenderFailed("orphaned");
    const now = performance.now();
    if (sampling.renderMs > leftMs && render.stop("time")) return true;
    if (now - yielded <= YIELD_MS) continue;
    hooks.progress(render.progress);
    await new Promise((resolve) => setImmediate(resolve));
    if (isStopping()) return false;
    if (now - saved > everyMs) {
      const checkpoint = await trySaving(sampling, hooks);
      if (checkpoint !== null) hooks.checkpoint(checkpoint);
      saved = performance.now();
      sampling.saveMs += saved - now;
    }
    if (now > previewAt) {
      hooks.preview(await previewOf(sampling));
      previewAt = performance.now() + Math.max(PREVIEW_MS, (performance.now() - now) * PREVIEW_SHARE);
    }
    yielded = performance.now();
  }
  return true;
}
