/**
 * What is said while a frame is made, whatever its renderer says. The first lines and the last are kept for the
 * database and the pages; those between go to the file beside the frames as they come, and are counted. So many
 * lines cost what a few cost.
 */
import type { LogLevel } from "@/contract/log";
import { addAll } from "@/core/many";

export interface LogLine {
  readonly level: LogLevel;
  readonly text: string;
  /** When it was said, in milliseconds of the process's own clock; left out: now. */
  readonly saidAt?: number;
}

/** How long ago a line was said, in milliseconds: the wall clock of a node may be hours off. */
export const agoOf = ({ saidAt }: LogLine): number =>
  saidAt === undefined ? 0 : Math.max(0, performance.now() - saidAt);

/** How it begins: versions, settings, the first trouble. */
const FIRST_LINES = 200;
/** How it ends: why it failed. */
const LAST_LINES = 100;
/** Lines that are written to the file at once. */
const LINES_AT_ONCE = 500;
/** Of those, how many wait while the disk is slower than the renderer; more are counted alone. */
const MOST_WAITING = 40;

/** Of one attempt. */
export class AttemptLines {
  readonly #write: (lines: readonly LogLine[]) => Promise<void>;
  readonly #first: LogLine[] = [];
  readonly #last: LogLine[] = [];
  /** Said, kept nowhere but in the file, and not there yet. */
  #spilled: LogLine[] = [];
  #between = 0;
  #writing: Promise<void> = Promise.resolve();
  #waiting = 0;

  /** @param write adds lines to the file beside the frames */
  constructor(write: (lines: readonly LogLine[]) => Promise<void>) {
    this.#write = write;
  }

  /** @returns whether it is one of the first, which the node's own output shows as well */
  say(level: LogLevel, text: string): boolean {
    const line = { level, text, saidAt: performance.now() };
    if (this.#first.length < FIRST_LINES) {
      this.#first.push(line);
      return true;
    }
    this.#last.push(line);
    if (this.#last.length > LAST_LINES) this.#spill(this.#last.shift()!);
    return false;
  }

  /** For the database: the first ones, how many there are between, the last ones. */
  get kept(): readonly LogLine[] {
    if (this.#between === 0) return [...this.#first, ...this.#last];
    const text = `… ${this.#between.toLocaleString("en")} lines more; the file of this node's lines beside the frames has them`;
    return [...this.#first, { level: "info", text }, ...this.#last];
  }

  /** For the file: what it does not have yet. Settled when all that was spilled before is written. */
  async unsaid(): Promise<readonly LogLine[]> {
    this.#flush();
    await this.#writing;
    return this.#between === 0 ? [...this.#first, ...this.#last] : this.#last;
  }

  #spill(line: LogLine): void {
    if (this.#between++ === 0) addAll(this.#spilled, this.#first);
    this.#spilled.push(line);
    if (this.#spilled.length >= LINES_AT_ONCE) this.#flush();
  }

  #flush(): void {
    const lines = this.#spilled;
    this.#spilled = [];
    if (lines.length === 0 || this.#waiting >= MOST_WAITING) return;
    this.#waiting++;
    this.#writing = this.#writing
      .then(() => this.#write(lines))
      .catch(() => undefined)
      .finally(() => void this.#waiting--);
  }
}
