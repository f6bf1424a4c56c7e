/**
 * Work that is done again and again while somebody wants it, and never twice at once: also where it is stopped
 * and started while it is at work.
 */
export class Poller {
  readonly #work: () => Promise<void>;
  readonly #everyMs: number;
  #timer: NodeJS.Timeout | null = null;
  #isOn = false;
  #isAtWork = false;

  /** @param work must not throw @param everyMs rest between the end of one and the beginning of the next */
  constructor(work: () => Promise<void>, everyMs: number) {
    this.#work = work;
    this.#everyMs = everyMs;
  }

  /** Begins at once, or goes on with what is at work. */
  start(): void {
    this.#isOn = true;
    this.#soon(0);
  }

  /** What is at work comes to its end; nothing follows it. */
  stop(): void {
    this.#isOn = false;
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
  }

  #soon(ms: number): void {
    if (!this.#isOn || this.#isAtWork || this.#timer !== null) return;
    this.#timer = setTimeout(() => void this.#run(), ms);
  }

  async #run(): Promise<void> {
    this.#timer = null;
    this.#isAtWork = true;
    await this.#work();
    this.#isAtWork = false;
    this.#soon(this.#everyMs);
  }
}
