/**
 * All measures of a picture that are kept, in one go over its pixels as they are shown (scene light through the
 * curve of displays), so that they mean the same for every format.
 */
import { noiseOfLuminance } from "./measure";
import { type FloatImage, hasAlpha, type IntegerImage } from "./pixels";
import { transfer } from "./tone";
import { edgesOf, gridOf, type Region, type Sketch } from "./sketch";

export interface Measures {
  /** Mean luminance (Rec. 709), 0 to 1. */
  readonly luminance: number;
  /** Standard deviation of luminance, 0 to 1. */
  readonly spread: number;
  /** Standard deviation of the grain, as a share of white. */
  readonly noise: number;
  /** Share of pixels whose colours are all 0. */
  readonly black: number;
  /** Share of pixels with a colour at white or beyond. */
  readonly clipped: number;
  /** Single pixels far above what surrounds them. */
  readonly hot: number;
  /** Pixels with a value that is no number, or infinite. */
  readonly nan: number;
  /** Mean of alpha, 0 to 1; null where there is none. */
  readonly alpha: number | null;
}

export interface MeasuredPicture {
  readonly width: number;
  readonly height: number;
  readonly measures: Measures;
  readonly sketch: Sketch;
  /** What the hot pixels lie in; null where there are none. */
  readonly hotRegion: Region | null;
  /** Equal for equal pixels, and as good as never for others: 64 bits, hexadecimal. */
  readonly pixels: string;
}

/** A hot pixel is so much brighter than the median of the nine around it, as shown. */
const HOT_STEP = 0.3;
/** Fewer of the eight around it may be as bright: more are a thing in the picture. */
const HOT_NEIGHBOURS = 1;

/** The curve of displays (IEC 61966-2-1), by steps fine enough for 16 bits near black. */
const CURVE_STEPS = 16_384;
/** Below, it is straight, or too steep for the steps. */
const FROM_TABLE = 0.0031308;
let curve: Float32Array | null = null;
function shownLight(light: number): number {
  if (!(light > 0)) return 0;
  if (light >= 1) return 1;
  if (light < FROM_TABLE) return transfer(light);
  curve ??= Float32Array.from({ length: CURVE_STEPS + 2 }, (_, i) => transfer(i / CURVE_STEPS));
  const at = light * CURVE_STEPS;
  const low = Math.floor(at);
  return curve[low]! + (curve[low + 1]! - curve[low]!) * (at - low);
}

/** From 0 to 1; what is no number is 0. */
const unit = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);

const { imul } = Math;

/** Of 64 bits, in two halves that mix differently (after FNV-1a). */
function hashOf(data: Uint8Array): string {
  const words = data.byteLength >> 2;
  const aligned =
    data.byteOffset % 4 === 0
      ? new Uint32Array(data.buffer, data.byteOffset, words)
      : new Uint32Array(data.slice(0, words * 4).buffer);
  let [a, b] = [0x811c9dc5, 0x9e3779b9];
  const mix = (word: number): void => {
    a = imul(a ^ word, 0x01000193);
    a ^= a >>> 15;
    b = imul(b ^ word, 0x85ebca6b);
    b = (b << 13) | (b >>> 19);
  };
  for (let i = 0; i < words; i++) mix(aligned[i]!);
  for (let i = words * 4; i < data.byteLength; i++) mix(data[i]!);
  mix(data.byteLength);
  return [a, b].map((half) => (half >>> 0).toString(16).padStart(8, "0")).join("");
}

/** Places that are put into order one after the other, until the middle of nine is in the middle (Smith 1996). */
const EXCHANGES = "12457801346712457803584736142547426442"
  .match(/../g)!
  .map((pair) => [Number(pair[0]), Number(pair[1])] as const);

function medianOfNine(v: Float32Array): number {
  for (const [i, j] of EXCHANGES) {
    const [low, high] = [v[i]!, v[j]!];
    if (low <= high) continue;
    v[i] = high;
    v[j] = low;
  }
  return v[4]!;
}

