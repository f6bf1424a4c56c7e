/**
 * All measures of a picture that are kept, in one go over its pixels as they are shown (scene light through the
 * curve of displays), so that they mean the same for every format.
 */
import { measureRows } from "./picture-rows";
import { pixelSum } from "./pixel-sum";
import { type FloatImage, hasAlpha, type IntegerImage } from "./pixels";
import { shownRows, unit } from "./shown-rows";
import type { Region, Sketch } from "./sketch";

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

/** Mean of alpha, 0 to 1; null where there is none. */
function alphaOf({ channels, data, ...image }: FloatImage | IntegerImage): number | null {
  if (!hasAlpha(channels)) return null;
  const scale = "depth" in image ? 1 / (image.depth === 8 ? 255 : 65_535) : 1;
  let sum = 0;
  for (let i = channels - 1; i < data.length; i += channels) sum += unit(data[i]! * scale);
  return sum / Math.max(1, data.length / channels);
}

/** @param isLight the numbers are scene light, and not what displays show; of floats alone */
export function measurePicture(image: FloatImage | IntegerImage, isLight: boolean): MeasuredPicture {
  const { width, height, data } = image;
  const rowAt = shownRows(image, isLight);
  let nan = 0;
  const measured = measureRows(width, height, (y) => {
    const shown = rowAt(y);
    nan += shown.nan;
    return shown;
  });
  const count = Math.max(1, width * height);
  return {
    width,
    height,
    measures: {
      luminance: measured.luminance,
      spread: measured.spread,
      noise: measured.noise,
      black: measured.black / count,
      clipped: measured.clipped / count,
      hot: measured.hot.count,
      nan,
      alpha: alphaOf(image),
    },
    sketch: measured.sketch,
    hotRegion: measured.hot.region,
    pixels: pixelSum(new Uint8Array(data.buffer, data.byteOffset, data.byteLength)),
  };
}
