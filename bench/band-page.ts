/**
 * In the browser: redraws of the band while panning and zooming over 100,000 frames, each up to the last
 * pixel.
 */
import { rangeSet, setOf } from "@/core/frames/frame-set";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { makeBandData } from "@/ui/band/band-data";
import { drawLine, drawStrokes, drawWindowMark } from "@/ui/band/draw";
import { drawLanes, LANE_NAMES } from "@/ui/band/lanes";
import { type BandWindow, clampWindow, layoutBand, OVERVIEW_LINE, zoomWindow } from "@/ui/band/layout";
import { paint } from "@/ui/band/marks";
import { FilesByFrame } from "@/ui/live/files-by-frame";
import type { Palette } from "@/ui/theme/ink";

const FRAMES = 100_000;
const REDRAWS = 300;
const WIDTH = 1120;
const INK = "#20272B";
const palette: Palette = {
  paper: INK,
  sheet: INK,
  rule: "#D9D3C5",
  ink: INK,
  softInk: "#5C6264",
  petrol: "#0E5A63",
  onPetrol: INK,
  brick: "#A4372A",
  ochre: "#8F6200",
  plum: "#6B4778",
  surround: INK,
  onSurround: INK,
};

function measure(): { readonly redraws: number[]; readonly fills: number[] } {
  const asked = rangeSet(1, FRAMES);
  const every = (n: number, offset: number) => rangeSet(offset, FRAMES, n);
  const tally = deriveTally({
    ...NO_FACTS,
    asked,
    files: rangeSet(1, 80_000),
    rejected: every(97, 11),
    otherLook: every(89, 40),
    unlooked: every(71, 7),
    lastAttemptFailed: rangeSet(80_100, FRAMES, 53),
    waiting: rangeSet(90_001, FRAMES),
    rendering: setOf([50, 80_001, 80_002]),
  });
  const data = makeBandData(tally);
  const files = new FilesByFrame({
    frames: [1, 80_000, 1],
    bytes: [],
    nodes: ["mole-1", "quay-1", "quay-2"],
    seconds: Array.from({ length: 80_000 }, (_, i) => 30 + 10 * Math.sin(i / 900)),
    luminance: Array.from({ length: 80_000 }, (_, i) => 0.3 + 0.1 * Math.cos(i / 500)),
    noise: Array.from({ length: 80_000 }, () => 0.01),
    node: Array.from({ length: 80_000 }, (_, i) => i % 3),
    samples: [],
    content: Array.from({ length: 80_000 }, () => ""),
  });
  const canvas = document.createElement("canvas");
  document.body.append(canvas);
  let window: BandWindow = { start: 0, count: 100 };
  const { height } = layoutBand(WIDTH, window, FRAMES, LANE_NAMES.length);
  canvas.width = WIDTH;
  canvas.height = height;
  const context = canvas.getContext("2d", { willReadFrequently: false })!;
  const overview = drawLine(data, WIDTH, OVERVIEW_LINE);
  const redraws: number[] = [];
  const fills: number[] = [];
  const selection = rangeSet(40, 60_000, 7);
  // Reading one pixel back makes the canvas really draw what was asked so far.
  const settle = (): void => void context.getImageData(0, 0, 1, 1);
  for (let i = 0; i < REDRAWS; i++) {
    window =
      i % 3 === 0
        ? zoomWindow(window, i % 2 === 0 ? 1.35 : 1 / 1.3, window.start + window.count / 2, FRAMES)
        : clampWindow({ ...window, start: window.start + window.count * 2.7 }, FRAMES);
    const began = performance.now();
    context.clearRect(0, 0, WIDTH, height);
    const layout = layoutBand(WIDTH, window, FRAMES, LANE_NAMES.length);
    paint(context, overview, palette);
    paint(context, drawWindowMark(layout, FRAMES), palette);
    paint(
      context,
      drawStrokes({
        data,
        layout,
        selection,
        focus: window.start + 5,
        savedShare: () => null,
        progress: new Map([[50, 0.4]]),
      }),
      palette,
    );
    paint(
      context,
      drawLanes(
        LANE_NAMES,
        { files, markers: { swell: rangeSet(1, 59_999) }, sound: null, used: rangeSet(1, 59_999) },
        data,
        layout,
      ),
      palette,
    );
    settle();
    redraws.push(performance.now() - began);
    const plain = performance.now();
    context.clearRect(0, 0, WIDTH, height);
    for (let k = 0; k < 1000; k++) context.fillRect(k, 10, 3, 60);
    settle();
    fills.push(performance.now() - plain);
  }
  return { redraws, fills };
}

(globalThis as { measureBand?: typeof measure }).measureBand = measure;
