/**
 * A picture on a body: sRGB bytes decoded to linear values, sampled between the four nearest.
 * Repeats beyond its edges. Bytes are decoded once: sampling mixes light, not display values.
 */

export interface Texture {
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** width x height x 3, linear. */
  readonly data: Float32Array;
}

/** sRGB to linear (IEC 61966-2-1). */
const LINEAR = Float32Array.from({ length: 256 }, (_, i) => {
  const v = i / 255;
  return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
});

/** Decodes by a table of the 256 values. @param rgb rows from the top, three bytes a pixel */
export const textureFromRgb8 = (width: number, height: number, rgb: Uint8Array): Texture => ({
  width,
  height,
  data: Float32Array.from(rgb, (byte) => LINEAR[byte]!),
});

/** What stands in for a file that is not to be had: plain grey. */
export const GREY_TEXTURE: Texture = { width: 1, height: 1, data: Float32Array.of(0.5, 0.5, 0.5) };

/** Writes the colour at (u, v), both repeating, v upwards, into `out`. */
export function sampleTexture(texture: Texture, u: number, v: number, out: Float64Array): void {
  const { width, height, data } = texture;
  const x = (u - Math.floor(u)) * width - 0.5;
  const y = (1 - (v - Math.floor(v))) * height - 0.5;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = x - x0;
  const fy = y - y0;
  const left = ((x0 + width) % width) * 3;
  const right = ((x0 + 1) % width) * 3;
  const top = ((y0 + height) % height) * width * 3;
  const bottom = ((y0 + 1) % height) * width * 3;
  for (let c = 0; c < 3; c++) {
    const upper = data[top + left + c]! * (1 - fx) + data[top + right + c]! * fx;
    const lower = data[bottom + left + c]! * (1 - fx) + data[bottom + right + c]! * fx;
    out[c] = upper * (1 - fy) + lower * fy;
  }
}
