/**
 * Renders frames of a hand-out on a machine without database or storage: the scene is proved by its
 * content first; each frame gets its name and its place as in the version's folder, and says itself
 * who made it. What is there and whole is left alone, so that an interrupted share goes on; a frame
 * that was stopped goes on from its saved samples.
 */
import { keepsState } from "../scenes/renderers";
import fs from "node:fs/promises";
import path from "node:path";
import type { HandOut } from "@/contract/hand-out";
import { type FrameSet, members } from "@/core/frames/frame-set";
import { checkFile } from "@/core/image/check-file";
import { type ReadPlan, versionName, frameName } from "@/core/plan/plan";
import { savesSamples } from "@/core/plan/renderer";
import { TallyError } from "../errors";
import { type Engine, RenderFailed, secondsOf } from "../engines/engine";
import { imageTools } from "../files/image-tools";
import { frozenName, readRenderSources } from "../scenes/scene-files";
import { appendManifest } from "./manifest";
import { originOf } from "../files/origin";
import type { LogLevel } from "@/contract/log";
import { gatheredLightIn } from "../files/gathered-light-files";
import {
  asideFolder,
  checkpointFolder,
  gatheredLightFolder,
  handOutLightFolder,
  keptFolder,
  sequenceFolder,
  temporaryOf,
} from "../files/layout";
import { type PassPlace, buildFrameJob, PLAIN_WORK } from "../engines/frame-job";
import { placeReplacing } from "../files/put-in-place";
import { readRegular } from "../files/read-regular";

export interface ShareJob {
  readonly handOut: HandOut;
  /** The plan of the hand-out, read and judged. */
  readonly read: ReadPlan;
  /** Folder of the plan file. */
  readonly home: string;
  /** Who this machine says it is. */
  readonly machine: string;
  /** What it was given. */
  readonly frames: FrameSet;
  /** Folder that stands for the version's. */
  readonly out: string;
}

/** What became of a frame, told as it happens. */
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
  if (other.length > 0) throw new TallyError("scene-other", { other });
  return scene;
}

/** Gathered light that came along, where this machine has none of its own for the frame. */
async function takeLightAlong({ home, out }: ShareJob, camera: string): Promise<void> {
  const from = handOutLightFolder(home, camera);
  const names = await gatheredLightIn(from);
  if (names.length === 0) return;
  const to = gatheredLightFolder(out, camera);
  await fs.mkdir(to, { recursive: true });
  const there = new Set(await fs.readdir(to));
  for (const name of names.filter((n) => !there.has(n))) {
    const final = path.join(to, name);
    await fs.copyFile(path.join(from, name), temporaryOf(final, process.pid));
    await fs.rename(temporaryOf(final, process.pid), final);
  }
}

/** Whole and of this look: then it is left alone. */
async function isThere({ final, fingerprints }: PassPlace): Promise<boolean> {
  const bytes = await readRegular(final).catch(() => null);
  if (bytes === null || checkFile(final, bytes, imageTools).verdict !== "good") return false;
  const { look } = originOf(bytes);
  return look === null || look === fingerprints.look;
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
    await takeLightAlong(job, camera);
    for (const [i, frame] of frames.entries()) {
      if (stop.aborted) return;
      const samples = savesSamples(plan, { keepsState: keepsState(plan.renderer) })
        ? checkpointFolder(out, camera)
        : null;
      const { job: built, passes } = buildFrameJob({
        ...PLAIN_WORK,
        scene,
        plan,
        sources,
        camera,
        frame,
        finals: plan.passes.map((pass) => ({
          pass,
          final: path.join(
            out,
            sequenceFolder(camera, pass),
            frameName(
              read,
              { ...handOut, namedProject: handOut.project, namedShot: handOut.shot, camera, pass },
              frame,
            ),
          ),
        })),
        temporaryBy: process.pid,
        maker: { version: versionName(handOut), node: machine, attempt: null },
        samples: samples === null ? null : { folder: samples, staysWhenDone: false },
        light: { folder: gatheredLightFolder(out, camera), output: null },
        kept: keptFolder(out, camera),
        upcoming: frames.slice(i + 1),
      });
      const { checkpoint } = built;
      if ((await Promise.all(passes.map(isThere))).every(Boolean)) {
        yield { kind: "there", camera, frame, text: "is there already" };
        continue;
      }
      for (const { final } of passes) await fs.mkdir(path.dirname(final), { recursive: true });
      if (samples !== null) await fs.mkdir(samples, { recursive: true });
      // One after the other, and all before the frame is done: none may come back behind the samples that are
      // removed then.
      let keeping: Promise<void> = Promise.resolve();
      const keep = ({ temporary: saved }: { readonly temporary: string }): void => {
        keeping = keeping
          .then(() => fs.rename(saved, checkpoint!.resumeFrom[0]!))
          .catch((error: Error) => log("warning", `samples could not be saved: ${error.message}`));
      };
      try {
        const result = await engine.render(
          built,
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
        for (const { pass, temporary, final } of passes)
          await placeReplacing(temporary, final, asideFolder(out, camera, pass));
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
        for (const { temporary } of passes) await fs.rm(temporary, { force: true });
      }
    }
  }
}