/** Hot pixels of the inner picture, and what they lie in. */
function hotPixels(l: Float32Array, width: number, height: number): { count: number; region: Region | null } {
  const nine = new Float32Array(9);
  let count = 0;
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      const own = l[p]!;
      // Most pixels are told by two of their neighbours.
      if (own - l[p - 1]! < HOT_STEP && own - l[p + 1]! < HOT_STEP && own - l[p - width]! < HOT_STEP)
        continue;
      let bright = 0;
      for (let k = 0, dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++, k++) {
          nine[k] = l[p + dy * width + dx]!;
          if (k !== 4 && own - nine[k]! < HOT_STEP) bright++;
        }
      if (bright > HOT_NEIGHBOURS || own - medianOfNine(nine) < HOT_STEP) continue;
      count++;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
    }
  return { count, region: count === 0 ? null : [left, top, right - left + 1, bottom - top + 1] };
}

/**
 * @param isLight the numbers are scene light, and not what displays show; of floats alone
 */
export function measurePicture(image: FloatImage | IntegerImage, isLight: boolean): MeasuredPicture {
  const { width, height, channels, data } = image;
  const scale = "depth" in image ? 1 / (image.depth === 8 ? 255 : 65_535) : 1;
  const shown = "depth" in image || !isLight ? (v: number): number => v * scale : shownLight;
  const alphaAt = hasAlpha(channels) ? channels - 1 : -1;
  const isGrey = channels < 3;
  const { columns, rows } = gridOf(width, height);
  const [xs, ys] = [edgesOf(width, columns), edgesOf(height, rows)];
  const columnOf = new Int32Array(width);
  for (let c = 0; c < columns; c++) columnOf.fill(c, xs[c], xs[c + 1]);
  const sums = new Float64Array(columns * rows * 3);
  const l = new Float32Array(width * height);
  let [sum, squares, black, clipped, nan, alpha] = [0, 0, 0, 0, 0, 0];
  for (let y = 0, row = 0, p = 0, i = 0; y < height; y++) {
    while (y >= ys[row + 1]!) row++;
    for (let x = 0; x < width; x++, p++, i += channels) {
      const rawR = data[i]!;
      const rawG = isGrey ? rawR : data[i + 1]!;
      const rawB = isGrey ? rawR : data[i + 2]!;
      // Of a value that is no number, or infinite, nothing is left but that.
      if ((rawR + rawG + rawB) * 0 !== 0) nan++;
      const r = unit(shown(rawR));
      const g = unit(shown(rawG));
      const b = unit(shown(rawB));
      if (r === 0 && g === 0 && b === 0) black++;
      else if (r === 1 || g === 1 || b === 1) clipped++;
      const luminance = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      l[p] = luminance;
      sum += luminance;
      squares += luminance * luminance;
      if (alphaAt >= 0) alpha += unit(data[i + alphaAt]! * scale);
      const at = (row * columns + columnOf[x]!) * 3;
      sums[at]! += r;
      sums[at + 1]! += g;
      sums[at + 2]! += b;
    }
  }
  const count = Math.max(1, width * height);
  const values = new Uint16Array(sums.length);
  for (let block = 0; block < columns * rows; block++) {
    const [x, y] = [block % columns, Math.floor(block / columns)];
    const area = Math.max(1, (xs[x + 1]! - xs[x]!) * (ys[y + 1]! - ys[y]!));
    for (let c = 0; c < 3; c++) values[block * 3 + c] = Math.round((sums[block * 3 + c]! / area) * 65_535);
  }
  const mean = sum / count;
  const hot = hotPixels(l, width, height);
  return {
    width,
    height,
    measures: {
      luminance: mean,
      spread: Math.sqrt(Math.max(0, squares / count - mean * mean)),
      noise: noiseOfLuminance(l, width, height),
      black: black / count,
      clipped: clipped / count,
      hot: hot.count,
      nan,
      alpha: alphaAt < 0 ? null : alpha / count,
    },
    sketch: { columns, rows, values },
    hotRegion: hot.region,
    pixels: hashOf(new Uint8Array(data.buffer, data.byteOffset, data.byteLength)),
  };
}
