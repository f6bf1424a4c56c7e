/**
 * A node that spoils one frame after the other leaves a run to others, ever longer, until it is known who is
 * to blame.
 */
import { retryPause } from "@/core/review/blame";

/** After failures in a row a node leaves a run alone for this long at most. */
const LONGEST_MS = 20_000;

/** Waiting doubles with each failure and is forgotten with the first frame that is made. */
export class Shyness {
  /** Runs of which no frame was made since one failed. */
  readonly #runs = new Map<number, { readonly failures: number; readonly until: number }>();
  #forgivenAt: number | null = null;

  /** @param now milliseconds of a clock that only goes forward; the same one in every call */
  isShy(runId: number, now: number): boolean {
    return (this.#runs.get(runId)?.until ?? 0) > now;
  }

  /** The first failure may be the frame's own: only from the second in a row on there is a pause.
   * @param random 0 to 1: nodes that failed together do not come back together
   */
  failed(runId: number, now: number, random: number): void {
    const failures = (this.#runs.get(runId)?.failures ?? 0) + 1;
    const pauseMs = failures === 1 ? 0 : Math.min(LONGEST_MS, retryPause(failures - 1, random) * 1000);
    this.#runs.set(runId, { failures, until: now + pauseMs });
  }

  /** A frame of the run has come out well. */
  made(runId: number): void {
    this.#runs.delete(runId);
  }

  /** Somebody let the node in again, or told a run to go on: what was before counts no more.
   * @param at when that was last, by any one clock
   */
  forgive(at: number): void {
    if (at === this.#forgivenAt) return;
    this.#forgivenAt = at;
    this.#runs.clear();
  }
}
