/**
 * The random numbers of a sample depend only on (seed, frame, pixel, sample), so that any order of
 * work and any interruption gives the same picture bit for bit.
 *
 * The first DIMENSIONS numbers of a sample are a rank-1 lattice (Kronecker sequence with the
 * generalised golden ratio, Roberts 2018) shifted by a hash of the pixel (Cranley and Patterson
 * 1976): the few samples of a pixel spread evenly. The rest is a plain generator (mulberry32).
 */

const DIMENSIONS = 7;

/** Powers of the inverse of the root of x^(d+1) = x + 1, the even lattice in d dimensions. */
const STEPS: Float64Array = (() => {
  let root = 2;
  for (let i = 0; i < 60; i++) root = Math.pow(1 + root, 1 / (DIMENSIONS + 1));
  return Float64Array.from({ length: DIMENSIONS }, (_, i) => Math.pow(1 / root, i + 1));
})();

/** Mixes 32 bits thoroughly (the finalizer of MurmurHash3). */
function mixBits(value: number): number {
  let h = value | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}

/** `start` sets pixel and sample; numbers then follow by dimension. */
export class SampleRandom {
  #pixelHash = 0;
  #state = 0;
  #sample = 0;
  #dimension = 0;
  readonly #frameHash: number;

  constructor(seed: number, frame: number) {
    // Frames may be fractions: 1/65536 of a frame is told apart.
    this.#frameHash = mixBits(mixBits(seed) ^ Math.round(frame * 65536));
  }

  /** From here on the numbers are those of this sample of this pixel. */
  begin(pixel: number, sample: number): void {
    this.#pixelHash = mixBits(this.#frameHash ^ mixBits(pixel + 0x9e3779b9));
    this.#state = mixBits(this.#pixelHash ^ mixBits(sample + 0x7f4a7c15));
    this.#sample = sample;
    this.#dimension = 0;
  }

  /** Next number in [0, 1). */
  next(): number {
    const d = this.#dimension++;
    if (d < DIMENSIONS) {
      const shift = (mixBits(this.#pixelHash + Math.imul(d + 1, 0x9e3779b1)) >>> 0) / 4294967296;
      const value = shift + this.#sample * STEPS[d]!;
      return value - Math.floor(value);
    }
    let t = (this.#state = (this.#state + 0x6d2b79f5) | 0);
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }
}
