/**
 * Any renderer with a command line. A frame is done when its pictures are there, whole, and of the
 * size that was asked for; what the program says of itself only decides when they are not. With a
 * template for batches one call renders the frames that this engine gets next as well: it goes on
 * while the node leases them one after the other.
 */
import { largest } from "@/core/many";
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import { checkFile } from "@/core/image/check-file";
import { addTexts } from "@/core/image/add-texts";
import { extensionOf, writtenFormat } from "@/core/image/file-format";
import { meanLuminance, noiseOf } from "@/core/image/measure";
import { canonicalJson, asJson } from "@/core/plan/canonical";
import type { Pass } from "@/core/plan/passes";
import { type GatherWork, NO_GATHER } from "@/core/run/gathered-light";
import { scaledSize } from "@/core/plan/picture";
import { imageTools } from "../files/image-tools";
import { shownPixels } from "../files/showable";
import { pictureFile, renderArguments, sceneFrame } from "./command-arguments";
import { type CallPlace, CommandCall, newCallPlace } from "./command-call";
import { CommandLight } from "./command-light";
import { FrameState } from "./command-state";
import { endCall } from "./call-trace";
import {
  type Engine,
  type EngineHooks,
  type FrameJob,
  type FrameOutput,
  type PassOutput,
  RenderFailed,
  type RenderResult,
  type SavedCheckpoint,
} from "./engine";
import { declarationOf, engineOf, takesSamples } from "../scenes/renderers";
import { writeWhole } from "./write-whole";
import { FILE_TEXT } from "../files/origin";

/** Between two looks for the picture. */
const LOOK_MS = 100;
/** A program that was asked to end has so long to write what it goes on from. */
const USUAL_STOP_SECONDS = 20;
/** What is saved before the end is not all of it, whatever the program says. */
const NOT_ALL = 0.999;

/** The frame's progress in a line that the program printed, 0 to 1; null when it tells none. */
export function progressIn(line: string, pattern: RegExp): number | null {
  const [, done, all] = pattern.exec(line) ?? [];
  const share = all === undefined ? Number(done) / 100 : Number(done) / Number(all);
  return done !== undefined && Number.isFinite(share) ? Math.min(1, Math.max(0, share)) : null;
}

/** What all frames of one call have in common. */
const keyOf = ({ scene, camera, plan, passes }: FrameJob): string =>
  canonicalJson(asJson({ scene, camera, plan, passes: passes.map(({ pass }) => pass) }));

interface Session {
  /** Scene, plan, camera and passes: other ones need a call of their own. */
  readonly key: string;
  /** What the call was asked for. */
  readonly frames: ReadonlySet<number>;
  readonly call: CommandCall;
  readonly state: FrameState;
  /** That was gathered for the call; its first frame alone tells of it. */
  light: GatherWork;
  /** When the last picture was taken: the next one began then. */
  tookAt: number;
  /** What its first picture took, start-up and all; null before. */
  firstSeconds: number | null;
  /** How far its frame is, as its lines tell. */
  share: number;
  /** Samples of its picture, as its lines tell; null where they do not. */
  samples: number | null;
}

/** Of one frame of a call. */
interface Timing extends Pick<FrameOutput, "startupSeconds" | "batchStartupSeconds" | "cpuShare"> {
  /** From its beginning to its whole picture. */
  readonly seconds: number;
  /** Of the process's own clock. */
  readonly rendered: number;
}

