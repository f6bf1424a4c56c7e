import { rangeSet } from "@/core/frames/frame-set";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { FilesByFrame } from "../live/files-by-frame";
import { makeBandData } from "./band-data";
import { drawLanes } from "./lanes";
import { NO_FILES } from "../../../tests/support/no-files";
import { firstWindow, layoutBand } from "./layout";

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

test("an odd frame is a dot at its place, and no other is", () => {
  const lanes = { files, markers: {}, used: null, sound: null, odd: rangeSet(1003, 1004) };
  const marks = drawLanes(["odd"], lanes, data, layout);
  expect(marks.map((mark) => mark.kind)).toEqual(["dot", "dot"]);
  expect(drawLanes(["odd"], { ...lanes, odd: rangeSet(2, 3) }, data, layout)).toEqual([]);
});
