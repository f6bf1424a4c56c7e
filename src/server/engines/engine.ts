/** One interface, several renderers. An engine gets one frame job and leaves finished temporary files. */
import type { GUIDE_PASSES, Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import { RENDERER_VERSION, type StoppedBy } from "@/render/render-frame";


/** Part of the look fingerprint. `Math.*` may round differently in another V8, so its version counts. */
export const ENGINE = `stand-in ${RENDERER_VERSION}, V8 ${process.versions.v8.split(".").slice(0, 2).join(".")}`;

/** Keyword of the text in a file that says who made it. */
export const FILE_TEXT = "PlainTally";

/** One picture that an engine leaves. */
export interface PassJob {
  readonly pass: Pass;
  /** Where the engine writes: a temporary name. */
  readonly output: string;
  /** Text that the file carries; the engine adds what it learns (samples). */
  readonly made: Readonly<Record<string, string | number>>;
}

/** Files of a frame from which the denoised twin is made again, in linear light. */
export type Guides = Readonly<Record<"beauty" | (typeof GUIDE_PASSES)[number], string>>;

export interface FrameJob {
  readonly scene: string;
  readonly plan: Plan;
  readonly camera: string;
  /** Number of the file; the plan says which scene time it is. */
  readonly frame: number;
  readonly passes: readonly PassJob[];
  /** Seconds of earlier attempts, which count towards the plan's time limit. */
  readonly spentSeconds: number;
  /** Nothing is rendered: the only pass, denoised, is made from these. */
  readonly guides: Guides | null;
  /** Texture files to treat as not there and go on in grey: a start option of the demo's faulty node. */
  readonly hidden: readonly string[];
}

export interface PassOutput {
  readonly pass: Pass;
  /** Mean luminance of the written picture, Rec. 709, and its grain, 0 to 1. */
  readonly luminance: number;
  readonly noise: number;
}

export interface FrameOutput {
  readonly startupSeconds: number;
  readonly renderSeconds: number;
  readonly denoiseSeconds: number;
  readonly writeSeconds: number;
  /** Processor seconds that the engine used. */
  readonly cpuSeconds: number;
  readonly samples: number;
  /** What ended the sampling; null where nothing was rendered. */
  readonly stoppedBy: StoppedBy | null;
  readonly passes: readonly PassOutput[];
}

export const secondsOf = (o: Pick<FrameOutput, "startupSeconds" | "renderSeconds" | "denoiseSeconds" | "writeSeconds">): number => o.startupSeconds + o.renderSeconds + o.denoiseSeconds + o.writeSeconds;

export type LogLevel = "info" | "warning" | "error";

export interface EngineHooks {
  readonly progress: (share: number) => void;
  readonly log: (level: LogLevel, text: string) => void;
}

/** A render that ended in an error of the scene, the files or the engine. */
export class RenderFailed extends Error {
  readonly code: string;
  constructor(code: string, message: string) {
    super(message);
    this.name = "RenderFailed";
    this.code = code;
  }
}

export interface Engine {
  readonly name: string;
  /** Rejects with RenderFailed, or with the signal's reason once aborted. */
  render(job: FrameJob, hooks: EngineHooks, signal: AbortSignal): Promise<FrameOutput>;
  close(): void;
}
