/**
 * Whole pictures as they are seen, for movies and copies: the arithmetic of core/playback/shown-pixel over arrays, with
 * the curve of the view read from a table of half floats. Light is brought to halves for that: a step of one is far below
 * one of 255.
 *
 *     behind given   what shows through is brought into light and mixed in; no alpha comes out
 *     behind null    colour without alpha's weight (straight) and alpha, each as it is
 */
import { fromHalf, toHalf } from "../image/half";
import { type Alpha } from "../image/file-format";
import { type FloatImage, hasAlpha, type IntegerImage } from "../image/pixels";
import type { Colour, View } from "../playback/shown-as";
import { UNVIEW_CURVE, VIEW_CURVE } from "../playback/shown-pixel";

/** Rows from the top, red, green, blue, and alpha where it is kept. */
export type SeenPicture = { readonly width: number; readonly height: number; readonly channels: 3 | 4 } & (
  | { readonly depth: 8; readonly data: Uint8Array<ArrayBuffer> }
  | { readonly depth: 16; readonly data: Uint16Array<ArrayBuffer> }
);

export interface Composition {
  readonly view: View;
  readonly alpha: Alpha;
  /** Doublings of the values, before the view. */
  readonly stops: number;
  /** Display values that show through: one colour, or a picture of the same size; null: alpha is kept. */
  readonly behind: Colour | SeenPicture | null;
  readonly depth: 8 | 16;
}

const HALVES = 65_536;
/** What is endless counts as the largest half, as in the reference. */
const LARGEST = 65_504;

const tables = new Map<View, Float32Array>();
/** Display value of every half. */
function tableOf(view: View): Float32Array {
  const known = tables.get(view);
  if (known !== undefined) return known;
  const curve = VIEW_CURVE[view];
  const table = Float32Array.from({ length: HALVES }, (_, half) => {
    const value = fromHalf(half);
    return curve(Number.isNaN(value) ? 0 : Math.min(LARGEST, Math.max(-LARGEST, value)));
  });
  tables.set(view, table);
  return table;
}

const isColour = (behind: Colour | SeenPicture): behind is Colour => Array.isArray(behind);

const topOf = (depth: 8 | 16): number => (depth === 8 ? 255 : 65_535);

/** Display value of a channel of what is behind. */
function behindAt(behind: Colour | SeenPicture): (pixel: number, c: 0 | 1 | 2) => number {
  if (isColour(behind)) return (_, c) => behind[c];
  const { data, channels } = behind;
  const top = topOf(behind.depth);
  return (pixel, c) => data[pixel * channels + c]! / top;
}

/** @throws RangeError where the picture behind has another size: whoever calls has brought it to this one */
export function compose(picture: FloatImage | IntegerImage, how: Composition): SeenPicture {
  const { width, height, channels, data } = picture;
  const { behind } = how;
  if (behind !== null && !isColour(behind) && (behind.width !== width || behind.height !== height))
    throw new RangeError("the picture behind has another size");
  const scale = "depth" in picture ? 1 / topOf(picture.depth) : 1;
  const gain = 2 ** how.stops * scale;
  const top = topOf(how.depth);
  const isPlain = how.view === "plain";
  const table = tableOf(how.view);
  const seen = (light: number): number =>
    isPlain ? (light > 0 ? (light < 1 ? light : 1) : 0) : table[toHalf(light)]!;
  const unview = UNVIEW_CURVE[how.view];
  const through = behind === null ? null : behindAt(behind);
  const takesAlpha = how.alpha !== "none" && hasAlpha(channels);
  const isStraight = how.alpha === "straight";
  const isGrey = channels < 3;
  const outChannels = behind === null ? 4 : 3;
  const out =
    how.depth === 8
      ? new Uint8Array(width * height * outChannels)
      : new Uint16Array(width * height * outChannels);
  for (
    let pixel = 0, from = 0, to = 0;
    pixel < width * height;
    pixel++, from += channels, to += outChannels
  ) {
    const raw = takesAlpha ? data[from + channels - 1]! * scale : 1;
    const a = raw > 0 ? (raw < 1 ? raw : 1) : 0;
    for (let c: 0 | 1 | 2 = 0; c < 3; c++) {
      let light = data[isGrey ? from : from + c]! * gain;
      if (through === null) {
        // Without its weight again, so that colour and alpha can be read apart.
        if (takesAlpha && !isStraight) light = a === 0 ? 0 : light / a;
      } else {
        if (takesAlpha && isStraight) light *= a;
        if (a < 1) light += unview(through(pixel, c as 0 | 1 | 2)) * (1 - a);
      }
      out[to + c] = Math.round(seen(light) * top);
    }
    if (through === null) out[to + 3] = Math.round(a * top);
  }
  return { width, height, channels: outChannels, depth: how.depth, data: out } as SeenPicture;
}

/** Darkens what is behind a text by this share, so that it can be read on any picture. */
const SHADE = 0.6;

/**
 * Puts a text into a picture, in place.
 * @param text coverage of its letters, 0 to 255, and @param box where it stands; the box is shaded
 */
export function burnIn(
  picture: SeenPicture,
  text: Uint8Array,
  box: { readonly left: number; readonly top: number; readonly width: number; readonly height: number },
): void {
  const { width, height, channels, data } = picture;
  const top = topOf(picture.depth);
  for (let y = 0; y < box.height; y++) {
    const line = box.top + y;
    if (line < 0 || line >= height) continue;
    for (let x = 0; x < box.width; x++) {
      const column = box.left + x;
      if (column < 0 || column >= width) continue;
      const covered = text[y * box.width + x]! / 255;
      const at = (line * width + column) * channels;
      for (let c = 0; c < 3; c++)
        data[at + c] = Math.round(data[at + c]! * (1 - SHADE) * (1 - covered) + top * covered);
      // What is written is there, also where the picture is transparent.
      if (channels === 4) data[at + 3] = Math.max(data[at + 3]!, Math.round(top * Math.max(SHADE, covered)));
    }
  }
}
