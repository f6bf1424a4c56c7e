/**
 * Edge-avoiding a-trous wavelet denoiser (Dammertz, Sewtz, Hanika and Lensch 2010, "Edge-Avoiding
 * A-Trous Wavelet Transform for fast Global Illumination Filtering"), guided by albedo, normal and
 * depth. The colour is divided by the albedo first, so that textures stay sharp, and how far colours
 * may differ follows from the variance around each pixel (as Schied and others 2017 do for video).
 * Lone bright pixels are brought down to their neighbours before: one would become a blot.
 */
import type { FloatImage } from "@/core/image/pixels";
import { SKY_DEPTH } from "@/core/image/tone";

export interface DenoiseInput {
  readonly beauty: FloatImage;
  /** Colour of surfaces without light. */
  readonly albedo: FloatImage;
  readonly normal: FloatImage;
  /** Metres from the camera. */
  readonly depth: FloatImage;
}

/** Changes whenever a denoised picture would. */
export const DENOISER_VERSION = "1";

/** Holes double with each step: 5 steps reach 62 pixels to each side. */
const STEPS = 5;
/** B3 spline, the kernel of the paper. */
const KERNEL = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16] as const;
/** Distance of each of the 25 taps from the middle one, in holes. */
const APART = Float64Array.from({ length: 25 }, (_, k) => Math.hypot((k % 5) - 2, Math.floor(k / 5) - 2));
/** How many standard errors two luminances may lie apart and still be mixed. */
const SIGMA_COLOUR = 4;
/** The cosine between normals counts to the power of 64: squared so many times. */
const NORMAL_SQUARINGS = 6;
/** Weights below e^-20 change nothing. */
const LEAST_EXPONENT = -20;
/** Share of its distance that a neighbour may lie nearer or farther, a pixel of distance. */
const SIGMA_DEPTH = 0.05;
/** How far colours of surfaces may differ and still be averaged. */
const SIGMA_ALBEDO = 0.25;
/**
 * Added to the albedo before it divides the colour: the quotient of dark surfaces would be noise, and a
 * switch between two ways of dividing would leave coloured seams.
 */
const ALBEDO_FLOOR = 0.05;
/** A pixel brighter than this many times its brightest neighbours but one is a firefly. */
const FIREFLY = 3;
/** Keeps the division by black surfaces finite. */
const EPSILON = 1e-6;

/** Rec. 709. */
const luminanceAt = (data: Float32Array, pixel: number): number =>
  0.2126 * data[pixel * 3]! + 0.7152 * data[pixel * 3 + 1]! + 0.0722 * data[pixel * 3 + 2]!;

/** Brings lone bright pixels down to the third brightest of the eight around them. */
function withoutFireflies({ width, height, data }: FloatImage): Float32Array {
  const out = data.slice();
  const around = new Float64Array(8);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let n = 0;
      for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++)
        for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++)
          if (i !== x || j !== y) around[n++] = luminanceAt(data, j * width + i);
      if (n < 3) continue;
      const third = around.subarray(0, n).sort()[n - 3]!;
      const p = y * width + x;
      const own = luminanceAt(data, p);
      if (own > third * FIREFLY + EPSILON)
        for (let c = 0; c < 3; c++) out[p * 3 + c] = (data[p * 3 + c]! * third * FIREFLY) / own;
    }
  }
  return out;
}

/**
 * Variance of the noise around each pixel: from how far pixels lie off the mean of their four
 * neighbours on the same surface, averaged over 5 x 5. Slopes and soft edges of the light cancel out,
 * as they would not in a plain variance: it takes waves and reflections for noise.
 */
function variances(
  light: Float32Array,
  albedo: Float32Array,
  normal: Float32Array,
  width: number,
  height: number,
): Float32Array {
  const off = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      let n = 0,
        sum = 0;
      for (const [i, j] of [
        [x - 1, y],
        [x + 1, y],
        [x, y - 1],
        [x, y + 1],
      ] as const) {
        if (i < 0 || j < 0 || i >= width || j >= height || !isSameSurface(albedo, normal, p, j * width + i))
          continue;
        n++;
        sum += luminanceAt(light, j * width + i);
      }
      // The difference of a value and the mean of n others has 1 + 1/n times the variance of one.
      off[p] = n === 0 ? -1 : (luminanceAt(light, p) - sum / n) ** 2 / (1 + 1 / n);
    }
  }
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      let n = 0,
        sum = 0;
      for (let j = Math.max(0, y - 2); j <= Math.min(height - 1, y + 2); j++) {
        for (let i = Math.max(0, x - 2); i <= Math.min(width - 1, x + 2); i++) {
          const q = j * width + i;
          if (off[q]! < 0 || !isSameSurface(albedo, normal, p, q)) continue;
          n++;
          sum += off[q]!;
        }
      }
      out[p] = n === 0 ? 0 : sum / n;
    }
  }
  return out;
}

