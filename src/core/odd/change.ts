/** How much two frames differ, block by block of their sketches. */
import type { Sketch } from "../image/sketch";

/** The largest of three. */
const most = (a: number, b: number, c: number): number => (a > b ? (a > c ? a : c) : b > c ? b : c);

/** Of one block the change of its colour that changed most, as a share of white. Sketches of one size. */
export function changeOfBlock(a: Sketch, b: Sketch, block: number): number {
  const i = block * 3;
  return (
    most(
      Math.abs(a.values[i]! - b.values[i]!),
      Math.abs(a.values[i + 1]! - b.values[i + 1]!),
      Math.abs(a.values[i + 2]! - b.values[i + 2]!),
    ) / 65_535
  );
}

export function changeOf(a: Sketch, b: Sketch): Float32Array {
  const out = new Float32Array(a.columns * a.rows);
  for (let block = 0; block < out.length; block++) out[block] = changeOfBlock(a, b, block);
  return out;
}

export const meanOf = (values: Float32Array): number =>
  values.length === 0 ? 0 : values.reduce((sum, v) => sum + v, 0) / values.length;

export const isAlike = (a: Sketch, b: Sketch): boolean => a.columns === b.columns && a.rows === b.rows;

/** The change from a frame to the next; null where the sizes differ. */
export const stepTo = (before: Sketch, now: Sketch): Float32Array | null =>
  isAlike(before, now) ? changeOf(before, now) : null;
