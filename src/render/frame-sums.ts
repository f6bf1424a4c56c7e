/**
 * Sums over the samples of each pixel, and the pictures that follow from them.
 *
 * A pixel's sums add up in the order of its samples, whatever way the picture was gone through: at
 * equal counts the pictures are the same bit for bit. Pixels without a sample are black, so that a
 * picture can be shown at any moment.
 */
import type { FloatImage } from "@/core/image/pixels";
import { denoise } from "./denoise";
import { SKY_DEPTH } from "@/core/image/tone";

/** Sums that passes besides beauty need, and the denoiser. */
export interface LayerSums {
  /** Light over one surface; three values a pixel, as albedo and normal. */
  readonly direct: Float64Array;
  readonly albedo: Float64Array;
  readonly normal: Float64Array;
  /** Metres. */
  readonly depth: Float64Array;
  /** Number of samples that met a body. */
  readonly met: Float64Array;
}

/** Sums of what is needed to lay the picture over another. */
export interface CoverSums {
  /** Light of the sky behind the bodies. */
  readonly background: Float64Array;
  /** Share of samples that met a body. */
  readonly alpha: Float64Array;
}

export interface FrameSums {
  readonly width: number;
  readonly height: number;
  /** Radiance, width x height x 3. */
  readonly light: Float64Array;
  /** Sums of tone-compressed luminance and of its squares: for the noise. */
  readonly tones: Float64Array;
  /** Of luminance: what the noise is told from. */
  readonly squares: Float64Array;
  /** Null where it is not kept. */
  readonly cover: CoverSums | null;
  /** Null where they are not kept. */
  readonly layers: LayerSums | null;
  /** Samples that each pixel has. */
  readonly counts: Uint32Array;
}

/** What the sums are kept for. */
export interface SumsKept {
  readonly cover: boolean;
  readonly layers: boolean;
}

/**
 * Empty sums for a picture. @param kept which passes need sums of their own: memory is taken for those alone
 */
export function makeSums(width: number, height: number, kept: SumsKept): FrameSums {
  const pixels = width * height;
  const of = (channels: number): Float64Array => new Float64Array(pixels * channels);
  return {
    width,
    height,
    light: of(3),
    tones: of(1),
    squares: of(1),
    counts: new Uint32Array(pixels),
    cover: kept.cover ? { background: of(3), alpha: of(1) } : null,
    layers: kept.layers ? { direct: of(3), albedo: of(3), normal: of(3), depth: of(1), met: of(1) } : null,
  };
}

/** The arrays of the sums in a fixed order: as a checkpoint holds them. */
export const arraysOf = (sums: FrameSums): readonly (Float64Array | Uint32Array)[] => [
  sums.light,
  sums.tones,
  sums.squares,
  ...(sums.cover === null ? [] : [sums.cover.background, sums.cover.alpha]),
  ...(sums.layers === null
    ? []
    : [sums.layers.direct, sums.layers.albedo, sums.layers.normal, sums.layers.depth, sums.layers.met]),
  sums.counts,
];

/** A rectangle of pixels, ends excluded. */
export interface Region {
  /** Pixels; right and bottom are exclusive. */
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * Noise of a region: root mean square, over its pixels, of the standard error of tone-compressed luminance (L
 * / (1 + L)); 0.01 is 1 % of white. 1 while a pixel has fewer than two samples.
 */
export function noiseOf(
  { width, counts, tones, squares }: FrameSums,
  { left, top, right, bottom }: Region,
): number {
  let sum = 0;
  for (let y = top; y < bottom; y++) {
    for (let pixel = y * width + left; pixel < y * width + right; pixel++) {
      const n = counts[pixel]!;
      if (n < 2) return 1;
      const mean = tones[pixel]! / n;
      sum += Math.max(0, squares[pixel]! / n - mean * mean) / (n - 1);
    }
  }
  return Math.sqrt(sum / ((right - left) * (bottom - top)));
}

/** Pictures of the passes, in scene values. */
export class FramePictures {
  readonly #sums: FrameSums;
  readonly #exposure: number;