/** Normals and colours close enough that light may be shared between the pixels. */
const isSameSurface = (albedo: Float32Array, normal: Float32Array, p: number, q: number): boolean =>
  normal[p * 3]! * normal[q * 3]! +
    normal[p * 3 + 1]! * normal[q * 3 + 1]! +
    normal[p * 3 + 2]! * normal[q * 3 + 2]! >
    0.9 &&
  Math.abs(albedo[p * 3]! - albedo[q * 3]!) +
    Math.abs(albedo[p * 3 + 1]! - albedo[q * 3 + 1]!) +
    Math.abs(albedo[p * 3 + 2]! - albedo[q * 3 + 2]!) <
    0.3;

/** The picture without its grain. Sky and what has no guide stays as it is. */
export function denoise({ beauty, albedo, normal, depth }: DenoiseInput): FloatImage {
  const { width, height } = beauty;
  const pixels = width * height;
  const a = albedo.data,
    n = normal.data,
    z = depth.data;
  const base = Float32Array.from(a, (v) => v + ALBEDO_FLOOR);
  let light: Float32Array = withoutFireflies({
    ...beauty,
    data: Float32Array.from(beauty.data, (v, i) => v / base[i]!),
  });
  let variance: Float32Array = variances(light, a, n, width, height);
  const luminance = new Float32Array(pixels);
  for (let step = 0; step < STEPS; step++) {
    const hole = 1 << step;
    const next = new Float32Array(pixels * 3);
    const nextVariance = new Float32Array(pixels);
    for (let p = 0; p < pixels; p++) luminance[p] = luminanceAt(light, p);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const p = y * width + x;
        const p3 = p * 3;
        const depthHere = z[p]!;
        if (depthHere >= SKY_DEPTH) {
          for (let c = 0; c < 3; c++) next[p3 + c] = light[p3 + c]!;
          continue;
        }
        const own = luminance[p]!;
        const perColour = 1 / (SIGMA_COLOUR * Math.sqrt(variance[p]!) + EPSILON);
        const perDepth = 1 / (depthHere * SIGMA_DEPTH);
        const nx = n[p3]!,
          ny = n[p3 + 1]!,
          nz = n[p3 + 2]!;
        let r = 0,
          g = 0,
          b = 0,
          weights = 0,
          spread = 0;
        for (let ky = -2; ky <= 2; ky++) {
          const j = y + ky * hole;
          if (j < 0 || j >= height) continue;
          for (let kx = -2; kx <= 2; kx++) {
            const i = x + kx * hole;
            if (i < 0 || i >= width) continue;
            const q = j * width + i;
            const q3 = q * 3;
            let facing = nx * n[q3]! + ny * n[q3 + 1]! + nz * n[q3 + 2]!;
            if (facing <= 0.5) continue;
            if (facing > 1) facing = 1;
            for (let k = 0; k < NORMAL_SQUARINGS; k++) facing *= facing;
            const apart = APART[(ky + 2) * 5 + kx + 2]! * hole;
            const da =
              (Math.abs(a[p3]! - a[q3]!) +
                Math.abs(a[p3 + 1]! - a[q3 + 1]!) +
                Math.abs(a[p3 + 2]! - a[q3 + 2]!)) /
              SIGMA_ALBEDO;
            const exponent =
              -(Math.abs(depthHere - z[q]!) * perDepth) / (1 + apart) -
              da * da -
              Math.abs(own - luminance[q]!) * perColour;
            if (exponent < LEAST_EXPONENT) continue;
            const w = KERNEL[kx + 2]! * KERNEL[ky + 2]! * facing * Math.exp(exponent);
            r += w * light[q3]!;
            g += w * light[q3 + 1]!;
            b += w * light[q3 + 2]!;
            spread += w * w * variance[q]!;
            weights += w;
          }
        }
        next[p3] = r / weights;
        next[p3 + 1] = g / weights;
        next[p3 + 2] = b / weights;
        nextVariance[p] = spread / (weights * weights);
      }
    }
    light = next;
    variance = nextVariance;
  }
  return { ...beauty, data: Float32Array.from(light, (v, i) => v * base[i]!) };
}
