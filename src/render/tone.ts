/** From scene light to display bytes: exposure, a film-like curve (Narkowicz 2015), sRGB transfer (IEC 61966-2-1). */

const curve = (x: number): number => (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14);

const transfer = (x: number): number => (x <= 0.0031308 ? 12.92 * x : 1.055 * Math.pow(x, 1 / 2.4) - 0.055);

/** Steps of the table between 0 and 1 of the curve's output; finer than 8 bits can show. */
const TABLE_SIZE = 16384;
const BYTES = Uint8Array.from({ length: TABLE_SIZE + 1 }, (_, i) => Math.round(255 * transfer(i / TABLE_SIZE)));

/** @param scale exposure over the number of samples that were summed */
export function toDisplay(sums: Float64Array, scale: number): Uint8Array {
  const out = new Uint8Array(sums.length);
  for (let i = 0; i < sums.length; i++) {
    const x = curve(Math.max(0, sums[i]! * scale));
    out[i] = BYTES[Math.round(Math.min(1, x) * TABLE_SIZE)]!;
  }
  return out;
}