  constructor(sums: FrameSums, exposure: number) {
    this.#sums = sums;
    this.#exposure = exposure;
  }

  /** Alpha: the share of each pixel that bodies cover. */
  alpha(): Float32Array {
    const { counts } = this.#sums;
    return Float32Array.from(this.#cover.alpha, (sum, p) => (counts[p] === 0 ? 0 : sum / counts[p]!));
  }

  /**
   * Scene light times exposure. @param isolated without the sky behind the bodies, as a picture with alpha
   * needs it
   */
  beauty(isolated = false): FloatImage {
    const { light } = this.#sums;
    if (!isolated) return this.#colours((i) => light[i]!);
    const { background } = this.#cover;
    return this.#colours((i) => light[i]! - background[i]!);
  }

  /** What is seen behind the bodies: beauty without it is the picture with alpha, premultiplied. */
  background(): FloatImage {
    const { background } = this.#cover;
    return this.#colours((i) => background[i]!);
  }

  /** Light over at most one surface. */
  direct(isolated = false): FloatImage {
    const { direct } = this.#layers;
    if (!isolated) return this.#colours((i) => direct[i]!);
    const { background } = this.#cover;
    return this.#colours((i) => direct[i]! - background[i]!);
  }

  /** The rest of the beauty: what came over more than one surface. */
  indirect(): FloatImage {
    const { light } = this.#sums;
    const { direct } = this.#layers;
    return this.#colours((i) => light[i]! - direct[i]!);
  }

  /** Colour of surfaces, without light. */
  albedo(): FloatImage {
    const { width, height, counts } = this.#sums;
    return {
      width,
      height,
      channels: 3,
      data: Float32Array.from(this.#layers.albedo, (sum, i) => sum / Math.max(1, counts[Math.floor(i / 3)]!)),
    };
  }

  /** Unit vectors; 0 where there is only sky. */
  normal(): FloatImage {
    const { width, height } = this.#sums;
    const { normal } = this.#layers;
    const data = new Float32Array(normal.length);
    for (let i = 0; i < data.length; i += 3) {
      const length = Math.hypot(normal[i]!, normal[i + 1]!, normal[i + 2]!);
      if (length > 0) for (let c = 0; c < 3; c++) data[i + c] = normal[i + c]! / length;
    }
    return { width, height, channels: 3, data };
  }

  /** Metres to what is met; SKY_DEPTH where there is only sky. */
  depth(): FloatImage {
    const { width, height } = this.#sums;
    const { depth, met } = this.#layers;
    return {
      width,
      height,
      channels: 1,
      data: Float32Array.from(depth, (sum, p) => (met[p]! > 0 ? sum / met[p]! : SKY_DEPTH)),
    };
  }

  /** From this frame's own guides. */
  denoised(isolated = false): FloatImage {
    return denoise({
      beauty: this.beauty(isolated),
      albedo: this.albedo(),
      normal: this.normal(),
      depth: this.depth(),
    });
  }

  /** Sums over samples, as a picture. */
  #colours(value: (at: number) => number): FloatImage {
    const { width, height, counts } = this.#sums;
    const data = new Float32Array(width * height * 3);
    for (let pixel = 0, i = 0; pixel < counts.length; pixel++) {
      const scale = this.#exposure / Math.max(1, counts[pixel]!);
      for (const end = i + 3; i < end; i++) data[i] = value(i) * scale;
    }
    return { width, height, channels: 3, data };
  }

  get #layers(): LayerSums {
    if (this.#sums.layers === null) throw new Error("This render kept no layers.");
    return this.#sums.layers;
  }

  get #cover(): CoverSums {
    if (this.#sums.cover === null) throw new Error("This render kept no coverage.");
    return this.#sums.cover;
  }
}
