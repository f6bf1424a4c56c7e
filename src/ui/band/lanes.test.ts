import { rangeSet } from "@/core/frames/frame-set";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { FilesByFrame } from "../live/files-by-frame";
import { makeBandData } from "./band-data";
import { drawLanes, laneFigures } from "./lanes";
import { NO_FILES } from "../../../tests/support/no-files";
import { firstWindow, layoutBand, strokeX } from "./layout";

const data = makeBandData(deriveTally({ ...NO_FACTS, asked: rangeSet(1001, 1096) }));
const layout = layoutBand(1100, firstWindow(96), 96, 1);
const files = new FilesByFrame(NO_FILES);
const marksOf = (used: ReturnType<typeof rangeSet>) =>
  drawLanes(["the edit uses"], { files, markers: {}, used, sound: null }, data, layout);

test("what the edit uses is a line under its frames", () => {
  const [mark, ...more] = marksOf(rangeSet(1001, 1048));
  expect(more).toEqual([]);
  expect(mark).toMatchObject({ kind: "box", h: 3 });
  expect((mark as { w: number }).w).toBeGreaterThan(400);
});

test("where nothing that is shown is used nothing is drawn, also not at the band's end", () => {
  expect(marksOf(rangeSet(1200, 1250))).toEqual([]);
  expect(marksOf(rangeSet(1, 900))).toEqual([]);
});

test("the sound is a bar a frame where it is heard, as high as it is loud", () => {
  const sound = {
    name: "gulls.wav",
    loudness: (frame: number) => (frame < 1003 ? (frame - 1000) / 2 : null),
  };
  const marks = drawLanes(["sound"], { files, markers: {}, used: null, sound }, data, layout);
  expect(marks).toHaveLength(2);
  const heights = marks.map((mark) => (mark.kind === "box" ? mark.h : 0));
  expect(heights[1]).toBeCloseTo(2 * heights[0]!);
});

test("a lane of what was measured is drawn over the frames that were, and has its figures", () => {
  const measures = {
    frames: [1001, 1005, 2],
    change: [null, 0.01, 0.2],
    black: [0, 0, 0],
    clipped: [0, 0, 0],
    hot: [0, 3, 0],
  };
  const lanes = { files, markers: {}, used: null, sound: null };
  expect(laneFigures("change", { ...lanes, measures })).toBe("1.00 % to 20.00 %");
  expect(laneFigures("hot pixels", { ...lanes, measures })).toBe("0 to 3");
  expect(laneFigures("change", lanes)).toBe("no figures yet");
  const dots = drawLanes(["hot pixels"], { ...lanes, measures }, data, layout);
  expect(dots.map((mark) => mark.kind)).toEqual(["dot", "dot", "dot"]);
  expect(dots.map((mark) => (mark.kind === "dot" ? Math.round(mark.x) : null))).toEqual(
    [0, 2, 4].map((position) => Math.round(strokeX(layout, position))),
  );
});

test("an odd frame is a dot at its place, and no other is", () => {
  const lanes = { files, markers: {}, used: null, sound: null, odd: rangeSet(1003, 1004) };
  const marks = drawLanes(["odd"], lanes, data, layout);
  expect(marks.map((mark) => mark.kind)).toEqual(["dot", "dot"]);
  expect(drawLanes(["odd"], { ...lanes, odd: rangeSet(2, 3) }, data, layout)).toEqual([]);
});
