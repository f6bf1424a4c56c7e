/** Frame rates as exact fractions, and how long so many frames last. */

export interface Rate {
  readonly numerator: number;
  readonly denominator: number;
}

/** Length in seconds: frames / rate. */
export const durationSeconds = (frames: number, rate: Rate): number => (frames * rate.denominator) / rate.numerator;

/** Frames a second as people write it: 24, 23.976, 29.97. */
export const rateText = (rate: Rate): string => {
  const value = rate.numerator / rate.denominator;
  return Number.isInteger(value) ? String(value) : value.toFixed(3).replace(/0+$/, "");
};
