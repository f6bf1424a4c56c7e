/** Start options of the demo's and the tests' nodes: real faults of a real process, by choice. */
import { setTimeout as pause } from "node:timers/promises";

/** What the node asks them at each place where something can go wrong. */
export interface NodeFaults {
  /** Of these files, those that this node does not see now. */
  seesNot(files: readonly string[]): readonly string[];
  /** The same for the next frame that uses them, which counts. */
  hiddenAmong(files: readonly string[]): readonly string[];
  /** Called with the progress of the n-th frame; may end the process the hard way. */
  during(frameCount: number, share: number): void;
  /** Called after a render of so many seconds; a slow node takes longer. */
  after(seconds: number, signal: AbortSignal): Promise<void>;
}

/** As they are given on the command line. */
export interface FaultOptions {
  /** FILE or FILE:N, hidden for good or for the first N frames that use it. */
  readonly hide: readonly string[];
  /** Ends by SIGKILL in the middle of its n-th frame. */
  readonly dieInFrame?: number;
  /** Takes so many times as long. */
  readonly slow?: number;
}

/** A frame that no node gets to. */
const NEVER = Number.POSITIVE_INFINITY;
/** How far into the frame a dying node gets. */
const DIE_AT = 0.4;

/** @param options as they stand on the command line; `hide` is FILE or FILE:FRAMES */
export function nodeFaults(options: FaultOptions): NodeFaults {
  const hidden = options.hide.map((text) => {
    const match = /^(.*):(\d+)$/.exec(text);
    return match === null
      ? { file: text, framesLeft: NEVER }
      : { file: match[1]!, framesLeft: Number(match[2]) };
  });
  return {
    seesNot: (files) => hidden.filter((h) => files.includes(h.file) && h.framesLeft > 0).map((h) => h.file),
    hiddenAmong: (files) =>
      hidden.filter((h) => files.includes(h.file) && h.framesLeft-- > 0).map((h) => h.file),
    during: (frameCount, share) => {
      if (frameCount === options.dieInFrame && share >= DIE_AT) process.kill(process.pid, "SIGKILL");
    },
    after: async (seconds, signal) => {
      if (options.slow !== undefined && options.slow > 1)
        await pause(seconds * (options.slow - 1) * 1000, undefined, { signal }).catch(() => undefined);
    },
  };
}
