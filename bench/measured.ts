/** What a benchmark says: a figure, the yardstick measured in the same run, and whether the goal holds. */

export interface Measured {
  readonly name: string;
  readonly value: number;
  readonly unit: string;
  /** The same unit, or what `ratio` is taken against; in words in `goal`. */
  readonly yardstick: number;
  readonly ratio: number;
  readonly goal: string;
  readonly holds: boolean;
}

/** Milliseconds of each of `times` runs. */
export function timeEach(times: number, work: () => void): number[] {
  return Array.from({ length: times }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
}

export const rounded = (value: number): number => Number(value.toPrecision(4));
