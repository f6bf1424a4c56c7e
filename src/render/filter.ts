/**
 * Reconstruction filters by importance sampling (Ernst, Stamminger and Greiner 2006): a sample's
 * place is drawn in proportion to the filter's size there, so that every sample counts for its own
 * pixel alone, and pixels stay independent of one another. Mitchell's filter (Mitchell and
 * Netravali 1988, B = C = 1/3) has negative lobes: samples there count with a minus.
 */

import type { FilterKind, FilterSettings } from "@/core/plan/picture";

/** B and C of Mitchell's filter. */
const THIRD = 1 / 3;

/** Of the distance from the middle, in radii. */
function mitchell(t: number): number {
  const x = Math.abs(t * 2);
  if (x >= 2) return 0;
  const [B, C] = [THIRD, THIRD];
  return x < 1
    ? ((12 - 9 * B - 6 * C) * x ** 3 + (-18 + 12 * B + 6 * C) * x ** 2 + (6 - 2 * B)) / 6
    : ((-B - 6 * C) * x ** 3 + (6 * B + 30 * C) * x ** 2 + (-12 * B - 48 * C) * x + (8 * B + 24 * C)) / 6;
}

/** Value at a share of the radius, -1 to 1. */
const SHAPES: Readonly<Record<FilterKind, (t: number) => number>> = {
  box: () => 1,
  tent: (t) => 1 - Math.abs(t),
  // Falls to exp(-4.5) = 1 % at its end, and is set down to 0 there.
  gaussian: (t) => Math.exp(-4.5 * t * t) - Math.exp(-4.5),
  mitchell,
};

/** Steps of the inverted distribution: finer than a hundredth of a pixel at any radius that is allowed. */
const STEPS = 1024;

export interface PixelFilter {
  /** Offset from the pixel's middle, in pixels, for an even number in [0, 1). */
  readonly offset: (u: number) => number;
  /** What a sample at an offset counts, along one axis. Mean 1 over all offsets. */
  readonly weight: (offset: number) => number;
}

/** Tabulates the filter once. @param settings radius in pixels */
export function makeFilter({ kind, radius }: FilterSettings): PixelFilter {
  const shape = SHAPES[kind];
  const cumulative = new Float64Array(STEPS + 1);
  let signed = 0;
  for (let i = 0; i < STEPS; i++) {
    const value = shape(((i + 0.5) / STEPS) * 2 - 1);
    cumulative[i + 1] = cumulative[i]! + Math.abs(value);
    signed += value;
  }
  const total = cumulative[STEPS]!;
  const size = total / signed;
  const inverse = new Float64Array(STEPS + 1);
  let step = 0;
  for (let k = 0; k <= STEPS; k++) {
    const wanted = (k / STEPS) * total;
    while (step < STEPS - 1 && cumulative[step + 1]! < wanted) step++;
    const width = cumulative[step + 1]! - cumulative[step]!;
    inverse[k] =
      (((step + (width > 0 ? Math.min(1, (wanted - cumulative[step]!) / width) : 0)) / STEPS) * 2 - 1) *
      radius;
  }
  const hasLobes = size > 1 + 1e-9;
  return {
    offset: (u) => {
      const at = u * STEPS;
      const k = Math.floor(at);
      return inverse[k]! + (inverse[Math.min(STEPS, k + 1)]! - inverse[k]!) * (at - k);
    },
    weight: hasLobes ? (offset) => (shape(offset / radius) < 0 ? -size : size) : () => 1,
  };
}
