/**
 * Where a picture lies in the part of the screen that it is shown in. All lengths are pixels of the screen's buffer, so
 * that one pixel of the picture can be exactly one of the screen; the picture's own are those of its file, whatever is
 * played of it. The same zoom for another picture of the same size shows the same crop.
 */

export interface Size {
  readonly width: number;
  readonly height: number;
}

export interface Zoom {
  /** Pixels of the screen a pixel of the picture; null: as large as fits. */
  readonly factor: number | null;
  /** Part of the picture that stands in the middle, from its left and from its top. */
  readonly x: number;
  readonly y: number;
}

export const FITTED: Zoom = { factor: null, x: 0.5, y: 0.5 };

/** Pixels of the screen a pixel: beyond, lines are drawn between them. */
export const GRID_FROM = 8;
const LEAST = 1 / 64;
const MOST = 64;
/** Left free around a picture that fits. */
const MARGIN = 8;

export interface Placed {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** Whole steps where a picture is smaller than its part: its pixels stay square and alike. */
export function fittingFactor(part: Size, whole: Size): number {
  const fit = Math.min((part.width - 2 * MARGIN) / whole.width, (part.height - 2 * MARGIN) / whole.height);
  return fit >= 1 ? Math.floor(fit) : Math.max(LEAST, fit);
}

export const factorOf = (zoom: Zoom, part: Size, whole: Size): number =>
  zoom.factor ?? fittingFactor(part, whole);

/** Where it would lie between the pixels of the screen. */
function exactPlace(zoom: Zoom, part: Size, whole: Size): Placed {
  const factor = factorOf(zoom, part, whole);
  const [width, height] = [whole.width * factor, whole.height * factor];
  const [x, y] = zoom.factor === null ? [0.5, 0.5] : [zoom.x, zoom.y];
  return { left: part.width / 2 - x * width, top: part.height / 2 - y * height, width, height };
}

/** From the part's corner; it may reach beyond. On whole pixels, or every line would fall between two of the screen. */
export function placeOf(zoom: Zoom, part: Size, whole: Size): Placed {
  const { left, top, ...size } = exactPlace(zoom, part, whole);
  return { left: Math.round(left), top: Math.round(top), ...size };
}

/**
 * How a picture behind another is laid to cover it, its middle on the other's middle and its proportions kept.
 * @returns parts of the one behind that are seen, of its width and of its height; the rest hangs over
 */
export function coverOf(front: Size, behind: Size): { readonly x: number; readonly y: number } {
  const wider = (behind.width * front.height) / (behind.height * front.width);
  return wider > 1 ? { x: 1 / wider, y: 1 } : { x: 1, y: wider };
}

/** Part of the picture under a place of the screen, from its left and top; outside it is below 0 or above 1. */
export function partAt(placed: Placed, x: number, y: number): { readonly x: number; readonly y: number } {
  return { x: (x - placed.left) / placed.width, y: (y - placed.top) / placed.height };
}

/** The picture's pixel there; null beside the picture. */
export function pixelAt(
  placed: Placed,
  whole: Size,
  x: number,
  y: number,
): { readonly x: number; readonly y: number } | null {
  const part = partAt(placed, x, y);
  if (part.x < 0 || part.y < 0 || part.x >= 1 || part.y >= 1) return null;
  return { x: Math.floor(part.x * whole.width), y: Math.floor(part.y * whole.height) };
}

/** Larger or smaller by a factor; what is at (x, y) of the part stays there. */
export function zoomAt(zoom: Zoom, part: Size, whole: Size, x: number, y: number, by: number): Zoom {
  // By the exact place: what is rounded at each step would add up.
  const under = partAt(exactPlace(zoom, part, whole), x, y);
  const factor = Math.min(MOST, Math.max(LEAST, factorOf(zoom, part, whole) * by));
  const [width, height] = [whole.width * factor, whole.height * factor];
  return {
    factor,
    x: (part.width / 2 - (x - under.x * width)) / width,
    y: (part.height / 2 - (y - under.y * height)) / height,
  };
}

/** Moved by so many pixels of the screen. */
export function movedBy(zoom: Zoom, part: Size, whole: Size, dx: number, dy: number): Zoom {
  const { width, height } = placeOf(zoom, part, whole);
  const factor = factorOf(zoom, part, whole);
  const [x, y] = zoom.factor === null ? [0.5, 0.5] : [zoom.x, zoom.y];
  return { factor, x: x - dx / width, y: y - dy / height };
}