/** A whole picture that the program left. */
interface FoundPicture {
  readonly pass: FrameJob["passes"][number];
  readonly bytes: Buffer;
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
  readonly #light = new CommandLight();
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
    const asks = { job, declared, hooks, signal, stop, nice: this.#nice };
    if (job.light?.output != null) {
      this.close();
      return this.#light.makeAlone(asks, job.light.output);
    }
    const isFirst = this.#session?.key !== keyOf(job) || !this.#session.frames.has(job.frame);
    const session = isFirst ? await this.#begin(job, declared, hooks, signal, stop) : this.#session!;
    if (session === null) return { kind: "stopped", saved: null };
    const began = isFirst ? session.call.startedAt : session.tookAt;
    try {
      const found = await this.#pictures(job, declared, session, hooks, signal, stop, began);
      if (found.pictures === null) {
        this.close();
        return { kind: "stopped", saved: found.saved };
      }
      const rendered = performance.now();
      const seconds = (rendered - began) / 1000;
      session.firstSeconds ??= seconds;
      const saved = job.checkpoint?.whenDone === true ? await this.#take(job, session, began, 1) : null;
      const result = await this.#deliver(job, found.pictures, session, hooks, stop, saved, {
        seconds,
        startupSeconds: isFirst ? session.call.startupSeconds : 0,
        batchStartupSeconds: startupOf(session, declared, seconds),
        rendered,
        cpuShare: session.call.cpu.take(),
      });
      session.tookAt = rendered;
      // What was told of this frame is none of the next one's.
      Object.assign(session, { light: NO_GATHER, share: 0, samples: null } satisfies Partial<Session>);
      if (job.frame === largest(session.frames) || result.kind === "stopped") this.close();
      return result;
    } catch (error) {
      // What it keeps survives a failure: the next attempt goes on from it.
      if (error instanceof RenderFailed) {
        const saved = await this.#take(job, session, began, NOT_ALL);
        if (saved !== null) hooks.checkpoint(saved);
      }
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

  /** Lays out the folder of a call and starts it; null when asked to stop before. */
  async #begin(
    job: FrameJob,
    declared: RendererDeclaration,
    hooks: EngineHooks,
    signal: AbortSignal,
    stop: AbortSignal,
  ): Promise<Session | null> {
    this.close();
    // Between whole frames of the scene there are no numbers that a call for several could name.
    const frames =
      declared.batch === undefined ||
      ![job.frame, ...job.upcoming].every((frame) => Number.isInteger(sceneFrame(job, frame)))
        ? [job.frame]
        : [job.frame, ...job.upcoming];
    const place = newCallPlace();
    const state = new FrameState(job, declared, hooks);
    let light: GatherWork | "stopped";
    try {
      light = await this.#light.bring(
        { job, declared, hooks, signal, stop, nice: this.#nice },
        frames,
        place.folder,
      );
      if (light !== "stopped") await state.bring(place.folder);
    } catch (error) {
      endCall(place.trace);
      throw error;
    }
    if (light === "stopped") {
      endCall(place.trace);
      return null;
    }
    return this.#call(place, { job, declared, hooks, frames, state, light });
  }

  #call(
    place: CallPlace,
    {
      job,
      declared,
      hooks,
      frames,
      ...session
    }: Pick<Session, "state" | "light"> & {
      readonly job: FrameJob;
      readonly declared: RendererDeclaration;
      readonly hooks: EngineHooks;
      readonly frames: readonly number[];
    },
  ): Session {
    const call = new CommandCall(
      place,
      declared,
      this.#nice,
      job.keptIn,
      renderArguments(job, declared, frames, place.folder),
    );
    hooks.log(
      "info",
      frames.length > 1
        ? `${declared.program} called for ${frames.length} frames at once`
        : `${declared.program} called`,
    );
    this.#session = {
      ...session,
      key: keyOf(job),
      frames: new Set(frames),
      call,
      tookAt: performance.now(),
      firstSeconds: null,
      share: 0,
      samples: null,
    };
    return this.#session;
  }

  /** What the program keeps now; null where it keeps nothing. */
  #take(job: FrameJob, session: Session, began: number, mostShare: number): Promise<SavedCheckpoint | null> {
    const share = mostShare === 1 ? 1 : Math.min(mostShare, session.share);
    const told = takesSamples(job.plan.renderer) ? Math.floor(job.plan.samples * share) : 0;
    return session.state.take(session.call.folder, {
      share,
      samples: session.samples ?? told,
      seconds: (performance.now() - began) / 1000,
    });
  }

  /** Asks the program to end, and takes what it leaves to go on from. */
  async #stopped(
    job: FrameJob,
    declared: RendererDeclaration,
    session: Session,
    signal: AbortSignal,
    began: number,
  ): Promise<SavedCheckpoint | null> {
    if (!session.state.isKept || job.checkpoint?.whenStopped !== true) return null;
    session.call.askToEnd();
    const until = performance.now() + (declared.between?.stopSeconds ?? USUAL_STOP_SECONDS) * 1000;
    while (session.call.result.exit === null && performance.now() < until) {
      signal.throwIfAborted();
      await pause(LOOK_MS);
    }
    return this.#take(job, session, began, NOT_ALL);
  }

  /** Waits for the frame's pictures. null when asked to stop, with what was kept. */
  async #pictures(
    job: FrameJob,
    declared: RendererDeclaration,
    session: Session,
    hooks: EngineHooks,
    signal: AbortSignal,
    stop: AbortSignal,
    began: number,
  ): Promise<{ readonly pictures: readonly FoundPicture[] | null; readonly saved: SavedCheckpoint | null }> {
    const { call, frames } = session;
    this.#listen(declared, session, hooks);
    const everyMs = (job.checkpoint?.everySeconds ?? Number.POSITIVE_INFINITY) * 1000;
    let savedAt = performance.now();
    for (;;) {
      signal.throwIfAborted();
      if (stop.aborted)
        return { pictures: null, saved: await this.#stopped(job, declared, session, signal, began) };
      call.cpu.look(performance.now(), call.figures?.cpuSeconds ?? null);
      // Asked before the look: what a program that has ended left is all there will be.
      const { exit } = call.result;
      const found = await this.#look(job, declared, session);
      // A single call is over when it says so, and well; of a batch, each picture counts when it is whole.
      if (found.pictures !== null && (frames.size > 1 || exit?.code === 0))
        return { pictures: found.pictures, saved: null };
      if (exit !== null) throw failureOf(exit, call.lastWords, found.fault);
      if (
        declared.timeoutSeconds !== undefined &&
        (performance.now() - began) / 1000 > declared.timeoutSeconds
      )
        throw new RenderFailed("time-out", { seconds: declared.timeoutSeconds });
      if (performance.now() - savedAt > everyMs) {
        const saved = await this.#take(job, session, began, NOT_ALL);
        if (saved !== null) hooks.checkpoint(saved);
        savedAt = performance.now();
      }
      await pause(LOOK_MS);
    }
  }

  /** Hears what the program prints, for the frame that waits. */
  #listen(declared: RendererDeclaration, session: Session, hooks: EngineHooks): void {
    const pattern = declared.progress === undefined ? null : new RegExp(declared.progress);
    const reached = declared.samplesReached === undefined ? null : new RegExp(declared.samplesReached);
    session.call.listen((line) => {
      hooks.log("info", line);
      const samples = Number(reached?.exec(line)?.[1] ?? Number.NaN);
      if (Number.isInteger(samples) && samples >= 0) session.samples = samples;
      const share = pattern === null ? null : progressIn(line, pattern);
      if (share === null) return;
      session.share = share;
      hooks.progress(share);
    });
  }

  /** All pictures of the frame, each whole and of the size; or what is wrong with the first that is not. */
  async #look(
    job: FrameJob,
    declared: RendererDeclaration,
    { call, frames }: Session,
  ): Promise<{ readonly pictures: readonly FoundPicture[] | null; readonly fault: string }> {
    const pictures: FoundPicture[] = [];
    for (const wanted of job.passes) {
      const file = pictureFile(job, declared, call.folder, wanted.pass, frames.size > 1);
      const name = wanted.pass === "beauty" ? "picture" : wanted.pass;
      if (file === null) return { pictures: null, fault: `its declaration names no file for ${name}` };
      const bytes = await fs.readFile(file).catch(() => null);
      const fault = pictureFault(job, wanted.pass, file, bytes);
      if (bytes === null || fault !== null) return { pictures: null, fault: fault ?? `it left no ${name}` };
      pictures.push({ pass: wanted, bytes });
    }
    return { pictures, fault: "" };
  }

  /** Puts the pictures under their temporary names, with what they must say of themselves. */
  async #deliver(
    job: FrameJob,
    pictures: readonly FoundPicture[],
    session: Session,
    hooks: EngineHooks,
    stop: AbortSignal,
    saved: SavedCheckpoint | null,
    { seconds, startupSeconds, batchStartupSeconds, rendered, cpuShare }: Timing,
  ): Promise<RenderResult> {
    const isTold = takesSamples(job.plan.renderer);
    const samples = session.samples ?? job.plan.samples;
    const passes: PassOutput[] = [];
    for (const {
      pass: { pass, output, made },
      bytes,
    } of pictures) {
      const texts = {
        Software: `Plain Tally, ${engineOf(job.plan.renderer)}`,
        [FILE_TEXT]: JSON.stringify({ ...made, ...(isTold ? { samples } : {}) }),
      };
      const isWritten = await writeWhole(output, addTexts(bytes, texts, imageTools.crc32), (need) => {
        hooks.noRoom(need);
        return !stop.aborted;
      });
      if (!isWritten) return { kind: "stopped", saved };
      const shown = await shownPixels(`frame.${extensionOf(writtenFormat(job.plan.file))}`, bytes, pass);
      passes.push({ pass, luminance: meanLuminance(shown), noise: noiseOf(shown) });
    }
    return {
      kind: "done",
      saved,
      output: {
        startupSeconds,
        batchStartupSeconds,
        light: session.light,
        renderSeconds: Math.max(0, seconds - startupSeconds),
        denoiseSeconds: 0,
        writeSeconds: (performance.now() - rendered) / 1000,
        cpuSeconds: (cpuShare ?? 0) * seconds,
        cpuShare,
        samples,
        samplesAdded: Math.max(0, samples - session.state.samplesBefore),
        stoppedBy: null,
        passes,
      },
    };
  }
}

/** What is wrong with a picture that the program left; null for a whole one of the size that was asked for. */
function pictureFault(job: FrameJob, pass: Pass, file: string, bytes: Buffer | null): string | null {
  const name = pass === "beauty" ? "picture" : pass;
  if (bytes === null) return `it left no ${name}`;
  const { verdict, detail, width, height } = checkFile(file, bytes, imageTools);
  if (verdict !== "good")
    return `its ${name} ${detail === null ? `is no whole ${path.extname(file)} file` : `is damaged: ${detail}`}`;
  const asked = scaledSize(job.plan);
  return width === asked.width && height === asked.height
    ? null
    : `its ${name} is ${width} x ${height}, asked were ${asked.width} x ${asked.height}`;
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
