/**
 * Renders frames of a hand-out on a machine without database or storage: the scene is proved by its
 * content first; each frame gets its name and its place as in the version's folder, and says itself
 * who made it. What is there and whole is left alone, so that an interrupted share goes on; a frame
 * that was stopped goes on from its saved samples.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { HandOut } from "@/contract/hand-out";
import { type FrameSet, members } from "@/core/frames/frame-set";
import { checkFile } from "@/core/image/check-file";
import { extensionOf } from "@/core/image/file-format";
import { fileName } from "@/core/naming/pattern";
import { effortSettings, fingerprintsOf, lookSettings } from "@/core/plan/fingerprint";
import type { Pass } from "@/core/plan/passes";
import { nameValues, type ReadPlan, versionName } from "@/core/plan/plan";
import { isExternal } from "@/core/plan/renderer";
import { DENOISER_VERSION } from "@/render/denoise";
import { TallyError } from "../errors";
import { type CheckpointJob, type Engine, type LogLevel, RenderFailed, secondsOf } from "../engines/engine";
import { checkpointBefore, checkpointFile, checkpointFolder } from "../files/checkpoint-paths";
import { imageTools } from "../files/image-tools";
import { lightingFolder } from "../files/lighting-files";
import { frozenName, readRenderSources } from "../scenes/scene-files";
import { originOf } from "../folder/folder-state";
import { appendManifest } from "./manifest";

export interface ShareJob {
  readonly handOut: HandOut;
  readonly read: ReadPlan;
  /** Folder of the plan file. */
  readonly home: string;
  readonly machine: string;
  readonly frames: FrameSet;
  /** Folder that stands for the version's. */
  readonly out: string;
}

export type ShareEvent =
  | {
      readonly kind: "there" | "failed";
      readonly camera: string;
      readonly frame: number;
      readonly text: string;
    }
  | { readonly kind: "made"; readonly camera: string; readonly frame: number; readonly seconds: number };

/** The copy of the scene, proved to be what was handed out. */
async function proveScene({ handOut: { plan, sources, sceneFolder }, home }: ShareJob): Promise<string> {
  const scene = path.join(home, sceneFolder, frozenName(plan.renderer, plan.scene));
  const seen = (await readRenderSources(scene, plan.renderer)).sources;
  const other = [
    ...(seen.scene === sources.scene ? [] : ["the scene"]),
    ...Object.keys(sources.files).filter((name) => (seen.files[name] ?? null) !== sources.files[name]),
    ...(seen.engine === sources.engine
      ? []
      : [`the renderer (${seen.engine}; handed out for ${sources.engine})`]),
  ];
  if (other.length > 0)
    throw new TallyError(
      "scene-other",
      `Not what was handed out: ${other.join(", ")}. Its frames would be out of date.`,
    );
  return scene;
}

interface PassPlace {
  readonly pass: Pass;
  readonly final: string;
  readonly fingerprints: ReturnType<typeof fingerprintsOf>;
}

async function isThere({ final, fingerprints }: PassPlace): Promise<boolean> {
  const bytes = await fs.readFile(final).catch(() => null);
  if (bytes === null || checkFile(final, bytes, imageTools).verdict !== "good") return false;
  const { look } = originOf(bytes);
  return look === null || look === fingerprints.look;
}

/** Where samples of a frame are saved; another renderer saves none. */
async function checkpointOf(
  { handOut: { plan, sources, ...key }, machine, out }: ShareJob,
  camera: string,
  frame: number,
): Promise<CheckpointJob | null> {
  const rule = plan.checkpoints;
  if (isExternal(plan) || rule.kind === "never") return null;
  const folder = checkpointFolder(out, camera);
  await fs.mkdir(folder, { recursive: true });
  const file = checkpointFile(folder, frame);
  return {
    resumeFrom: [file, checkpointBefore(folder, frame)],
    temporary: `${file}.part`,
    everySeconds: rule.kind === "every" ? rule.minutes * 60 : null,
    whenStopped: true,
    whenDone: false,
    made: {
      version: versionName(key),
      attempt: 0,
      node: machine,
      look: { ...lookSettings(plan, sources, "beauty"), camera },
      effort: effortSettings(plan),
    },
  };
}

