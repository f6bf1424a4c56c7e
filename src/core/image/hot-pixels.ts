/** Hot pixels (fireflies): single ones far brighter than all that surrounds them. */
import type { Region } from "./sketch";

/** Fewer of the eight around it may be as bright: more are a thing in the picture. */
const HOT_NEIGHBOURS = 1;

/** Places that are put into order one after the other, until the middle of nine is in the middle (Smith 1996). */
const EXCHANGES = "12457801346712457803584736142547426442"
  .match(/../g)!
  .map((pair) => [Number(pair[0]), Number(pair[1])] as const);

function medianOfNine(v: Float32Array): number {
  for (const [i, j] of EXCHANGES) {
    const [low, high] = [v[i]!, v[j]!];
    if (low <= high) continue;
    v[i] = high;
    v[j] = low;
  }
  return v[4]!;
}

/** Walks down the rows of a picture's luminance. */
export class HotPixels {
  #count = 0;
  #left = Infinity;
  #right = -1;
  #top = Infinity;
  #bottom = -1;
  readonly #nine = new Float32Array(9);
  readonly #step: number;

  /** @param step a hot pixel is so much brighter than the median of the nine around it, as shown */
  constructor(step: number) {
    this.#step = step;
  }

  /**
   * Places in row `y` that are far above one of the two beside them: all but one of the eight around have to be that far
   * below.
   */
  look(y: number, candidates: Int32Array, above: Float32Array, row: Float32Array, below: Float32Array): void {
    for (const x of candidates) if (this.#isHot(x, above, row, below)) this.#add(x, y);
  }

  #isHot(x: number, above: Float32Array, row: Float32Array, below: Float32Array): boolean {
    const nine = this.#nine;
    const own = row[x]!;
    let bright = 0;
    let k = 0;
    for (const line of [above, row, below])
      for (let dx = -1; dx <= 1; dx++, k++) {
        nine[k] = line[x + dx]!;
        if (k !== 4 && own - nine[k]! < this.#step) bright++;
      }
    return bright <= HOT_NEIGHBOURS && own - medianOfNine(nine) >= this.#step;
  }

  #add(x: number, y: number): void {
    this.#count++;
    this.#left = Math.min(this.#left, x);
    this.#right = Math.max(this.#right, x);
    this.#top = Math.min(this.#top, y);
    this.#bottom = Math.max(this.#bottom, y);
  }

  /** How many there are, and what they lie in. */
  found(): { readonly count: number; readonly region: Region | null } {
    const [left, top] = [this.#left, this.#top];
    return {
      count: this.#count,
      region: this.#count === 0 ? null : [left, top, this.#right - left + 1, this.#bottom - top + 1],
    };
  }
}
