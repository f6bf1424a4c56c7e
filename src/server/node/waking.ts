/** Resting until something has happened, or a while is over. What happens between the look and the rest is not missed. */
import { setTimeout as pause } from "node:timers/promises";

export class Waking {
  #count = 0;
  #sleep = new AbortController();

  /** How often it was woken: to be read before one looks whether there is anything to do. */
  get count(): number {
    return this.#count;
  }

  wake(): void {
    this.#count++;
    this.#sleep.abort();
    this.#sleep = new AbortController();
  }

  /** @param before `count` of before the look @param end ends the rest for good */
  async after(before: number, ms: number, end: AbortSignal): Promise<void> {
    if (this.#count !== before) return;
    await pause(ms, undefined, { signal: AbortSignal.any([this.#sleep.signal, end]) }).catch(() => undefined);
  }
}
