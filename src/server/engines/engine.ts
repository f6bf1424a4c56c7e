/** One interface, several renderers. An engine gets one frame job and leaves one finished temporary file. */
import { RENDERER_VERSION } from "@/render/render-frame";

/** Part of the look fingerprint. `Math.*` may round differently in another V8, so its version counts. */
export const ENGINE = `stand-in ${RENDERER_VERSION}, V8 ${process.versions.v8.split(".").slice(0, 2).join(".")}`;

export interface FrameJob {
  readonly scene: string;
  readonly camera: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  readonly samples: number;
  readonly seed: number;
  /** Where the engine writes: a temporary name. */
  readonly output: string;
  /** Text that the file carries. */
  readonly texts: Readonly<Record<string, string>>;
  /** Texture files to treat as not there and go on in grey: a start option of the demo's faulty node. */
  readonly hidden: readonly string[];
}

export interface FrameOutput {
  readonly startupSeconds: number;
  readonly renderSeconds: number;
  readonly writeSeconds: number;
  readonly samples: number;
  /** Mean luminance of the written picture, Rec. 709, 0 to 1. */
  readonly luminance: number;
}

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
