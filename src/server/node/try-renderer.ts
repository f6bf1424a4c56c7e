/**
 * One frame of a scene for somebody who has just declared a renderer: the way of a frame, with a picture and a log
 * at its end and nothing that stays.
 */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";
import type { TryAnswer, TryQuestion } from "@/contract/node-request";
import { PLAN_DEFAULTS, type Plan } from "@/core/plan/plan";
import { type Engine, type EngineHooks, secondsOf } from "../engines/engine";
import { buildFrameJob, PLAIN_WORK } from "../engines/frame-job";
import { insideFolder, projectFolder } from "../files/paths";
import { readRenderSources } from "../scenes/scene-files";
import { takesSamples } from "../scenes/renderers";

/** Small and coarse: it is to be seen whether it renders at all. */
const SIZE = { width: 480, height: 270 };
const SAMPLES = 4;
const LONGEST_MS = 300_000;
const MOST_LINES = 200;

/** A plan for the one frame. */
function planOf({ scene, renderer, camera, frame }: TryQuestion): Plan {
  const rate = { numerator: 24, denominator: 1 };
  return {
    ...PLAN_DEFAULTS,
    ...SIZE,
    scene,
    renderer,
    cameras: [camera],
    frames: String(frame),
    timeLine: { first: frame, last: frame, rate },
    rate,
    samples: SAMPLES,
    checkpoints: { kind: "never" },
  };
}

/** Renders into a folder of its own on this machine; a fault is an answer. */
export async function tryRenderer(question: TryQuestion, engine: Engine): Promise<TryAnswer> {
  const began = performance.now();
  const lines: string[] = [];
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-try-"));
  const hooks: EngineHooks = {
    progress: () => undefined,
    log: (level, text) => {
      if (lines.length < MOST_LINES) lines.push(level === "info" ? text : `${level}: ${text}`);
    },
    checkpoint: () => undefined,
    noRoom: () => undefined,
    preview: () => undefined,
  };
  const answer = (fault: string | null, jpeg: string | null, seconds?: number): TryAnswer => ({
    fault,
    lines,
    jpeg,
    seconds: seconds ?? (performance.now() - began) / 1000,
  });
  try {
    const scene = await insideFolder(projectFolder(question), question.scene);
    const { sources } = await readRenderSources(scene, question.renderer);
    const final = path.join(folder, "frame.png");
    const { job, passes } = buildFrameJob({
      ...PLAIN_WORK,
      scene,
      plan: planOf(question),
      sources,
      camera: question.camera,
      frame: question.frame,
      finals: [{ pass: "beauty", final }],
      temporaryBy: process.pid,
      maker: null,
    });
    const signal = AbortSignal.timeout(LONGEST_MS);
    const result = await engine.render(job, hooks, signal, new AbortController().signal);
    if (result.kind !== "done") return answer("it was stopped", null);
    const jpeg = await sharp(passes[0]!.temporary).jpeg({ quality: 85 }).toBuffer();
    if (!takesSamples(question.renderer))
      hooks.log("info", "the call names no {samples}: it renders as it likes");
    return answer(null, jpeg.toString("base64"), secondsOf(result.output));
  } catch (error) {
    const { name, message } = error as Error;
    return answer(
      name === "TimeoutError" ? `it took longer than ${LONGEST_MS / 60_000} minutes` : message,
      null,
    );
  } finally {
    engine.close();
    await fs.rm(folder, { recursive: true, force: true });
  }
}
