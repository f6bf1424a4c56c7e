import { FrameIndex } from "./frame-index";
import { EMPTY, members, rangeSet, setOf, unionAll } from "./frame-set";

const set = unionAll([rangeSet(-3, 3), rangeSet(10, 20, 5), setOf([40, 41, 99])]);
const index = new FrameIndex(set);

test("position and frame are each other's inverse, for every member", () => {
  const frames = [...members(set)];
  expect(frames).toHaveLength(13);
  expect(frames.map((frame) => index.positionOf(frame))).toEqual(frames.map((_, i) => i));
  expect(frames.map((_, i) => index.frameAt(i))).toEqual(frames);
});

test.each([
  [4, null],
  [11, null],
  [98, null],
  [-4, null],
])("frame %p is not in the set", (frame, position) => expect(index.positionOf(frame)).toBe(position));

test.each([
  [-100, 0],
  [5, 6],
  [8, 7],
  [12, 7],
  [13, 8],
  [71, 12],
  [70, 11],
  [60, 11],
  [1000, 12],
])("nearest to %p is position %p", (frame, position) => expect(index.nearestPosition(frame)).toBe(position));

test("an empty set has no positions", () =>
  expect([new FrameIndex(EMPTY).frameAt(0), new FrameIndex(EMPTY).nearestPosition(1)]).toEqual([null, null]));
