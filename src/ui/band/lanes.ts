/** Lanes beneath the strokes: measures as thin lines, who made each frame as letters, markers as names. */
import { firstOf, type FrameSet, has, lastOf, intersection } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { FilesByFrame } from "../live/files-by-frame";
import { count, duration, size } from "../words";
import type { BandData } from "./band-data";
import { type BandLayout, LANE, strokeX } from "./layout";
import type { Mark } from "./marks";
import type { MeasureColumns } from "@/contract/measure-columns";
import { FrameIndex } from "@/core/frames/frame-index";
import { unpackSet } from "@/core/tally/packed";

/** In the order in which they stand; the shot page remembers which are open. */
export const LANE_NAMES = [
  "seconds",
  "brightness",
  "grain",
  "change",
  "black",
  "white",
  "hot pixels",
  "file size",
  "samples",
  "made by",
  "markers",
  "sound",
  "the edit uses",
  "odd",
] as const;
/** As the figures at the band's right end call it. */
export type LaneName = (typeof LANE_NAMES)[number];

/** Those of what only a look at all pixels tells: it is asked for while one of them is open. */
export const MEASURED_LANES: readonly LaneName[] = ["change", "black", "white", "hot pixels"];

/** What lanes are drawn from; an absent measure leaves a gap, never a zero. */
export interface LaneSource {
  readonly files: FilesByFrame;
  readonly markers: Readonly<Record<string, FrameSet>>;
  readonly used: FrameSet | null;
  readonly sound: SoundLane | null;
  /** Frames that are odd among their neighbours and that nobody has judged; left out: nobody asked. */
  readonly odd?: FrameSet | null;
  /** Left out: nobody asked, or it is not there yet. */
  readonly measures?: MeasureColumns | null;
}

/** How loud the shot's sound is at each frame. */
export interface SoundLane {
  /** Of its file, or why it cannot be heard. */
  readonly name: string;
  /** Of the number of a file: 0 to 1; null where there is no sound. */
  readonly loudness: (frame: number) => number | null;
}

/** A measure, and which frame each of its values is of. */
interface Column {
  readonly values: readonly (number | null)[];
  readonly index: FrameIndex;
}

/** The measure of a lane; null for lanes that are no measure. */
function columnOf(lane: LaneName, { files, measures }: LaneSource): Column | null {
  const ofFiles = (values: Column["values"]): Column => ({ values, index: files.index });
  const ofPictures = (pick: (columns: MeasureColumns) => Column["values"]): Column =>
    measures == null
      ? ofFiles([])
      : { values: pick(measures), index: new FrameIndex(unpackSet(measures.frames)) };
  switch (lane) {
    case "seconds":
      return ofFiles(files.columns.seconds);
    case "brightness":
      return ofFiles(files.columns.luminance);
    case "grain":
      return ofFiles(files.columns.noise);
    case "file size":
      return ofFiles(files.columns.bytes);
    case "samples":
      return ofFiles(files.columns.samples);
    case "change":
      return ofPictures(({ change }) => change);
    case "black":
      return ofPictures(({ black }) => black);
    case "white":
      return ofPictures(({ clipped }) => clipped);
    case "hot pixels":
      return ofPictures(({ hot }) => hot);
    default:
      return null;
  }
}

