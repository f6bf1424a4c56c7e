/**
 * Draw lists of the band. The shape of a stroke tells the result and colour only supports it; the
 * activity is drawn beside it, over whatever the result is.
 * Every function takes plain data and returns marks; nothing here knows a canvas. What a result looks like
 * stands in one place for strokes (drawResult) and in one for columns that stand for many frames
 * (drawColumn).
 */
import type { FrameSet } from "@/core/frames/frame-set";
import { has } from "@/core/frames/frame-set";
import type { Result } from "@/core/tally/tally";
import { activityAt, type BandData, resultAt, worstOf } from "./band-data";
import { type BandLayout, GROUP, OVERVIEW_LINE, overviewSpan, strokeX } from "./layout";
import type { Mark } from "./marks";

/** A clerk's strokes are not ruled: each leans a little, the same way every time. */
function lean(frame: number): { readonly dx: number; readonly dy: number } {
  let h = Math.imul(frame ^ 0x9e3779b9, 0x85ebca6b);
  h ^= h >>> 13;
  return { dx: ((h & 7) - 3.5) * 0.28, dy: (((h >> 3) & 7) - 3.5) * 0.5 };
}

/** Pixels below the base line. */
const LOADED_BELOW = 4;
/** Five digits with a gap: numbers never run into one another. */
const LABEL_PIXELS = 46;

/**
 * Height of the stroke of a partial frame whose share is not known, and how low and high one can be and still
 * be seen as that.
 */
const USUAL_SHARE = 0.5;
const LEAST_SHARE = 0.12;
const MOST_SHARE = 0.88;

/**
 * One stroke with the shape of its result, between y `top` and `base`. @param share of a partial frame's
 * samples that is there, 0 to 1
 */
function drawResult(
  marks: Mark[],
  result: Result,
  x: number,
  top: number,
  base: number,
  thick: number,
  dx: number,
  share = USUAL_SHARE,
): void {
  const height = base - top;
  const line = (
    ink: "ink" | "softInk" | "brick" | "ochre" | "plum",
    x1: number,
    y1: number,
    x2: number,
    y2: number,
    width = thick,
  ): void => void marks.push({ kind: "line", ink, x1, y1, x2, y2, width });
  switch (result) {
    case "good":
      line("ink", x, base, x + dx, top);
      break;
    case "missing":
      marks.push({ kind: "dot", ink: "ink", x, y: base - 3, r: Math.max(1.2, Math.min(2.4, thick * 0.8)) });
      break;
    case "partial": {
      // As much of a stroke as there is of the frame; its top is open, like a cup.
      const end = base - height * Math.max(LEAST_SHARE, Math.min(MOST_SHARE, share));
      line("ochre", x, base, x, end);
      line("ochre", x, end, x - thick * 1.2, end - 5, Math.max(1, thick * 0.6));
      line("ochre", x, end, x + thick * 1.2, end - 5, Math.max(1, thick * 0.6));
      break;
    }
    case "failed":
      line("brick", x, base, x, base - height * 0.38);
      line("brick", x + dx, top, x + dx, top + height * 0.38);
      break;
    case "flagged":
      line("ink", x, base, x + dx, top);
      line(
        "brick",
        x - thick * 2,
        base - height * 0.22,
        x + thick * 2,
        top + height * 0.22,
        Math.max(1.5, thick * 0.8),
      );
      break;
    case "stale":
      marks.push({
        kind: "outline",
        ink: "plum",
        x: x - thick * 0.6,
        y: top,
        w: thick * 1.2,
        h: height - 0.5,
        width: 1,
      });
      break;
    case "unchecked":
      line("ink", x, base, x + dx, top, Math.max(0.8, thick * 0.3));
      break;
    case "extra":
      line("softInk", x, base + 2, x, base + 10);
  }
}

export interface StrokesView {
  readonly data: BandData;
  /** Where things stand, in CSS pixels. */
  readonly layout: BandLayout;
  readonly selection: FrameSet;
  /** Outlined; null before anything was pointed at. */
  readonly focus: number | null;
  /** Share done of each rendering frame, 0 to 1. */
  readonly progress: ReadonlyMap<number, number>;
  /** Share that is there of a frame that was begun, 0 to 1; null where nothing is known. */
  readonly savedShare: (frame: number) => number | null;
  /** Pictures that the viewer has in memory: ruled off under their strokes. */
  readonly loaded?: FrameSet | null;
}

