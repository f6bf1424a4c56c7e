import { members, rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { markerSets } from "../tally/names";
import {
  numbersOfStretch,
  outsideTimeLine,
  retimeFrames,
  sceneTime,
  timeLineNumbers,
  type Timing,
} from "./scene-time";

const at = (n: number) => ({ numerator: n, denominator: 1 });
const own: Timing = { timeLine: { first: 1, last: 150, rate: at(30) }, rate: at(30), offset: 0 };
const rough: Timing = { ...own, rate: at(10) };
const fine: Timing = { ...own, rate: at(60) };

test("at the scene's own rate a file number is its frame, less the offset", () =>
  expect([sceneTime(own, 7), sceneTime({ ...own, offset: 1000 }, 1007)]).toEqual([7, 7]));

test("a rougher rate skips scene frames, a finer one renders between them; both last as long", () => {
  expect([timeLineNumbers(rough), timeLineNumbers(fine)]).toEqual([
    { first: 1, last: 50 },
    { first: 1, last: 300 },
  ]);
  expect([1, 2, 50].map((n) => sceneTime(rough, n))).toEqual([1, 4, 148]);
  expect([1, 2, 300].map((n) => sceneTime(fine, n))).toEqual([1, 1.5, 150.5]);
});

test("frames carried to another rate cover the same stretch of the scene", () => {
  expect(formatPhrase(retimeFrames(rangeSet(1, 150), own, rough))).toBe("1-50");
  expect(formatPhrase(retimeFrames(rangeSet(31, 60), own, rough))).toBe("11-20");
  expect(formatPhrase(retimeFrames(rangeSet(11, 20), rough, own))).toBe("31-60");
  expect(formatPhrase(retimeFrames(setOf([1, 5, 9]), own, { ...own, offset: 1000 }))).toBe("1001-1009/4");
});

test("neighbouring stretches share no number and leave none out, at any rate", () => {
  const markers = [
    { name: "a", first: 1, end: 41 },
    { name: "b", first: 41, end: 100 },
    { name: "c", first: 100, end: 151 },
  ];
  for (const timing of [own, rough, fine, { ...own, rate: { numerator: 24_000, denominator: 1001 } }]) {
    const all = Object.values(markerSets(markers, timing)).flatMap((set) => [...members(set)]);
    const { first, last } = timeLineNumbers(timing);
    expect([all[0], all.length, new Set(all).size]).toEqual([first, last - first + 1, all.length]);
  }
});

test("what lies outside the time line is told by file number", () => {
  expect(formatPhrase(outsideTimeLine(rangeSet(-5, 160), own))).toBe("-5-0,151-160");
  expect(numbersOfStretch(rough, 2, 3).count).toBe(0);
});
