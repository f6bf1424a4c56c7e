/**
 * Gathered light of another renderer: made by a call of its own, as the first part of a run or where a frame
 * finds none, kept like the light of the stand-in, and put into the folder of the calls that read it.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { GATHERED_LIGHT_FORMAT } from "@/contract/gathered-light";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import { members, setOf } from "@/core/frames/frame-set";
import { type GatherWork, lightFrames, NO_GATHER } from "@/core/run/gathered-light";
import { proveGatheredLight, writeGatheredLight } from "../files/gathered-light-files";
import { gatheredLightFile, temporaryOf } from "../files/layout";
import { readRegular } from "../files/read-regular";
import { gatherArguments, LIGHT_FOLDER, lightName } from "./command-arguments";
import { CommandCall, newCallPlace } from "./command-call";
import { type EngineHooks, type FrameJob, RenderFailed, type RenderResult } from "./engine";

/** Between two looks at the program. */
const LOOK_MS = 100;

/** A job, and who may end it. */
export interface CommandAsk {
  readonly job: FrameJob;
  readonly declared: RendererDeclaration;
  readonly hooks: EngineHooks;
  readonly signal: AbortSignal;
  readonly stop: AbortSignal;
  readonly nice: number;
}

/** Writes what a program gathered as a file of gathered light. */
const writeLight = ({ job }: CommandAsk, file: string, frame: number, content: Buffer): Promise<void> =>
  writeGatheredLight(
    file,
    {
      format: GATHERED_LIGHT_FORMAT,
      look: job.light!.look,
      camera: job.camera,
      frame,
      node: job.light!.node,
      records: 0,
      bytes: content.length,
    },
    content,
  );

/** Calls the program for the light of one frame; null when asked to stop. */
async function gather(ask: CommandAsk, frame: number): Promise<Buffer | null> {
  const { job, declared, hooks, signal, stop, nice } = ask;
  const place = newCallPlace();
  const call = new CommandCall(
    place,
    declared,
    nice,
    null,
    gatherArguments(job, declared, frame, place.folder),
  );
  hooks.log("info", `${declared.program} called for the gathered light of ${frame}`);
  call.listen((line) => hooks.log("info", line));
  try {
    while (call.result.exit === null) {
      signal.throwIfAborted();
      if (stop.aborted) return null;
      await pause(LOOK_MS);
    }
    const { code, signal: how, fault } = call.result.exit;
    const said = call.lastWords === "" ? "" : ` It said: ${call.lastWords}`;
    if (fault !== null) throw new RenderFailed("program-missing", { message: fault });
    if (code !== 0) throw new RenderFailed("renderer-failed", { how: how ?? `exit code ${code}`, said });
    const file = path.join(place.folder, lightName(declared.gather!.file, job, frame));
    return await readRegular(file).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== "ENOENT") throw error;
      throw new RenderFailed("no-picture", { picture: `it left no ${path.basename(file)}`, said });
    });
  } finally {
    call.close();
  }
}

/** The gathered light of a renderer that declares a call for it. */
export class CommandLight {
  /** A job that makes the light of its frame and no picture. */
  async makeAlone(ask: CommandAsk, output: string): Promise<RenderResult> {
    const began = performance.now();
    if (ask.declared.gather === undefined)
      throw new RenderFailed("plan-wrong", { message: "The declaration names no call that gathers light." });
    const content = await gather(ask, ask.job.frame);
    if (content === null) return { kind: "stopped", saved: null };
    await writeLight(ask, output, ask.job.frame, content);
    const seconds = (performance.now() - began) / 1000;
    return {
      kind: "done",
      saved: null,
      output: {
        startupSeconds: 0,
        batchStartupSeconds: 0,
        light: { made: 1, seconds },
        renderSeconds: 0,
        denoiseSeconds: 0,
        writeSeconds: 0,
        cpuSeconds: 0,
        cpuShare: null,
        samples: 0,
        samplesAdded: 0,
        stoppedBy: null,
        passes: [],
      },
    };
  }

  /**
   * Puts the light that some frames read into the folder of their call; what is not there, or not fit, is
   * gathered here and kept for the others.
   */
  async bring(ask: CommandAsk, frames: readonly number[], folder: string): Promise<GatherWork | "stopped"> {
    const { job, declared } = ask;
    if (declared.gather === undefined || job.plan.shading !== "full") return NO_GATHER;
    const into = path.join(folder, LIGHT_FOLDER);
    await fs.mkdir(into, { mode: 0o700 });
    let made = 0;
    let seconds = 0;
    for (const frame of members(lightFrames(setOf(frames), declared.gather.every))) {
      const began = performance.now();
      const found = await this.#find(ask, frame);
      if (found === null) return "stopped";
      if (found.isMade) {
        made++;
        seconds += (performance.now() - began) / 1000;
      }
      await fs.writeFile(path.join(into, lightName(declared.gather.file, job, frame)), found.content);
    }
    return { made, seconds };
  }

  async #find(
    ask: CommandAsk,
    frame: number,
  ): Promise<{ readonly content: Buffer; readonly isMade: boolean } | null> {
    const { light } = ask.job;
    const place = light === null ? null : gatheredLightFile(light.folder, frame);
    if (light !== null && place !== null) {
      const proven = await proveGatheredLight(place, light.look);
      if (typeof proven !== "string" && proven.header.bytes !== undefined)
        return { content: proven.content, isMade: false };
      ask.hooks.log("warning", `the gathered light of ${frame} is not there as it must be; it is made here`);
    }
    const content = await gather(ask, frame);
    if (content === null) return null;
    if (light !== null && place !== null) {
      // Two machines may have one process number.
      const temporary = temporaryOf(place, `-${light.node}-${process.pid}`);
      await fs.mkdir(path.dirname(place), { recursive: true });
      try {
        await writeLight(ask, temporary, frame, content);
        await fs.rename(temporary, place);
      } finally {
        await fs.rm(temporary, { force: true });
      }
    }
    return { content, isMade: true };
  }
}
