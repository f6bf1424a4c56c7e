/**
 * What is seen of a pixel: the reference that the viewer's shader is held against, and what it counts with itself where
 * a figure is told. In this order:
 *
 *     light    what is not a number becomes 0, what is endless the largest half; straight colours times alpha; times 2^stops
 *     colour   light + what shows through, brought into light, times 1 - alpha
 *     view     the curve of the view
 *     gamma    to the power of 1 / gamma
 *
 * One channel alone has no background: it is that number through view and gamma, alpha as it is.
 */
import type { Alpha } from "../image/file-format";
import { curve, directionShade, nearness, transfer, uncurve, untransfer } from "../image/tone";
import type { Background, ChannelShown, Colour, View } from "./shown-as";

/** With alpha, as it lies in the file. */
export type Raw = readonly [number, number, number, number];

/** Side of a square of the checker, in pixels of the screen. */
export const CHECKER_SIDE = 8;
/** Display values. */
export const SHADES = { dark: 0.4, light: 0.6, grey: 0.5 } as const;
/** Rec. 709. */
export const LUMINANCE: Colour = [0.2126, 0.7152, 0.0722];

export interface PixelLook {
  readonly stops: number;
  readonly gamma: number;
  readonly channel: ChannelShown;
  readonly view: View;
  readonly alpha: Alpha;
}

const clip = (value: number): number => Math.min(1, Math.max(0, value));

/** Light to display values from 0 to 1. */
export const VIEW_CURVE: Readonly<Record<View, (value: number) => number>> = {
  plain: clip,
  srgb: transfer,
  film: (v) => transfer(curve(Math.max(0, v))),
  depth: (v) => clip(nearness(Math.max(0, v))),
  direction: (v) => clip(directionShade(v)),
};

/** Where a background comes in: display values to what the view makes them from. */
export const UNVIEW_CURVE: Readonly<Record<View, (value: number) => number>> = {
  plain: (v) => v,
  srgb: untransfer,
  film: (v) => uncurve(untransfer(v)),
  depth: (v) => v,
  direction: (v) => v,
};

/**
 * @param backdrop of an `own` background
 * @param backdrop of a background of one's own; of a picture its colour at this place
 * @param x and y of the screen, in pixels: the checker stands still while the picture moves
 */
export function backgroundAt(background: Background, backdrop: Colour, x: number, y: number): Colour {
  const grey = (shade: number): Colour => [shade, shade, shade];
  switch (background) {
    case "black":
      return grey(0);
    case "white":
      return grey(1);
    case "grey":
      return grey(SHADES.grey);
    case "own":
    case "picture":
      return backdrop;
    case "checker": {
      const isDark = (Math.floor(x / CHECKER_SIDE) + Math.floor(y / CHECKER_SIDE)) % 2 === 0;
      return grey(isDark ? SHADES.dark : SHADES.light);
    }
  }
}

/** What is endless counts as the largest half: times an alpha of 0 it would be no number. */
const LARGEST = 65_504;

const finite = (value: number): number =>
  Number.isNaN(value) ? 0 : Math.min(LARGEST, Math.max(-LARGEST, value));

/**
 * @param behind display values that show through
 * @returns display values from 0 to 1
 */
export function shownPixel(raw: Raw, look: PixelLook, behind: Colour): Colour {
  const a = look.alpha === "none" ? 1 : clip(finite(raw[3]));
  const gain = 2 ** look.stops * (look.alpha === "straight" ? a : 1);
  const light = [raw[0], raw[1], raw[2]].map((v) => finite(v) * gain) as [number, number, number];
  const view = (v: number): number => Math.pow(VIEW_CURVE[look.view](v), 1 / look.gamma);
  const grey = (value: number): Colour => [value, value, value];
  switch (look.channel) {
    case "red":
      return grey(view(light[0]));
    case "green":
      return grey(view(light[1]));
    case "blue":
      return grey(view(light[2]));
    case "alpha":
      return grey(look.alpha === "none" ? 1 : clip(finite(raw[3])));
    case "luminance":
      return grey(view(light[0] * LUMINANCE[0] + light[1] * LUMINANCE[1] + light[2] * LUMINANCE[2]));
    case "colour": {
      const through = (c: 0 | 1 | 2): number =>
        a === 1 ? light[c] : light[c] + UNVIEW_CURVE[look.view](behind[c]) * (1 - a);
      return [view(through(0)), view(through(1)), view(through(2))];
    }
  }
}

export interface Wipe {
  /** Where its handle is, as parts of the picture's place, from the left and from the top. */
  readonly x: number;
  readonly y: number;
  /** Degrees that the line is turned by; 0 stands upright, with the first picture on its left. */
  readonly degrees: number;
}

/** Whether the first picture is seen at a place. @param dx and dy from the handle, in pixels, to the right and down */
export function isBeforeWipe(degrees: number, dx: number, dy: number): boolean {
  const angle = (degrees * Math.PI) / 180;
  return dx * Math.cos(angle) + dy * Math.sin(angle) < 0;
}

/** By how much two colours differ, channel by channel, times the gain. */
export const shownDifference = (one: Colour, other: Colour, gain: number): Colour => [
  clip(Math.abs(one[0] - other[0]) * gain),
  clip(Math.abs(one[1] - other[1]) * gain),
  clip(Math.abs(one[2] - other[2]) * gain),
];

/** Share of a neighbour in an onion skin; the frame itself has what they leave. */
export const ONION_SHARE = 0.25;

/** The frame with those beside it shining through; a neighbour that there is none of leaves its share to the frame. */
export function shownOnion(own: Colour, neighbours: readonly (Colour | null)[]): Colour {
  const mixed = [0, 1, 2].map((c) => {
    let value = own[c]!;
    for (const neighbour of neighbours)
      if (neighbour !== null) value += (neighbour[c]! - own[c]!) * ONION_SHARE;
    return value;
  });
  return [mixed[0]!, mixed[1]!, mixed[2]!];
}
