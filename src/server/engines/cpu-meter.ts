/**
 * How much of the processors a program got while it made a frame, from looks at what it has used so far.
 * The last look before a picture is a little before it, and one after the program's end sees nothing: the
 * share is taken from look to look, and nothing is said of stretches that are too short to tell.
 */

/** A look: milliseconds by a clock that never steps, and what the program had used by then. */
export interface CpuLook {
  readonly atMs: number;
  readonly cpuSeconds: number;
}

/** The system counts in hundredths of a second: over less, the share is no figure. */
const LEAST_MS = 500;

/** Of one call; a frame's stretch begins with the call, or where the frame before it was taken. */
export class CpuMeter {
  #begin: CpuLook;
  #last: CpuLook;

  constructor(atMs: number) {
    this.#begin = this.#last = { atMs, cpuSeconds: 0 };
  }

  /** null: it has ended, or the system does not tell. */
  look(atMs: number, cpuSeconds: number | null): void {
    // Less than before: one of its processes has ended without anybody who asked how.
    if (cpuSeconds !== null && cpuSeconds >= this.#last.cpuSeconds) this.#last = { atMs, cpuSeconds };
  }

  /** Processor seconds a second since the stretch began; a new one begins. */
  take(): number | null {
    const [begin, last] = [this.#begin, this.#last];
    this.#begin = last;
    const ms = last.atMs - begin.atMs;
    return ms < LEAST_MS ? null : ((last.cpuSeconds - begin.cpuSeconds) * 1000) / ms;
  }
}
