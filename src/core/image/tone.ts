/**
 * From what linear files hold to display values, 0 to 1, and back: a film-like curve (Narkowicz 2015), the sRGB transfer
 * (IEC 61966-2-1), depth and directions. Only integer files and what a screen shows go through here; linear files keep
 * what was computed.
 */

export const curve = (x: number): number => (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14);

/** Linear 0 to 1 to display 0 to 1; what is outside is cut. */
export const transfer = (x: number): number =>
  x <= 0 ? 0 : x >= 1 ? 1 : x <= 0.0031308 ? 12.92 * x : 1.055 * Math.pow(x, 1 / 2.4) - 0.055;

/** The light that `transfer` shows as a display value from 0 to 1. */
export const untransfer = (y: number): number =>
  y <= 0 ? 0 : y >= 1 ? 1 : y <= 0.04045 ? y / 12.92 : Math.pow((y + 0.055) / 1.055, 2.4);

/** The light that `curve` takes to a value from 0 to 1: the positive root of its quadratic. */
export function uncurve(y: number): number {
  const v = Math.min(1, Math.max(0, y));
  const [a, b, c] = [2.51 - 2.43 * v, 0.03 - 0.59 * v, -0.14 * v];
  return (-b + Math.sqrt(b * b - 4 * a * c)) / (2 * a);
}

/** Metres at which an integer depth is middle grey. */
const MIDDLE_DEPTH = 10;
/** Depth of the sky: the largest number that a half can hold. */
export const SKY_DEPTH = 65_504;

/** Metres along the ray to 0 to 1: white is near, the sky is black. */
export const nearness = (metres: number): number =>
  metres >= SKY_DEPTH ? 0 : 1 / (1 + metres / MIDDLE_DEPTH);

/** A part of a direction, -1 to 1, to 0 to 1. */
export const directionShade = (part: number): number => (part + 1) / 2;