/** Strokes of the window with selection, focus, activity and numbers. */
export function drawStrokes({
  data,
  layout,
  selection,
  focus,
  progress,
  savedShare,
  loaded = null,
}: StrokesView): Mark[] {
  const marks: Mark[] = [];
  const { window, pitch, strokeTop, headTop, base } = layout;
  const thick = Math.max(1, Math.min(3.4, pitch * 0.32));
  marks.push({ kind: "box", ink: "rule", x: 0, y: base, w: layout.width, h: 1 });
  let lastLabelEnd = -Infinity;
  for (let i = 0; i < window.count; i++) {
    const position = window.start + i;
    const frame = data.index.frameAt(position);
    if (frame === null) break;
    const x = strokeX(layout, position);
    const { dx, dy } = lean(frame);
    if (has(selection, frame)) {
      marks.push({
        kind: "box",
        ink: "petrol",
        x: x - pitch / 2,
        y: headTop,
        w: pitch,
        h: base - headTop,
        alpha: 0.13,
      });
      marks.push({ kind: "box", ink: "petrol", x: x - pitch / 2, y: base, w: pitch, h: 2.5 });
    }
    drawResult(
      marks,
      resultAt(data, position),
      x,
      strokeTop + dy + 2,
      base,
      thick,
      dx,
      savedShare(frame) ?? USUAL_SHARE,
    );
    drawActivity(marks, activityAt(data, position), x, layout, thick, progress.get(frame) ?? 0);
    if (loaded !== null && has(loaded, frame))
      marks.push({ kind: "box", ink: "ink", x: x - pitch / 2, y: base + LOADED_BELOW, w: pitch, h: 1.2 });
    if (frame === focus)
      marks.push({
        kind: "outline",
        ink: "petrol",
        x: x - pitch / 2,
        y: headTop + 1,
        w: pitch,
        h: base + 11 - headTop,
        width: 1.5,
      });
    if (
      (position % GROUP === 0 || i === 0) &&
      x - pitch / 2 > lastLabelEnd &&
      x + LABEL_PIXELS < layout.width + 12
    ) {
      marks.push({
        kind: "text",
        ink: "softInk",
        x: x - pitch / 2,
        y: layout.numbersBase,
        text: String(frame),
        align: "left",
      });
      lastLabelEnd = x - pitch / 2 + LABEL_PIXELS;
    }
  }
  return marks;
}

/** Above the stroke what waits or is checked, beside it what renders: the result stays to be seen. */
function drawActivity(
  marks: Mark[],
  activity: ReturnType<typeof activityAt>,
  x: number,
  layout: BandLayout,
  thick: number,
  share: number,
): void {
  const { strokeTop, headTop, base } = layout;
  if (activity === "waiting")
    marks.push({ kind: "line", ink: "softInk", x1: x, y1: headTop + 2, x2: x, y2: headTop + 8, width: 1.4 });
  else if (activity === "checking")
    marks.push({ kind: "ring", ink: "petrol", x, y: headTop + 6, r: 3, width: 1.4 });
  else if (activity === "rendering") {
    const beside = x + Math.max(2.5, thick * 1.3);
    marks.push({
      kind: "line",
      ink: "petrol",
      x1: beside,
      y1: base,
      x2: beside,
      y2: base - Math.max(3, share * (base - strokeTop)),
      width: Math.max(2, thick),
    });
  }
}

/** How a column that stands for many frames is drawn: height and break tell the result without colour. */
function drawColumn(marks: Mark[], result: Result, x: number, w: number, top: number, height: number): void {
  const box = (ink: "ink" | "softInk" | "brick" | "ochre" | "plum", from: number, to: number): void =>
    void marks.push({ kind: "box", ink, x, y: top + height * (1 - to), w, h: height * (to - from) });
  switch (result) {
    case "good":
      return box("ink", 0.12, 0.88);
    case "flagged":
      return box("brick", 0, 1);
    case "failed":
      box("brick", 0, 0.36);
      return box("brick", 0.64, 1);
    case "missing":
      return box("ink", 0, 0.14);
    case "partial":
      return box("ochre", 0, 0.5);
    case "stale":
      box("plum", 0.12, 0.24);
      return box("plum", 0.76, 0.88);
    case "unchecked":
      return box("softInk", 0.4, 0.6);
    case "extra":
      return box("softInk", 0, 0.3);
  }
}

/** Below this distance strokes merge and the worst in a pixel shows. */
const MERGE_BELOW = 3;

/** A whole sequence in one line: single small strokes where there is room, else pixel columns. */
export function drawLine(data: BandData, width: number, height: number): Mark[] {
  const marks: Mark[] = [];
  const total = data.index.count;
  if (total === 0) return marks;
  const pitch = width / total;
  if (pitch >= MERGE_BELOW) {
    const thick = Math.min(2.4, pitch * 0.4);
    for (let i = 0; i < total; i++) {
      const x = (i + 0.5) * pitch;
      drawResult(marks, resultAt(data, i), x, 3, height - 4, thick, 0);
      const activity = activityAt(data, i);
      if (activity === "waiting")
        marks.push({ kind: "line", ink: "softInk", x1: x, y1: 0, x2: x, y2: 2, width: 1 });
      else if (activity !== "idle")
        marks.push({
          kind: "box",
          ink: "petrol",
          x: x + thick * 0.7,
          y: 3,
          w: Math.max(1.2, thick),
          h: height - 7,
        });
    }
    return marks;
  }
  // Equal neighbours make one box: a calm sequence of 100,000 frames is a handful of marks.
  let from = 0;
  let shown: Result | null = null;
  const columns = Math.floor(width);
  for (let x = 0; x <= columns; x++) {
    const result = x < columns ? worstOf(data, ...overviewSpan(columns, total, x)) : null;
    if (result === shown) continue;
    if (shown !== null) drawColumn(marks, shown, from, x - from, 0, height);
    from = x;
    shown = result;
  }
  return marks;
}

/** The window's frame on the overview line. */
export function drawWindowMark(layout: BandLayout, total: number): Mark[] {
  const x = (layout.window.start / total) * layout.width;
  const w = Math.max(6, (layout.window.count / total) * layout.width);
  return [
    { kind: "box", ink: "petrol", x, y: 0, w, h: OVERVIEW_LINE, alpha: 0.16 },
    { kind: "outline", ink: "petrol", x: x + 0.75, y: 0.75, w: w - 1.5, h: OVERVIEW_LINE - 1.5, width: 1.5 },
  ];
}
