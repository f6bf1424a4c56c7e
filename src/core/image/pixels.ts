/**
 * Pictures as arrays: rows from the top, pixels from the left, channels interleaved.
 *
 *     channels  1 grey · 2 grey and alpha · 3 red, green, blue · 4 red, green, blue, alpha
 */

/** Pixels on a side: what readers of every format we write can take. */
export const MAX_SIDE = 16_384;

export type Channels = 1 | 2 | 3 | 4;

/** Values as they were computed: scene light, metres, a vector, or display values from 0 to 1. */
export interface FloatImage {
  readonly width: number;
  readonly height: number;
  readonly channels: Channels;
  /** width x height x channels values, scene light or display values. */
  readonly data: Float32Array;
}

/** Values as integer files hold them: 0 to 255, or 0 to 65,535. */
export type IntegerImage = {
  readonly width: number;
  readonly height: number;
  /** Alpha, where there is one, is the last. */
  readonly channels: Channels;
} & ({ readonly depth: 8; readonly data: Uint8Array } | { readonly depth: 16; readonly data: Uint16Array });

/** True when the last channel is alpha. */
export const hasAlpha = (channels: Channels): boolean => channels === 2 || channels === 4;

/** Mixes 32 bits (the finalizer of MurmurHash3); dither needs a number for a place, not a sequence. */
function mix(value: number): number {
  let h = value | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/**
 * Display values (0 to 1) to integers; what is outside is cut, what is not a number becomes 0.
 * @param dither adds triangular noise of one step before rounding (Roberts 1962; sum of two even
 *               numbers), the same for the same place, so that slopes do not band. Alpha is never
 *               dithered: a whole must stay a whole.
 */
export function quantize(image: FloatImage, depth: 8 | 16, dither: boolean): IntegerImage {
  const { width, height, channels } = image;
  const top = depth === 8 ? 255 : 65_535;
  const data = depth === 8 ? new Uint8Array(image.data.length) : new Uint16Array(image.data.length);
  const alphaAt = hasAlpha(channels) ? channels - 1 : -1;
  for (let i = 0; i < data.length; i++) {
    const value = image.data[i]!;
    if (!(value > 0)) continue;
    let scaled = value * top;
    if (dither && i % channels !== alphaAt) {
      const bits = mix(i + 0x9e3779b9);
      scaled += (bits & 0xffff) / 65_536 + (bits >>> 16) / 65_536 - 1;
    }
    data[i] = scaled >= top ? top : scaled <= 0 ? 0 : Math.round(scaled);
  }
  return { width, height, channels, depth, data } as IntegerImage;
}

/** A colour picture of 8 bits, from its bytes. */
export const rgb8 = (width: number, height: number, data: Uint8Array): IntegerImage => ({
  width,
  height,
  channels: 3,
  depth: 8,
  data,
});
