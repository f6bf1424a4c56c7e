/** How several pictures share the screen, and where each pane of it lies. Plain data in, plain data out. */
import type { Size } from "@/core/playback/zoom";
import { placeOf, type Zoom } from "@/core/playback/zoom";
import type { Painted, Pane, Rectangle } from "./gl/painter";

/**
 *     wipe        two in one place, with a line between them that can be moved and turned
 *     beside      two to four, each in a part of its own
 *     blink       one after the other in the same place
 *     difference  by how much two differ, times a gain
 */
export const ARRANGEMENTS = ["wipe", "beside", "blink", "difference"] as const;
export type Arrangement = (typeof ARRANGEMENTS)[number];

/** Pictures side by side at most. */
export const MOST_LAYERS = 4;
/** Between two parts, in pixels of the screen. */
const GAP = 2;

/** Parts of the screen for so many pictures: two beside one another, three and four in two rows. */
export function partsOf(count: number, { width, height }: Size): readonly Rectangle[] {
  if (count <= 1) return [{ left: 0, top: 0, width, height }];
  const columns = 2;
  const rows = count > 2 ? 2 : 1;
  const w = Math.floor((width - GAP * (columns - 1)) / columns);
  const h = Math.floor((height - GAP * (rows - 1)) / rows);
  return Array.from({ length: count }, (_, i) => ({
    left: (i % columns) * (w + GAP),
    top: Math.floor(i / columns) * (h + GAP),
    width: w,
    height: h,
  }));
}

/** Width and height of what the file of a layer holds; null while nothing is known. */
export const wholeOf = (painted: Painted | null): Size | null =>
  painted === null ? null : { width: painted.pixels.wholeWidth, height: painted.pixels.wholeHeight };

export interface PanesAsked {
  /** One for each layer; null where nothing is there. */
  readonly layers: readonly (Painted | null)[];
  /** The second and the third layer are the frames before and after the first. */
  readonly isOnion: boolean;
  readonly arrangement: Arrangement;
  readonly zoom: Zoom;
  readonly screen: Size;
  /** Which one blinks up now. */
  readonly blinkLayer: number;
  /** Of a picture, while none is loaded: what was on show before keeps its place. */
  readonly usual: Size;
}

/** The same crop for all: each lies in its part as the first does in its own. */
export function panesOf({
  layers,
  isOnion,
  arrangement,
  zoom,
  screen,
  blinkLayer,
  usual,
}: PanesAsked): readonly Pane[] {
  const whole = layers.map(wholeOf).find((size) => size !== null) ?? usual;
  const alone = (painted: Painted | null, part: Rectangle): Pane => ({
    part,
    place: placeOf(zoom, part, wholeOf(painted) ?? whole),
    a: painted,
    b: null,
    c: null,
    meeting: "one",
  });
  const [all] = partsOf(1, screen);
  if (isOnion)
    return [
      { ...alone(layers[0] ?? null, all!), b: layers[1] ?? null, c: layers[2] ?? null, meeting: "onion" },
    ];
  if (layers.length < 2) return [alone(layers[0] ?? null, all!)];
  switch (arrangement) {
    case "beside":
      return partsOf(layers.length, screen).map((part, i) => alone(layers[i] ?? null, part));
    case "blink":
      return [alone(layers[blinkLayer % layers.length] ?? null, all!)];
    case "wipe":
    case "difference":
      return [
        {
          part: all!,
          place: placeOf(zoom, all!, whole),
          a: layers[0] ?? null,
          b: layers[1] ?? null,
          c: null,
          meeting: arrangement,
        },
      ];
  }
}
