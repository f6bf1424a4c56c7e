/** A log read piece by piece, however long it is: what it says of each frame, the last word counting. */
import type { LogPattern } from "./log-pattern";
import { LONGEST_LOG_LINE } from "./log-pattern";

export interface FrameSaid {
  readonly frame: number;
  readonly node: string | null;
  readonly seconds: number | null;
  /** Several, each in a line; null for none. */
  readonly message: string | null;
}

export interface LogRead {
  readonly lines: number;
  /** Those that any pattern matched. */
  readonly matched: number;
  /** By frame, ascending. */
  readonly frames: readonly FrameSaid[];
  /** Frames beyond what is kept were left out. */
  readonly isWhole: boolean;
}

/** Frames that are kept: a plan has no more. */
export const MOST_LOG_FRAMES = 1_000_000;
/** Characters of all messages of a frame. */
const LONGEST_SAID = 500;

interface Said {
  node: string | null;
  seconds: number | null;
  messages: string[];
}

export class LogReader {
  readonly #patterns: readonly LogPattern[];
  readonly #frames = new Map<number, Said>();
  #rest = "";
  #lines = 0;
  #matched = 0;
  #isWhole = true;

  /** @param patterns each line is held against all of them */
  constructor(patterns: readonly LogPattern[]) {
    this.#patterns = patterns;
  }

  get lines(): number {
    return this.#lines;
  }

  /** The next piece of text; a line may stand in several. */
  push(text: string): void {
    const lines = (this.#rest + text).split("\n");
    const rest = lines.pop()!;
    // Of a line without end the beginning is looked at, and its rest is nobody's.
    this.#rest = rest.length > LONGEST_LOG_LINE ? rest.slice(0, LONGEST_LOG_LINE) : rest;
    for (const line of lines) this.#take(line);
  }

  /** When nothing more comes. */
  end(): LogRead {
    if (this.#rest !== "") this.#take(this.#rest);
    this.#rest = "";
    const frames = [...this.#frames]
      .sort(([a], [b]) => a - b)
      .map(([frame, { node, seconds, messages }]) => ({
        frame,
        node,
        seconds,
        message: messages.length === 0 ? null : messages.join("\n").slice(0, LONGEST_SAID),
      }));
    return { lines: this.#lines, matched: this.#matched, frames, isWhole: this.#isWhole };
  }

  #take(line: string): void {
    this.#lines++;
    let isMatched = false;
    // Programs that count up in place write over what they have written.
    for (const part of line.split("\r")) isMatched = this.#takePart(part) || isMatched;
    if (isMatched) this.#matched++;
  }

  /** Whether any pattern matches. */
  #takePart(part: string): boolean {
    let isMatched = false;
    for (const pattern of part === "" ? [] : this.#patterns) {
      const read = pattern.read(part);
      if (read === null) continue;
      isMatched = true;
      const said = this.#saidOf(read.frame);
      if (said === null) continue;
      said.node = read.node ?? said.node;
      said.seconds = read.seconds ?? said.seconds;
      const { message } = read;
      const length = said.messages.reduce((sum, m) => sum + m.length + 1, 0);
      if (message !== null && length < LONGEST_SAID && !said.messages.includes(message))
        said.messages.push(message);
    }
    return isMatched;
  }

  #saidOf(frame: number): Said | null {
    const there = this.#frames.get(frame);
    if (there !== undefined) return there;
    if (this.#frames.size >= MOST_LOG_FRAMES) {
      this.#isWhole = false;
      return null;
    }
    const said: Said = { node: null, seconds: null, messages: [] };
    this.#frames.set(frame, said);
    return said;
  }
}