/** Least and greatest value of a measure over the whole sequence, or null without any. */
function rangeOf(values: readonly (number | null)[]): readonly [number, number] | null {
  let low = Infinity;
  let high = -Infinity;
  for (const value of values) {
    if (value === null) continue;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return low === Infinity ? null : [low, high];
}

const IN_PERCENT: readonly LaneName[] = ["grain", "change", "black", "white"];

/** The figures at the end of a lane, with their unit. */
export function laneFigures(lane: LaneName, source: LaneSource): string {
  const { files, used, sound, odd } = source;
  if (lane === "odd") return odd == null || odd.count === 0 ? "none" : formatPhrase(odd);
  if (lane === "sound") return sound?.name ?? "";
  if (lane === "the edit uses") return used === null || used.count === 0 ? "nothing" : formatPhrase(used);
  if (lane === "made by") return files.columns.nodes.map((node, i) => `${nodeLetter(i)} ${node}`).join(", ");
  const column = columnOf(lane, source);
  if (column === null) return "";
  const range = rangeOf(column.values);
  if (range === null) return "no figures yet";
  if (lane === "samples" || lane === "hot pixels")
    return range[0] === range[1] ? count(range[0]) : `${count(range[0])} to ${count(range[1])}`;
  if (lane === "file size") return `${size(range[0])} to ${size(range[1])}`;
  if (IN_PERCENT.includes(lane))
    return `${(range[0] * 100).toFixed(2)} % to ${(range[1] * 100).toFixed(2)} %`;
  return lane === "seconds"
    ? `${duration(range[0])} to ${duration(range[1])}`
    : `${range[0].toFixed(2)} to ${range[1].toFixed(2)}`;
}

/**
 * Letters for nodes, in the order of their names: names of one studio begin alike, so their own letters would
 * not tell them apart.
 */
export const nodeLetter = (position: number): string =>
  position < 26 ? String.fromCharCode(97 + position) : "?";

/** One line on the scale of the whole sequence, not of the window: a window of calm frames looks calm. */
function drawMeasure(
  marks: Mark[],
  { values, index }: Column,
  data: BandData,
  layout: BandLayout,
  top: number,
): void {
  const range = rangeOf(values);
  if (range === null) return;
  const [low, high] = range;
  const span = high - low || 1;
  let points: number[] = [];
  const flush = (): void => {
    if (points.length === 2)
      marks.push({ kind: "dot", ink: "softInk", x: points[0]!, y: points[1]!, r: 1.2 });
    else if (points.length > 2) marks.push({ kind: "curve", ink: "softInk", points, width: 1.2 });
    points = [];
  };
  for (let i = 0; i < layout.window.count; i++) {
    const position = layout.window.start + i;
    const file = index.positionOf(data.index.frameAt(position) ?? NaN);
    const value = file === null ? null : (values[file] ?? null);
    if (value === null) flush();
    else points.push(strokeX(layout, position), top + 4 + (1 - (value - low) / span) * (LANE - 8));
  }
  flush();
}

/** Pixels a letter takes. Where strokes stand closer, not every change finds room. */
const LETTER = 8;

/** A letter where the maker changes and a faint line while it stays. */
function drawMakers(
  marks: Mark[],
  source: LaneSource,
  data: BandData,
  layout: BandLayout,
  top: number,
): void {
  let shown = -2;
  let letterEnd = -Infinity;
  for (let i = 0; i < layout.window.count; i++) {
    const position = layout.window.start + i;
    const file = source.files.index.positionOf(data.index.frameAt(position) ?? NaN);
    const node = file === null ? -2 : source.files.columns.node[file]!;
    const x = strokeX(layout, position);
    if (node !== shown && node >= 0 && x - LETTER / 2 >= letterEnd) {
      marks.push({ kind: "text", ink: "softInk", x, y: top + 14, text: nodeLetter(node), align: "center" });
      letterEnd = x + LETTER / 2;
    } else if (node >= 0)
      marks.push({
        kind: "box",
        ink: "rule",
        x: x - layout.pitch * 0.3,
        y: top + 10,
        w: layout.pitch * 0.6,
        h: 1.5,
      });
    shown = node;
  }
}

/** A dot at each. */
function drawOdd(marks: Mark[], odd: FrameSet, data: BandData, layout: BandLayout, top: number): void {
  for (let i = 0; i < layout.window.count; i++) {
    const position = layout.window.start + i;
    const frame = data.index.frameAt(position);
    if (frame !== null && has(odd, frame))
      marks.push({ kind: "dot", ink: "brick", x: strokeX(layout, position), y: top + LANE / 2, r: 2.5 });
  }
}

/** A bracket from a stretch's first frame to its last, with its name. */
function drawMarkers(
  marks: Mark[],
  source: LaneSource,
  data: BandData,
  layout: BandLayout,
  top: number,
): void {
  for (const [name, set] of Object.entries(source.markers)) {
    const span = spanOf(set, data, layout);
    if (span === null) continue;
    marks.push({ kind: "box", ink: "softInk", x: span.left, y: top + 4, w: span.right - span.left, h: 1 });
    marks.push({ kind: "box", ink: "softInk", x: span.left, y: top + 4, w: 1, h: 5 });
    marks.push({ kind: "text", ink: "softInk", x: span.left + 4, y: top + 16, text: name, align: "left" });
  }
}

/** Where the frames from a set's first to its last lie in the window, or null where none does. */
function spanOf(
  set: FrameSet,
  data: BandData,
  layout: BandLayout,
): { readonly left: number; readonly right: number } | null {
  const { start, count } = layout.window;
  // What none of the shown frames is in lies nowhere: the nearest place would be the band's end.
  const shown = intersection(set, data.index.set);
  const [first, last] = [firstOf(shown), lastOf(shown)];
  const from = first === null ? null : data.index.nearestPosition(first);
  const to = last === null ? null : data.index.nearestPosition(last);
  if (from === null || to === null || to < start || from >= start + count) return null;
  return {
    left: strokeX(layout, Math.max(from, start)) - layout.pitch * 0.4,
    right: strokeX(layout, Math.min(to, start + count - 1)) + layout.pitch * 0.4,
  };
}

/** A bar a frame, to both sides of the middle; silence is a thin line, and no sound is nothing. */
function drawSound(marks: Mark[], sound: SoundLane, data: BandData, layout: BandLayout, top: number): void {
  const w = Math.max(1, layout.pitch * 0.6);
  for (let i = 0; i < layout.window.count; i++) {
    const position = layout.window.start + i;
    const frame = data.index.frameAt(position);
    const loud = frame === null ? null : sound.loudness(frame);
    if (loud === null) continue;
    const h = Math.max(1, loud * (LANE - 4));
    marks.push({
      kind: "box",
      ink: "softInk",
      x: strokeX(layout, position) - w / 2,
      y: top + (LANE - h) / 2,
      w,
      h,
    });
  }
}

/** A thick line under every stretch that the edit uses. */
function drawUsed(marks: Mark[], used: FrameSet, data: BandData, layout: BandLayout, top: number): void {
  for (const run of used.runs) {
    const span = spanOf({ runs: [run], count: 1 }, data, layout);
    if (span !== null)
      marks.push({ kind: "box", ink: "ink", x: span.left, y: top + 8, w: span.right - span.left, h: 3 });
  }
}

/**
 * One value a position, or the worst of a stretch where positions share a pixel: a single slow or bright
 * frame is never averaged away.
 */
export function drawLanes(
  lanes: readonly LaneName[],
  source: LaneSource,
  data: BandData,
  layout: BandLayout,
): Mark[] {
  const marks: Mark[] = [];
  lanes.forEach((lane, i) => {
    const top = layout.lanesTop + i * LANE;
    const column = columnOf(lane, source);
    if (column !== null) drawMeasure(marks, column, data, layout, top);
    else if (lane === "made by") drawMakers(marks, source, data, layout, top);
    else if (lane === "sound") drawSound(marks, source.sound!, data, layout, top);
    else if (lane === "odd") drawOdd(marks, source.odd!, data, layout, top);
    else if (lane === "the edit uses") drawUsed(marks, source.used!, data, layout, top);
    else drawMarkers(marks, source, data, layout, top);
  });
  return marks;
}
