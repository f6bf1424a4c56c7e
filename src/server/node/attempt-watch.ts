/**
 * Ends an attempt that hangs, takes far too long, or uses more memory than its node may. Times are
 * milliseconds of a clock that never steps.
 */
import { RenderFailed } from "../engines/engine";

/**
 * A renderer that says nothing for so long hangs. Denoising and writing a very large picture are silent, and
 * take minutes.
 */
export const SILENCE_SECONDS = 600;
/** Longer between two judgements, and the node itself was asleep: that is not the renderer's time. */
const ASLEEP_MS = 10_000;

/** `kill`: at once, nothing can be saved. `save`: it is asked to save its samples first. */
export type EndHow = "kill" | "save";

/** Judges when asked, from times that it is handed: it has no clock and no timer of its own. */
export class AttemptWatch {
  readonly #timeLimitSeconds: number | null;
  readonly #silenceSeconds: number;
  #startedAt: number;
  #heardAt: number;
  #judgedAt: number;
  #noRoomAt: number | null = null;
  #failure: RenderFailed | null = null;

  /** @param timeLimitSeconds null: nothing is known of how long the frame takes */
  constructor(timeLimitSeconds: number | null, silenceSeconds: number, now: number) {
    this.#timeLimitSeconds = timeLimitSeconds;
    this.#silenceSeconds = silenceSeconds;
    this.#startedAt = this.#heardAt = this.#judgedAt = now;
  }

  /** Why the attempt was ended; null when it was not. */
  get failure(): RenderFailed | null {
    return this.#failure;
  }

  /** The renderer has said something: it does not hang. */
  heard(now: number): void {
    this.#heardAt = now;
  }

  /** It waits for room on a disk, and says so each second: that time is not counted. */
  noRoom(now: number): void {
    if (this.#noRoomAt !== null) this.#startedAt += now - this.#noRoomAt;
    this.#noRoomAt = now;
  }

  /** How to end the attempt now; null to let it go on. Told once. */
  judge(now: number, memoryMb: number | null, memoryLimitMb: number | null): EndHow | null {
    const gap = now - this.#judgedAt;
    this.#judgedAt = now;
    if (gap > ASLEEP_MS) {
      this.#startedAt += gap;
      this.#heardAt += gap;
    }
    if (this.#failure !== null) return null;
    const end = (how: EndHow, failure: RenderFailed): EndHow => {
      this.#failure = failure;
      return how;
    };
    if (memoryLimitMb !== null && memoryMb !== null && memoryMb > memoryLimitMb)
      return end(
        "kill",
        new RenderFailed("memory-limit", { usedMb: Math.round(memoryMb), limitMb: memoryLimitMb }),
      );
    const silent = (now - this.#heardAt) / 1000;
    if (silent > this.#silenceSeconds)
      return end("kill", new RenderFailed("renderer-hangs", { seconds: Math.round(silent) }));
    if (this.#timeLimitSeconds === null || (now - this.#startedAt) / 1000 <= this.#timeLimitSeconds)
      return null;
    return end("save", new RenderFailed("took-too-long", { seconds: Math.round(this.#timeLimitSeconds) }));
  }
}
