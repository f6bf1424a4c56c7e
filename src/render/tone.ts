/**
 * From scene light to display values: a film-like curve (Narkowicz 2015), sRGB transfer (IEC 61966-2-1).
 * Only integer files and what a screen shows go through here; linear files keep the light.
 */

export const curve = (x: number): number => (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14);

/** Linear 0 to 1 to display 0 to 1; what is outside is cut. */
export const transfer = (x: number): number =>
  x <= 0 ? 0 : x >= 1 ? 1 : x <= 0.0031308 ? 12.92 * x : 1.055 * Math.pow(x, 1 / 2.4) - 0.055;
