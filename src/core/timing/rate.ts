/**
 * Frame rates as exact fractions, how long so many frames last, and one count of frames at another rate.
 * Rates are fractions, never decimals: 23.976 is 24000/1001, and an hour of it is off by frames if one
 * rounds.
 */

export interface Rate {
  readonly numerator: number;
  readonly denominator: number;
}

/** Rates with a name in the trade; the fractions of 1001 are those of NTSC. */
export const TRADE_RATES: readonly Rate[] = [
  { numerator: 24_000, denominator: 1001 },
  { numerator: 24, denominator: 1 },
  { numerator: 25, denominator: 1 },
  { numerator: 30_000, denominator: 1001 },
  { numerator: 30, denominator: 1 },
  { numerator: 50, denominator: 1 },
  { numerator: 60_000, denominator: 1001 },
  { numerator: 60, denominator: 1 },
  { numerator: 120, denominator: 1 },
];

/** Length in seconds: frames / rate. */
export const durationSeconds = (frames: number, rate: Rate): number =>
  (frames * rate.denominator) / rate.numerator;

/** Frames a second as people write it: 24, 23.976, 29.97. */
export const rateText = (rate: Rate): string => {
  const value = rate.numerator / rate.denominator;
  return Number.isInteger(value) ? String(value) : value.toFixed(3).replace(/0+$/, "");
};

/** Exact, also of fractions that are not in lowest terms. */
export const isSameRate = (a: Rate, b: Rate): boolean =>
  a.numerator * b.denominator === b.numerator * a.denominator;

/** What trade rates need, a hundred times over; products stay exact. */
export const MAX_TERM = 1_000_000;
/** Faster than any camera of this trade, slower than a still a day. */
const MAX_RATE = 1_000;

/** Euclid. */
const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** A fraction of two whole numbers in lowest terms, or null where it is no rate. */
export function makeRate(numerator: number, denominator: number): Rate | null {
  if (
    ![numerator, denominator].every((n) => Number.isInteger(n) && n > 0 && n <= MAX_TERM * 100) ||
    numerator / denominator > MAX_RATE
  )
    return null;
  const common = gcd(numerator, denominator);
  return { numerator: numerator / common, denominator: denominator / common };
}

/**
 * Reads 24, 23.976, 29.97 or 24000/1001. The short forms of the NTSC rates mean the exact fractions. Null
 * where it is none.
 */
export function parseRate(text: string): Rate | null {
  const fraction = /^\s*(\d+)\s*\/\s*(\d+)\s*$/.exec(text);
  if (fraction !== null) return makeRate(Number(fraction[1]), Number(fraction[2]));
  const decimal = /^\s*(\d+)(?:[.,](\d{1,6}))?\s*$/.exec(text);
  if (decimal === null) return null;
  const value = Number(`${decimal[1]}.${decimal[2] ?? "0"}`);
  const known = TRADE_RATES.find(
    (rate) =>
      rate.denominator === 1001 &&
      decimal[2] !== undefined &&
      Math.abs(rate.numerator / rate.denominator - value) < 0.006,
  );
  return known ?? makeRate(Math.round(value * MAX_TERM), MAX_TERM);
}

/** Number of frames that last as long at another rate: 150 at 30 = 50 at 10 = 300 at 60. At least one. */
export const retimedCount = (frames: number, from: Rate, to: Rate): number =>
  Math.max(1, Math.round((frames * from.denominator * to.numerator) / (from.numerator * to.denominator)));
