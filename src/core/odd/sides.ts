/**
 * What is usual of a measure around a frame, from either side of it: at a cut the frames before say one thing and
 * those behind another, and either is enough.
 */
import { median } from "../many";

/** Frames on each side. */
const REACH = 9;
/** Of a normal distribution, the standard deviation from the median of the absolute deviations. */
const MAD_SCALE = 1.4826;

export interface Usual {
  /** The median of the side that is nearer to the value. */
  readonly expected: number;
  /** Robust standard deviation there. */
  readonly deviation: number;
}

const sideOf = (values: readonly number[]): Usual => {
  const expected = median(values);
  return { expected, deviation: MAD_SCALE * median(values.map((v) => Math.abs(v - expected))) };
};

/** Null where neither side has three frames. @param at index into the values */
export function usualAround(values: readonly number[], at: number): Usual | null {
  const before = values.slice(Math.max(0, at - REACH), at);
  const behind = values.slice(at + 1, at + 1 + REACH);
  const sides = [before, behind].filter((side) => side.length >= 3).map(sideOf);
  const off = ({ expected }: Usual): number => Math.abs(values[at]! - expected);
  return sides.reduce<Usual | null>(
    (best, side) => (best === null || off(side) < off(best) ? side : best),
    null,
  );
}
