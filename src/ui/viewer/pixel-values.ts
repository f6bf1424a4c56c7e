/** Numbers of pixels: as they lie in the file, and as they are shown. */
import { fromHalf } from "@/core/image/half";
import { noiseOf } from "@/core/image/measure";
import { rgb8 } from "@/core/image/pixels";
import type { LoadedPixels } from "@/contract/picture-messages";
import type { Colour, Look } from "@/core/playback/shown-as";
import { backgroundAt, type Raw, shownPixel } from "@/core/playback/shown-pixel";
import { coverOf } from "@/core/playback/zoom";
import type { Painted, Painter } from "./gl/painter";

/** A rectangle of pixels of the whole picture. */
export interface Region {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Red, green, blue, alpha of each pixel, rows from the top. Null while the graphics are away. */
function rawOf({ pixels }: Pick<Painted, "pixels">, painter: Painter, region: Region): readonly Raw[] | null {
  // What plays may be smaller than the file.
  const over = pixels.wholeWidth / pixels.width;
  const x = Math.min(pixels.width - 1, Math.floor(region.x / over));
  const y = Math.min(pixels.height - 1, Math.floor(region.y / over));
  const width = Math.max(1, Math.min(pixels.width - x, Math.round(region.width / over)));
  const height = Math.max(1, Math.min(pixels.height - y, Math.round(region.height / over)));
  if (pixels.kind === "bytes") {
    const bytes = painter.readBytes(pixels, { x, y, width, height });
    if (bytes === null) return null;
    return Array.from({ length: width * height }, (_, p) => {
      const value = (c: number): number => bytes[p * 4 + c]! / 255;
      return [value(0), value(1), value(2), value(3)];
    });
  }
  const { channels, data } = pixels;
  return Array.from({ length: width * height }, (_, p) => {
    const at = ((y + Math.floor(p / width)) * pixels.width + x + (p % width)) * channels;
    const value = (c: number): number => fromHalf(data[at + c]!);
    const [r, g, b] = channels < 3 ? [value(0), value(0), value(0)] : [value(0), value(1), value(2)];
    return [r, g, b, channels % 2 === 0 ? value(channels - 1) : 1];
  });
}

export interface PixelValues {
  readonly raw: Raw;
  /** Display values, 0 to 1. */
  readonly shown: Colour;
  /** The file holds integers of 8 bits. */
  readonly isBytes: boolean;
}

/** @param under colour of a picture behind it; null where there is none, or it differs from pixel to pixel */
const colourOf = (raw: Raw, painted: Painted, look: Look, under: Colour | null): Colour => {
  // Of the checker neither square: what lies between them.
  const isMixed = look.background === "checker" || (look.background === "picture" && under === null);
  const behind = backgroundAt(isMixed ? "grey" : look.background, under ?? look.backdrop, 0, 0);
  return shownPixel(raw, { ...look, view: painted.view, alpha: painted.alpha }, behind);
};

/** Colour of the picture behind another, under a pixel of that one. */
function colourUnder(
  { wholeWidth, wholeHeight }: LoadedPixels,
  behind: LoadedPixels,
  painter: Painter,
  x: number,
  y: number,
): Colour | null {
  const seen = coverOf({ width: wholeWidth, height: wholeHeight }, behind);
  const at = (part: number, share: number, side: number): number =>
    Math.min(side - 1, Math.max(0, Math.floor((0.5 + (part - 0.5) * share) * side)));
  const raw = rawOf({ pixels: behind }, painter, {
    x: at((x + 0.5) / wholeWidth, seen.x, behind.width),
    y: at((y + 0.5) / wholeHeight, seen.y, behind.height),
    width: 1,
    height: 1,
  })?.[0];
  return raw === undefined ? null : [raw[0], raw[1], raw[2]];
}

/** Of one pixel of the whole picture. @param behind picture of a `picture` background */
export function pixelValues(
  painted: Painted,
  painter: Painter,
  look: Look,
  behind: LoadedPixels | null,
  x: number,
  y: number,
): PixelValues | null {
  const raw = rawOf(painted, painter, { x, y, width: 1, height: 1 })?.[0];
  if (raw === undefined) return null;
  const hasPicture = look.background === "picture" && behind !== null;
  const under = hasPicture ? colourUnder(painted.pixels, behind, painter, x, y) : null;
  return { raw, shown: colourOf(raw, painted, look, under), isBytes: painted.pixels.kind === "bytes" };
}

export interface RegionMeasures {
  /** Mean of the numbers in the file: red, green, blue. */
  readonly mean: Colour;
  /** Grain of what is shown, share of white (Immerkaer 1996); null where the region is too small for it. */
  readonly noise: number | null;
}

/** Noise is measured by squares of three. */
const LEAST_SIDE = 3;

/** Mean and grain of a rectangle. */
export function measureRegion(
  painted: Painted,
  painter: Painter,
  look: Look,
  region: Region,
): RegionMeasures | null {
  const raw = rawOf(painted, painter, region);
  if (raw === null) return null;
  const sum = [0, 0, 0];
  for (const pixel of raw) for (let c = 0; c < 3; c++) sum[c]! += pixel[c]!;
  const over = painted.pixels.wholeWidth / painted.pixels.width;
  const width = Math.max(1, Math.round(region.width / over));
  const height = Math.floor(raw.length / width);
  const shown = Uint8Array.from(
    raw.flatMap((pixel) => colourOf(pixel, painted, look, null)),
    (value) => Math.round(value * 255),
  );
  return {
    mean: [sum[0]! / raw.length, sum[1]! / raw.length, sum[2]! / raw.length],
    noise:
      width < LEAST_SIDE || height < LEAST_SIDE
        ? null
        : noiseOf(rgb8(width, height, shown.subarray(0, width * height * 3))),
  };
}
