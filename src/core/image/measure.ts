/**
 * Measures of a picture's pixels.
 * Pictures are measured as they are shown, from whole numbers, so that a measure is the same wherever the
 * file is read.
 */
import { hasAlpha, type IntegerImage } from "./pixels";

/** What is white. */
const topOf = (image: IntegerImage): number => (image.depth === 8 ? 255 : 65_535);

/** Luminance of each pixel (Rec. 709 weights on display values), 0 to 1. */
function luminances(image: IntegerImage): Float32Array {
  const { data, channels, width, height } = image;
  const top = topOf(image);
  const isGrey = channels - (hasAlpha(channels) ? 1 : 0) === 1;
  const out = new Float32Array(width * height);
  for (let p = 0, i = 0; p < out.length; p++, i += channels)
    out[p] = (isGrey ? data[i]! : 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!) / top;
  return out;
}

/** Mean luminance, 0 to 1. */
export function meanLuminance(image: IntegerImage): number {
  const values = luminances(image);
  return values.length === 0 ? 0 : values.reduce((sum, v) => sum + v, 0) / values.length;
}

/** Mean absolute difference of luminance of two pictures of one size, 0 to 1; null when the sizes differ. */
export function meanDifference(a: IntegerImage, b: IntegerImage): number | null {
  if (a.width !== b.width || a.height !== b.height) return null;
  const [left, right] = [luminances(a), luminances(b)];
  return left.length === 0 ? 0 : left.reduce((sum, v, i) => sum + Math.abs(v - right[i]!), 0) / left.length;
}

/**
 * Standard deviation of the grain, as a share of white (Immerkaer 1996, "Fast noise variance
 * estimation"): the mean size of a difference of two Laplacians, which slopes and flat areas do not
 * answer to. Pictures of less than 3 x 3 pixels have none.
 */
export function noiseOf(image: IntegerImage): number {
  const { width, height } = image;
  const l = luminances(image);
  const row = (y: number): Float32Array => l.subarray(y * width, (y + 1) * width);
  let sum = 0;
  for (let y = 1; y < height - 1; y++) sum += grainOfRow(row(y - 1), row(y), row(y + 1));
  return grainDeviation(sum, width, height);
}

/**
 * Of the inner pixels of one row, what its two Laplacians differ by: the mask is what [1, -2, 1] makes of itself down and
 * across, so that each sum down serves three pixels.
 */
function grainOfRow(above: Float32Array, row: Float32Array, below: Float32Array): number {
  const width = row.length;
  if (width < 3) return 0;
  let sum = 0;
  let left = above[0]! - 2 * row[0]! + below[0]!;
  let own = above[1]! - 2 * row[1]! + below[1]!;
  for (let x = 2; x < width; x++) {
    const right = above[x]! - 2 * row[x]! + below[x]!;
    sum += Math.abs(left - 2 * own + right);
    left = own;
    own = right;
  }
  return sum;
}

/** @param sum of `grainOfRow` over all inner rows */
export const grainDeviation = (sum: number, width: number, height: number): number =>
  width < 3 || height < 3 ? 0 : (Math.sqrt(Math.PI / 2) * sum) / (6 * (width - 2) * (height - 2));
