/** One interface, several renderers. An engine gets one frame job and leaves finished temporary files. */
import type { CheckpointHeader } from "@/contract/checkpoint";
import type { SavedSamples } from "@/core/run/checkpoint";
import type { GatherWork } from "@/core/run/gathered-light";
import type { GUIDE_PASSES, Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import type { StoppedBy } from "@/render/render-frame";
import type { LogLevel } from "@/contract/log";
import { type FaultCode, type FaultArgs, sayFault, type FaultCall } from "@/contract/faults";

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

/** How a frame's samples are saved while it renders. */
export interface CheckpointJob {
  /** Saved samples of this frame, the newest first: the first that is whole and fits is gone on from. */
  readonly resumeFrom: readonly string[];
  /** Beginning of temporary names; the engine adds a number to each. */
  readonly temporary: string;
  /** null: not by the clock. */
  readonly everySeconds: number | null;
  /** Save when asked to stop. */
  readonly whenStopped: boolean;
  /** Save at the end, too: kept for refining. */
  readonly whenDone: boolean;
  /** What the samples are made from. */
  readonly made: Pick<CheckpointHeader, "version" | "attempt" | "node"> &
    Pick<SavedSamples, "look" | "effort">;
}

/** The gathered light of a scene that asks for it. */
export interface LightJob {
  /** Where gathered light lies. */
  readonly folder: string;
  /** Look fingerprint of the beauty: light of another one is not used. */
  readonly look: string;
  /** Who gathers, for what is missing. */
  readonly node: string;
  /** Where the job leaves the light of its frame, and writes no picture; null: it reads what is there. */
  readonly output: string | null;
}

/** Only `buildFrameJob` makes one: the mark has no value, and no literal can have it. */
export declare const BUILT: unique symbol;

export interface FrameJob {
  readonly [BUILT]: true;
  /** Path of the scene file, absolute. */
  readonly scene: string;
  readonly plan: Plan;
  /** As the scene calls it. */
  readonly camera: string;
  /** Number of the file; the plan says which scene time it is. */
  readonly frame: number;
  /** Frames of the same run and camera that this engine gets next, in order: a batch. */
  readonly upcoming: readonly number[];
  /** Pictures that it leaves, the beauty among them or not. */
  readonly passes: readonly PassJob[];
  /** Seconds of earlier attempts, which count towards the plan's time limit. */
  readonly spentSeconds: number;
  /** null: what the scene asks for is gathered for this frame alone, and not kept. */
  readonly light: LightJob | null;
  /** null: nothing is saved, nothing is gone on from. */
  readonly checkpoint: CheckpointJob | null;
  /** Where a program's own files go that its declaration keeps; null: nowhere. */
  readonly keptIn: string | null;
  /** Nothing is rendered: the only pass, denoised, is made from these. */
  readonly guides: Guides | null;
  /** Texture files to treat as not there and go on in grey: a start option of the demo's faulty node. */
  readonly hidden: readonly string[];
}

export interface PassOutput {
  readonly pass: Pass;
  /** Mean luminance of the written picture, Rec. 709, and its grain, 0 to 1. */
  readonly luminance: number;
  /** Grain, as a share of white. */
  readonly noise: number;
}

export interface FrameOutput {
  /** From the job to the first sample: reading, building, gathering. */
  readonly startupSeconds: number;
  /** The same of the call that made it, also where another frame of the batch paid for it. */
  readonly batchStartupSeconds: number;
  /** Light that it had to gather itself, and what that took. */
  readonly light: GatherWork;
  /** Sampling alone: what a time limit counts. */
  readonly renderSeconds: number;
  readonly denoiseSeconds: number;
  /** Of all passes and of saved samples, flushed to the disk. */
  readonly writeSeconds: number;
  /** Processor seconds that the engine used, as far as they can be told. */
  readonly cpuSeconds: number;
  /** Processor seconds for each second by the clock while it computed; null where they cannot be told. */
  readonly cpuShare: number | null;
  /** A pixel, with those that were saved before. */
  readonly samples: number;
  /** Samples a pixel that this attempt itself took: fewer, when it went on from a checkpoint. */
  readonly samplesAdded: number;
  /** What ended the sampling; null where nothing was rendered. */
  readonly stoppedBy: StoppedBy | null;
  readonly passes: readonly PassOutput[];
}

/** Samples that lie whole under a temporary name. */
export interface SavedCheckpoint {
  readonly temporary: string;
  /** Length of the file. */
  readonly bytes: number;
  readonly header: CheckpointHeader;
}

export type RenderResult =
  | { readonly kind: "done"; readonly output: FrameOutput; readonly saved: SavedCheckpoint | null }
  /** Asked to stop: with what there was, or null when nothing was to be kept. */
  | { readonly kind: "stopped"; readonly saved: SavedCheckpoint | null };

/** All that a frame took: what batches and time limits count by. */
export const secondsOf = (
  o: Pick<FrameOutput, "startupSeconds" | "light" | "renderSeconds" | "denoiseSeconds" | "writeSeconds">,
): number => o.startupSeconds + o.light.seconds + o.renderSeconds + o.denoiseSeconds + o.writeSeconds;

export interface EngineHooks {
  /** From 0 to 1, several times a second. */
  readonly progress: (share: number) => void;
  /** A line for the log of the attempt. */
  readonly log: (level: LogLevel, text: string) => void;
  /** Samples were saved on the way. */
  readonly checkpoint: (saved: SavedCheckpoint) => void;
  /** A finished picture finds no room on the disk: it is kept, and tried again each second. */
  readonly noRoom: (bytes: number) => void;
  /** The picture so far, small, as JPEG. */
  readonly preview: (jpeg: Uint8Array) => void;
}

/** A render that ended in an error of the scene, the files or the engine. */
export class RenderFailed extends Error {
  readonly code: FaultCode;

  constructor(...[code, ...facts]: FaultCall) {
    super(sayFault(code, ...(facts as FaultArgs<typeof code>)));
    this.name = "RenderFailed";
    this.code = code;
  }

  /** A failure that another process or module told in its own words. */
  static told(code: FaultCode, message: string): RenderFailed {
    const failed = new RenderFailed("engine-error", { message });
    return Object.assign(failed, { code });
  }
}

export interface Engine {
  /** As a plan's `renderer` names it. */
  readonly name: string;
  /** Rejects with RenderFailed, or with the signal's reason once aborted.
   * @param stop asks the engine to save what it has and to end
   */
  render(job: FrameJob, hooks: EngineHooks, signal: AbortSignal, stop: AbortSignal): Promise<RenderResult>;
  /** How far its renderers step back for other programs, 0 to 19; also those that work now. */
  setNice(nice: number): void;
  /** Memory of the renderer that works now; null when none does, or where it cannot be told. */
  memoryMb(): number | null;
  /** Ends what it has started; it may be used again. */
  close(): void;
}