/** Renders what is not there yet; a frame that fails is told, and the others go on.
 * @param stop ends after saving what the frame in work has
 */
export async function* renderShare(
  job: ShareJob,
  engine: Engine,
  log: (level: LogLevel, text: string) => void,
  stop: AbortSignal,
): AsyncGenerator<ShareEvent> {
  const { handOut, read, machine, out } = job;
  const { plan, sources } = handOut;
  const scene = await proveScene(job);
  for (const camera of plan.cameras) {
    const frames = [...members(job.frames)];
    for (const [i, frame] of frames.entries()) {
      if (stop.aborted) return;
      const passes = plan.passes.map((pass): PassPlace => ({
        pass,
        final: path.join(
          out,
          camera,
          pass,
          fileName(
            read.pattern,
            nameValues(handOut.project, handOut.shot, {
              version: handOut.version,
              purpose: handOut.purpose,
              camera,
              pass,
            }),
            frame,
            extensionOf(plan.file),
          ),
        ),
        fingerprints: fingerprintsOf(plan, sources, { camera, pass }, DENOISER_VERSION),
      }));
      if ((await Promise.all(passes.map(isThere))).every(Boolean)) {
        yield { kind: "there", camera, frame, text: "is there already" };
        continue;
      }
      for (const { final } of passes) await fs.mkdir(path.dirname(final), { recursive: true });
      const temporary = (final: string): string => `${final}.part${process.pid}`;
      const checkpoint = await checkpointOf(job, camera, frame);
      // One after the other, and all before the frame is done: none may come back behind the samples that are removed then.
      let keeping: Promise<void> = Promise.resolve();
      const keep = ({ temporary: saved }: { readonly temporary: string }): void => {
        keeping = keeping
          .then(() => fs.rename(saved, checkpoint!.resumeFrom[0]!))
          .catch((error: Error) => log("warning", `samples could not be saved: ${error.message}`));
      };
      try {
        const result = await engine.render(
          {
            scene,
            plan,
            camera,
            frame,
            upcoming: frames.slice(i + 1),
            spentSeconds: 0,
            hidden: [],
            guides: null,
            checkpoint,
            lighting: {
              folder: lightingFolder(out, camera),
              look: fingerprintsOf(plan, sources, { camera, pass: "beauty" }, DENOISER_VERSION).look,
              node: machine,
              output: null,
            },
            passes: passes.map(({ pass, final, fingerprints }) => ({
              pass,
              output: temporary(final),
              made: { version: versionName(handOut), camera, pass, frame, node: machine, ...fingerprints },
            })),
          },
          {
            progress: () => undefined,
            preview: () => undefined,
            noRoom: (bytes) => log("warning", `the disk is full; ${frame} waits for ${bytes} bytes`),
            log,
            checkpoint: keep,
          },
          new AbortController().signal,
          stop,
        );
        if (result.saved !== null) keep(result.saved);
        await keeping;
        if (result.kind === "stopped") return;
        for (const { final } of passes) await fs.rename(temporary(final), final);
        if (checkpoint !== null) for (const file of checkpoint.resumeFrom) await fs.rm(file, { force: true });
        await appendManifest(
          {
            versionFolder: out,
            node: machine,
            run: handOut.run,
            attempt: 0,
            camera,
            frame,
            output: result.output,
            passes,
            without: [],
          },
          new Date(),
        );
        yield { kind: "made", camera, frame, seconds: secondsOf(result.output) };
      } catch (error) {
        if (!(error instanceof RenderFailed)) throw error;
        yield { kind: "failed", camera, frame, text: error.message };
      } finally {
        for (const { final } of passes) await fs.rm(temporary(final), { force: true });
      }
    }
  }
}
