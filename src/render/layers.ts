/**
 * What one render of a frame can write, and how each picture becomes numbers in a file.
 *
 *     pass       linear files (OpenEXR)              integer files (PNG, TIFF, JPEG)
 *     beauty     scene light x exposure              through the film curve and sRGB
 *     denoised   the same, denoised                  the same
 *     direct     light over at most one diffuse      the same curve: direct + indirect = beauty
 *     indirect   surface, and the rest                 holds in linear light only
 *     background what is seen behind the bodies     the same curve: put under a picture with
 *                premultiplied alpha it makes it         alpha it fits in linear light only
 *                what it was without alpha
 *     albedo     colour of the surface, 0 to 1       sRGB
 *     normal     world space, -1 to 1                (n + 1) / 2
 *     depth      metres along the ray, sky 65,504    1 / (1 + metres / 10): white is near, sky black
 */
import { type Channels, type FloatImage, hasAlpha } from "@/core/image/pixels";
import { isLightPass, type Pass } from "@/core/plan/passes";
import { curve, directionShade, nearness, transfer } from "@/core/image/tone";

/** Scene light: through the film curve. */
const LIGHT = (v: number): number => transfer(curve(v));

/** From scene value to what an integer file holds, 0 to 1. What is neither here nor light is shown as it is. */
const ENCODE: Readonly<Partial<Record<Pass, (value: number) => number>>> = {
  albedo: transfer,
  normal: directionShade,
  depth: nearness,
};

/** Scene values of a pass to what an integer file shows, 0 to 1. Alpha stays as it is. */
export function toDisplay(image: FloatImage, pass: Pass): FloatImage {
  const encode = ENCODE[pass] ?? (isLightPass(pass) ? LIGHT : (v: number) => Math.min(1, v));
  const alphaAt = hasAlpha(image.channels) ? image.channels - 1 : -1;
  const data = new Float32Array(image.data.length);
  for (let i = 0; i < data.length; i++)
    data[i] =
      i % image.channels === alphaAt
        ? image.data[i]!
        : encode(Math.max(pass === "normal" ? -1 : 0, image.data[i]!));
  return { ...image, data };
}

/** One channel in place of three: luminance of linear light (Rec. 709). What has one already stays as it is. */
export function asGrey(image: FloatImage): FloatImage {
  if (image.channels !== 3) return image;
  const data = new Float32Array(image.width * image.height);
  for (let p = 0; p < data.length; p++)
    data[p] = 0.2126 * image.data[p * 3]! + 0.7152 * image.data[p * 3 + 1]! + 0.0722 * image.data[p * 3 + 2]!;
  return { ...image, channels: 1, data };
}

/** Adds alpha to premultiplied colours, and divides by it where it is to be straight. */
export function withAlpha(
  image: FloatImage,
  alpha: Float32Array,
  kind: "straight" | "premultiplied",
): FloatImage {
  const colours = image.channels;
  const channels: Channels = colours === 1 ? 2 : 4;
  const data = new Float32Array(image.width * image.height * channels);
  for (let p = 0; p < alpha.length; p++) {
    const a = Math.min(1, Math.max(0, alpha[p]!));
    const scale = kind === "straight" && a > 0 ? 1 / a : 1;
    for (let c = 0; c < colours; c++) data[p * channels + c] = image.data[p * colours + c]! * scale;
    data[p * channels + colours] = a;
  }
  return { width: image.width, height: image.height, channels, data };
}
