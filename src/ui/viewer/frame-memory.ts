/**
 * Pictures in memory, by address; the address carries the content, so that none is ever out of date. What is wanted is
 * told as a list in the order of need: it is loaded in that order as far as the budget goes, and what is not in it goes
 * first when room is needed. Half-loaded pictures that nobody wants any more are given up.
 */
import type { LoadedPixels } from "@/contract/picture-messages";
import type { LoadEnd, PictureSource } from "./picture-loader";

export type Kept =
  | { readonly state: "loaded"; readonly pixels: LoadedPixels; readonly bytes: number }
  | { readonly state: "failed"; readonly why: string };

/** Milliseconds until a picture is asked for again that failed for a reason that may pass. */
const AGAIN_MS = 3_000;
/** Weight of the newest picture in what one takes to load. */
const NEWEST = 0.25;
/** Taken for the bytes of a picture until one is there: 960 x 540. */
const FIRST_GUESS = 960 * 540 * 4;

export const bytesOf = (pixels: LoadedPixels): number =>
  pixels.kind === "bytes" ? pixels.width * pixels.height * 4 : pixels.data.byteLength;

export class FrameMemory {
  readonly #source: PictureSource;
  readonly #onChange: (url: string) => void;
  /** In the order of their last use, the oldest first. */
  readonly #kept = new Map<string, Kept>();
  readonly #underway = new Map<string, { readonly drop: () => void; readonly atMs: number }>();
  readonly #clock: () => number;
  #loadMs = 0;
  readonly #again = new Map<string, ReturnType<typeof setTimeout>>();
  #wanted: readonly string[] = [];
  #wantedSet: ReadonlySet<string> = new Set();
  #budget: number;
  #bytes = 0;
  /** Bytes of the largest that is read ahead; a guess until one is there. */
  #largest: number;
  #isGuess = true;
  /** What is looked at, in full size. */
  #now: ReadonlySet<string> = new Set();
  #isClosed = false;

  /**
   * @param budget bytes that decoded pictures may take
   * @param onChange one was loaded, or failed, or went
   * @param clock in milliseconds
   */
  constructor(
    source: PictureSource,
    budget: number,
    onChange: (url: string) => void,
    clock: () => number = () => performance.now(),
  ) {
    this.#source = source;
    this.#clock = clock;
    this.#budget = budget;
    // A small budget has room for some, whatever their size turns out to be.
    this.#largest = Math.min(FIRST_GUESS, budget / source.atOnce);
    this.#onChange = onChange;
  }

  /** Bytes of all that is loaded. */
  get bytes(): number {
    return this.#bytes;
  }

  /** From asking for a picture until it is there; the newest weigh most, 0 before the first. */
  get loadMs(): number {
    return this.#loadMs;
  }

  /** How many pictures, as large as the largest that is read ahead, the budget has room for; one always. */
  get fits(): number {
    return Math.max(1, Math.floor(this.#budget / this.#largest));
  }

  set budget(bytes: number) {
    this.#budget = bytes;
    this.#makeRoom(0);
    this.#loadNext();
  }

  get(url: string): Kept | null {
    return this.#kept.get(url) ?? null;
  }

  has(url: string): boolean {
    return this.#kept.has(url);
  }

  /**
   * @param now what is looked at, in full size: needed before all else, and no measure of what follows
   * @param ahead what is shown after it, in the order of need
   */
  want(now: readonly string[], ahead: readonly string[]): void {
    if (this.#isClosed) return;
    this.#wanted = [...new Set([...now, ...ahead])];
    this.#wantedSet = new Set(this.#wanted);
    this.#now = new Set(now);
    for (const [url, { drop, atMs }] of this.#underway) {
      if (this.#wantedSet.has(url)) continue;
      // It would have taken longer still; but one that hangs says nothing of the others.
      this.#loadMs = Math.max(this.#loadMs, Math.min(this.#clock() - atMs, 2 * this.#loadMs));
      drop();
    }
    // After a change of scale pictures are of another size.
    let largest = 0;
    for (const url of ahead) {
      const kept = this.#kept.get(url);
      if (kept?.state === "loaded" && !this.#now.has(url)) largest = Math.max(largest, kept.bytes);
    }
    if (largest > 0) this.#largest = largest;
    this.#loadNext();
  }

  /** Gives all memory back. */
  close(): void {
    this.#isClosed = true;
    for (const timer of this.#again.values()) clearTimeout(timer);
    for (const url of [...this.#kept.keys()]) this.#forget(url);
    this.#source.close();
  }

  #forget(url: string): void {
    const kept = this.#kept.get(url);
    this.#kept.delete(url);
    if (kept?.state !== "loaded") return;
    this.#bytes -= kept.bytes;
    if (kept.pixels.kind === "bytes") kept.pixels.bitmap.close();
    if (!this.#isClosed) this.#onChange(url);
  }

  /** Whether `more` bytes fit once everything that is needed less has gone. @param rank place in the list of need */
  #makeRoom(more: number, rank = 0): boolean {
    const isOver = (): boolean => this.#bytes + more > this.#budget;
    if (isOver())
      for (const [url, { state }] of this.#kept) {
        if (state === "loaded" && !this.#wantedSet.has(url)) this.#forget(url);
        if (!isOver()) break;
      }
    // The least needed of the wanted, never the first: something is always shown.
    for (let i = this.#wanted.length - 1; i > rank && isOver(); i--) {
      const url = this.#wanted[i]!;
      if (this.#kept.get(url)?.state === "loaded") this.#forget(url);
    }
    return !isOver();
  }

  #loadNext(): void {
    if (this.#isClosed) return;
    for (let i = 0; i < this.#wanted.length && this.#underway.size < this.#source.atOnce; i++) {
      const url = this.#wanted[i]!;
      if (this.#kept.has(url) || this.#underway.has(url)) continue;
      const coming = (this.#underway.size + 1) * this.#largest;
      if (!this.#makeRoom(coming, i) && i > 0) return;
      const atMs = this.#clock();
      const drop = this.#source.load(url, (end) => this.#loaded(url, end));
      this.#underway.set(url, { drop, atMs });
    }
  }

  #loaded(url: string, end: LoadEnd): void {
    const begun = this.#underway.get(url);
    this.#underway.delete(url);
    if (begun !== undefined && end.type === "loaded") {
      const took = this.#clock() - begun.atMs;
      this.#loadMs = this.#loadMs === 0 ? took : this.#loadMs + (took - this.#loadMs) * NEWEST;
    }
    if (this.#isClosed) {
      if (end.type === "loaded" && end.pixels.kind === "bytes") end.pixels.bitmap.close();
      return;
    }
    if (end.type === "loaded") {
      const bytes = bytesOf(end.pixels);
      if (!this.#now.has(url)) {
        this.#largest = this.#isGuess ? bytes : Math.max(this.#largest, bytes);
        this.#isGuess = false;
      }
      this.#bytes += bytes;
      this.#kept.set(url, { state: "loaded", pixels: end.pixels, bytes });
      this.#makeRoom(0);
    } else if (end.type === "failed") {
      this.#kept.set(url, { state: "failed", why: end.why });
      if (!end.isLasting)
        this.#again.set(
          url,
          setTimeout(() => {
            this.#again.delete(url);
            this.#kept.delete(url);
            this.#loadNext();
          }, AGAIN_MS),
        );
    }
    if (end.type !== "dropped") this.#onChange(url);
    this.#loadNext();
  }
}
