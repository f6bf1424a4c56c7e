/**
 * Where things stand on the band. Pure numbers; the canvas, the DOM grid behind it, hit tests and
 * the benchmark share this.
 *
 *     y 0    ┌ overview line (long sequences only), OVERVIEW_HEIGHT with its margin
 *            ├ room for activity above the strokes, HEAD
 *            │ strokes, STROKE
 *            ├ base line
 *            │ room for extra strokes, FOOT
 *            ├ numbers, NUMBERS
 *            └ lanes, one LANE each
 *
 * The window is a stretch of positions; its strokes stand in groups of ten with a gap between groups.
 */

export interface BandWindow {
  /** Position of the first stroke shown. */
  readonly start: number;
  /** How many are shown. */
  readonly count: number;
}

/** Up to so many frames a sequence is all strokes and needs no overview. */
const ALL_STROKES = 120;
/** Fewer would be larger than their shapes need. */
const FEWEST_IN_WINDOW = 20;
/** Beyond it strokes get thinner than their shapes can be told. */
export const MOST_IN_WINDOW = 240;
/** What a long sequence begins with. */
const USUAL_IN_WINDOW = 100;
/** Strokes between two gaps: tens can be counted at a glance. */
export const GROUP = 10;
/** Gap between groups, in strokes. */
const GAP = 0.9;

/** Height of the line that shows the whole of a long sequence. */
export const OVERVIEW_LINE = 22;
const OVERVIEW_HEIGHT = OVERVIEW_LINE + 8;
/** CSS pixels, as all heights here. */
const HEAD = 10;
/** Without lanes there is room for strokes that are seen from afar. */
const STROKE = 62;
/** With lanes open the strokes stand lower: the bench needs the room. */
const STROKE_WITH_LANES = 42;
/** Extra strokes stand below the base line. */
const FOOT = 12;
const NUMBERS = 16;
/** Height of a lane. */
export const LANE = 20;

export interface BandLayout {
  /** CSS pixels. */
  readonly width: number;
  readonly window: BandWindow;
  readonly hasOverview: boolean;
  /** Distance of neighbouring strokes in pixels. */
  readonly pitch: number;
  /** Where activity is drawn. */
  readonly headTop: number;
  readonly strokeTop: number;
  /** The line that strokes stand on. */
  readonly base: number;
  /** Base line of the numbers' type. */
  readonly numbersBase: number;
  readonly lanesTop: number;
  /** Of the whole canvas. */
  readonly height: number;
}

/** Whether the whole does not fit as single strokes. */
export const hasOverview = (total: number): boolean => total > ALL_STROKES;

/** What a long sequence shows first: its beginning. */
export function firstWindow(total: number): BandWindow {
  return { start: 0, count: hasOverview(total) ? USUAL_IN_WINDOW : total };
}

/** Keeps a window inside the sequence and its width inside the limits. */
export function clampWindow(window: BandWindow, total: number): BandWindow {
  if (!hasOverview(total)) return { start: 0, count: total };
  const count = Math.min(
    total,
    Math.max(FEWEST_IN_WINDOW, Math.min(MOST_IN_WINDOW, Math.round(window.count))),
  );
  return { start: Math.max(0, Math.min(total - count, Math.round(window.start))), count };
}

/** Zooms about a position: it stays where it is on the screen. */
export function zoomWindow(window: BandWindow, factor: number, about: number, total: number): BandWindow {
  const { count } = clampWindow({ start: 0, count: window.count * factor }, total);
  const share = window.count === 0 ? 0 : (about - window.start) / window.count;
  return clampWindow({ start: about - share * count, count }, total);
}

/** Moves the window just so far that a position is inside, with a few strokes of margin. */
export function windowAround(window: BandWindow, position: number, total: number): BandWindow {
  const margin = Math.min(5, Math.floor(window.count / 4));
  if (position < window.start + margin) return clampWindow({ ...window, start: position - margin }, total);
  if (position >= window.start + window.count - margin)
    return clampWindow({ ...window, start: position - window.count + 1 + margin }, total);
  return window;
}

/** Gaps between the window's first stroke and this one. */
const gapsBefore = (window: BandWindow, position: number): number =>
  Math.floor(position / GROUP) - Math.floor(window.start / GROUP);

/**
 * @param width CSS pixels
 * @param total positions of the whole sequence
 * @param lanes how many are open; strokes get lower for them
 */
export function layoutBand(width: number, window: BandWindow, total: number, lanes: number): BandLayout {
  const gaps = window.count === 0 ? 0 : gapsBefore(window, window.start + window.count - 1);
  const overview = hasOverview(total);
  const headTop = overview ? OVERVIEW_HEIGHT : 0;
  const strokeTop = headTop + HEAD;
  const base = strokeTop + (lanes === 0 ? STROKE : STROKE_WITH_LANES);
  const lanesTop = base + FOOT + NUMBERS + 4;
  return {
    width,
    window,
    hasOverview: overview,
    pitch: width / Math.max(1, window.count + gaps * GAP),
    headTop,
    strokeTop,
    base,
    numbersBase: base + FOOT + NUMBERS - 4,
    lanesTop,
    height: lanesTop + lanes * LANE,
  };
}

/** Middle of a position's stroke. */
export const strokeX = (layout: BandLayout, position: number): number =>
  (position - layout.window.start + gapsBefore(layout.window, position) * GAP + 0.5) * layout.pitch;

/** Position of the stroke nearest to x, inside the window. */
export function positionAt(layout: BandLayout, x: number): number {
  const { start, count } = layout.window;
  let low = start;
  let high = start + count - 1;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((strokeX(layout, mid) + strokeX(layout, mid + 1)) / 2 < x) low = mid + 1;
    else high = mid;
  }
  return low;
}

/** Positions that share pixel column x of the overview line: [from, to), at least one. */
export function overviewSpan(width: number, total: number, x: number): readonly [number, number] {
  const from = Math.min(total - 1, Math.floor((x * total) / width));
  return [from, Math.max(from + 1, Math.min(total, Math.floor(((x + 1) * total) / width)))];
}
