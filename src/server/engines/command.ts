/**
 * Any renderer with a command line. A frame is done when its picture is there, whole, and of the
 * size that was asked for; what the program says of itself only decides when it is not. With a
 * template for batches one call renders the frames that this engine gets next as well: it goes on
 * while the node leases them one after the other.
 */
import { largest, least } from "@/core/many";
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import type { RendererDeclaration } from "@/contract/configuration";
import { checkFile } from "@/core/image/check-file";
import { addTexts } from "@/core/image/add-texts";
import { extensionOf } from "@/core/image/file-format";
import { meanLuminance, noiseOf } from "@/core/image/measure";
import { setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { canonicalJson, asJson } from "@/core/plan/canonical";
import { NO_GATHER } from "@/core/run/gathered-light";
import { scaledSize } from "@/core/plan/picture";
import { fillTemplate } from "@/core/plan/call-template";
import type { ArgumentValues } from "@/core/plan/renderer";
import { sceneTime } from "@/core/plan/scene-time";
import { padFrame } from "@/core/naming/pattern";
import { imageTools } from "../files/image-tools";
import { shownPixels } from "../files/showable";
import { CommandCall } from "./command-call";
import {
  type Engine,
  type EngineHooks,
  type FrameJob,
  type FrameOutput,
  RenderFailed,
  type RenderResult,
} from "./engine";
import { declarationOf, engineOf, takesSamples } from "../scenes/renderers";
import { writeWhole } from "./write-whole";
import { FILE_TEXT } from "../files/origin";

/** Between two looks for the picture. */
const LOOK_MS = 100;
const DIGITS = 4;
const MARKS = "#".repeat(DIGITS);

/** The frame's progress in a line that the program printed, 0 to 1; null when it tells none. */
export function progressIn(line: string, pattern: RegExp): number | null {
  const [, done, all] = pattern.exec(line) ?? [];
  const share = all === undefined ? Number(done) / 100 : Number(done) / Number(all);
  return done !== undefined && Number.isFinite(share) ? Math.min(1, Math.max(0, share)) : null;
}

/** The scene's frame of a file number, to a ten-thousandth. */
const sceneFrame = ({ plan }: FrameJob, frame: number): number =>
  Math.round(sceneTime(plan, frame) * 1e4) / 1e4;

/** What all frames of one call have in common. */
const keyOf = ({ scene, camera, plan }: FrameJob): string => canonicalJson(asJson({ scene, camera, plan }));

interface Session {
  /** Scene, plan and camera: other ones need a call of their own. */
  readonly key: string;
  /** What the call was asked for. */
  readonly frames: ReadonlySet<number>;
  readonly call: CommandCall;
  /** When the last picture was taken: the next one began then. */
  tookAt: number;
  /** What its first picture took, start-up and all; null before. */
  firstSeconds: number | null;
}

/** Of one frame of a call. */
interface Timing extends Pick<FrameOutput, "startupSeconds" | "batchStartupSeconds" | "cpuShare"> {
  /** From its beginning to its whole picture. */
  readonly seconds: number;
  /** Of the process's own clock. */
  readonly rendered: number;
}

/**
 * Start-up of a call: what its lines tell; of a program that tells nothing, what its first frame took more than
 * this one.
 */
const startupOf = (
  { call, firstSeconds }: Session,
  { started }: RendererDeclaration,
  seconds: number,
): number => (started !== undefined ? call.startupSeconds : Math.max(0, (firstSeconds ?? seconds) - seconds));

/** Keeps one program for the frames of a batch, where its declaration says that it takes several. */
export class CommandEngine implements Engine {
  readonly name = "command";
  #session: Session | null = null;
  #nice = 0;

  async render(
    job: FrameJob,
    hooks: EngineHooks,
    signal: AbortSignal,
    stop: AbortSignal,
  ): Promise<RenderResult> {
    const declared = declarationOf(job.plan.renderer);
    signal.throwIfAborted();
    if (stop.aborted) return { kind: "stopped", saved: null };
    const isFirst = this.#session?.key !== keyOf(job) || !this.#session.frames.has(job.frame);
    const session = isFirst ? this.#begin(job, declared, hooks) : this.#session!;
    const began = isFirst ? session.call.startedAt : session.tookAt;
    try {
      const bytes = await this.#picture(job, declared, session, hooks, signal, stop, began);
      if (bytes === null) {
        this.close();
        return { kind: "stopped", saved: null };
      }
      const rendered = performance.now();
      const seconds = (rendered - began) / 1000;
      session.firstSeconds ??= seconds;
      const result = await this.#deliver(job, bytes, hooks, stop, {
        seconds,
        startupSeconds: isFirst ? session.call.startupSeconds : 0,
        batchStartupSeconds: startupOf(session, declared, seconds),
        rendered,
        cpuShare: session.call.cpu.take(),
      });
      session.tookAt = rendered;
      if (job.frame === largest(session.frames) || result.kind === "stopped") this.close();
      return result;
    } catch (error) {
      this.close();
      throw error;
    }
  }

  setNice(nice: number): void {
    if (nice === this.#nice) return;
    this.#nice = nice;
    this.#session?.call.setNice(nice);
  }

  memoryMb(): number | null {
    return this.#session?.call.figures?.memoryMb ?? null;
  }

  close(): void {
    this.#session?.call.close();
    this.#session = null;
  }

  #begin(job: FrameJob, declared: RendererDeclaration, hooks: EngineHooks): Session {
    this.close();
    // Between whole frames of the scene there are no numbers that a call for several could name.
    const frames =
      declared.batch === undefined ||
      ![job.frame, ...job.upcoming].every((frame) => Number.isInteger(sceneFrame(job, frame)))
        ? [job.frame]
        : [job.frame, ...job.upcoming];
    const isBatch = frames.length > 1;
    const numbers = frames.map((frame) => sceneFrame(job, frame));
    const { width, height } = scaledSize(job.plan);
    const call = new CommandCall(declared, this.#nice, job.keptIn, (folder) => {
      const number = isBatch ? MARKS : padFrame(job.frame, DIGITS);
      return fillTemplate(isBatch ? declared.batch! : declared.arguments, {
        scene: job.scene,
        frame: numbers[0]!,
        frames: isBatch ? formatPhrase(setOf(numbers)) : numbers[0]!,
        first: least(numbers),
        last: largest(numbers),
        camera: job.camera,
        width,
        height,
        samples: job.plan.samples,
        seed: job.plan.seed,
        output: path.join(folder, `frame.${number}.${extensionOf(job.plan.file)}`),
      } satisfies ArgumentValues);
    });
    hooks.log(
      "info",
      isBatch
        ? `${declared.program} called for ${frames.length} frames at once`
        : `${declared.program} called`,
    );
    this.#session = {
      key: keyOf(job),
      frames: new Set(frames),
      call,
      tookAt: performance.now(),
      firstSeconds: null,
    };
    return this.#session;
  }

  /** Waits for the frame's picture. null when asked to stop. */
  async #picture(
    job: FrameJob,
    declared: RendererDeclaration,
    { call, frames }: Session,
    hooks: EngineHooks,
    signal: AbortSignal,
    stop: AbortSignal,
    began: number,
  ): Promise<Buffer | null> {
    const file = path.join(
      call.folder,
      `frame.${padFrame(frames.size > 1 ? sceneFrame(job, job.frame) : job.frame, DIGITS)}.${extensionOf(job.plan.file)}`,
    );
    const pattern = declared.progress === undefined ? null : new RegExp(declared.progress);
    call.listen((line) => {
      hooks.log("info", line);
      const share = pattern === null ? null : progressIn(line, pattern);
      if (share !== null) hooks.progress(share);
    });
    for (;;) {
      signal.throwIfAborted();
      if (stop.aborted) return null;
      call.cpu.look(performance.now(), call.figures?.cpuSeconds ?? null);
      // Asked before the look: what a program that has ended left is all there will be.
      const { exit } = call.result;
      const found = await this.#look(file, job);
      // A single call is over when it says so, and well; of a batch, each picture counts when it is whole.
      if (found.bytes !== null && (frames.size > 1 || exit?.code === 0)) return found.bytes;
      if (exit !== null) throw failureOf(exit, call.lastWords, found.fault);
      if (
        declared.timeoutSeconds !== undefined &&
        (performance.now() - began) / 1000 > declared.timeoutSeconds
      )
        throw new RenderFailed("time-out", { seconds: declared.timeoutSeconds });
      await pause(LOOK_MS);
    }
  }

  async #look(
    file: string,
    job: FrameJob,
  ): Promise<{ readonly bytes: Buffer | null; readonly fault: string }> {
    const bytes = await fs.readFile(file).catch(() => null);
    if (bytes === null) return { bytes: null, fault: "it left no picture" };
    const { verdict, detail, width, height } = checkFile(file, bytes, imageTools);
    if (verdict !== "good") return { bytes: null, fault: `its picture is damaged: ${detail}` };
    const asked = scaledSize(job.plan);
    if (width !== asked.width || height !== asked.height)
      return {
        bytes: null,
        fault: `its picture is ${width} x ${height}, asked were ${asked.width} x ${asked.height}`,
      };
    return { bytes, fault: "" };
  }

  /** Puts the picture under its temporary name, with what it must say of itself. */
  async #deliver(
    job: FrameJob,
    bytes: Buffer,
    hooks: EngineHooks,
    stop: AbortSignal,
    { seconds, startupSeconds, batchStartupSeconds, rendered, cpuShare }: Timing,
  ): Promise<RenderResult> {
    const [{ pass, output, made }] = job.passes as [FrameJob["passes"][number]];
    const { samples } = job.plan;
    const texts = {
      Software: `Plain Tally, ${engineOf(job.plan.renderer)}`,
      [FILE_TEXT]: JSON.stringify({ ...made, ...(takesSamples(job.plan.renderer) ? { samples } : {}) }),
    };
    const isWritten = await writeWhole(output, addTexts(bytes, texts, imageTools.crc32), (need) => {
      hooks.noRoom(need);
      return !stop.aborted;
    });
    if (!isWritten) return { kind: "stopped", saved: null };
    const shown = await shownPixels(`frame.${extensionOf(job.plan.file)}`, bytes, pass);
    return {
      kind: "done",
      saved: null,
      output: {
        startupSeconds,
        batchStartupSeconds,
        light: NO_GATHER,
        renderSeconds: Math.max(0, seconds - startupSeconds),
        denoiseSeconds: 0,
        writeSeconds: (performance.now() - rendered) / 1000,
        cpuSeconds: (cpuShare ?? 0) * seconds,
        cpuShare,
        samples,
        samplesAdded: samples,
        stoppedBy: null,
        passes: [{ pass, luminance: meanLuminance(shown), noise: noiseOf(shown) }],
      },
    };
  }
}

function failureOf(
  exit: {
    readonly code: number | null;
    readonly signal: NodeJS.Signals | null;
    readonly fault: string | null;
  },
  lastWords: string,
  picture: string,
): RenderFailed {
  if (exit.fault !== null) return new RenderFailed("program-missing", { message: exit.fault });
  const said = lastWords === "" ? "" : ` It said: ${lastWords}`;
  if (exit.code !== 0)
    return new RenderFailed("renderer-failed", { how: exit.signal ?? `exit code ${exit.code}`, said });
  return new RenderFailed("no-picture", { picture, said });
}
