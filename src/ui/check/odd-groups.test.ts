import type { OddLine } from "@/contract/odd-view";
import { EMPTY, setOf } from "@/core/frames/frame-set";
import { judgedGroups, namedOdd, oddGroups, orderedGroups } from "./odd-groups";

const line = (frame: number, code: OddLine["code"], change: Partial<OddLine> = {}): OddLine => ({
  ...{ frame, code, value: 2, expected: 1, sentence: `${code}.`, place: null },
  ...{ state: "open", who: null, why: null, isAgain: false },
  ...change,
});
const PLACE = { left: 0.1, top: 0.2, width: 0.3, height: 0.4 };

test("all that is odd of a frame is one group, open while one of it is, with the first place", () => {
  const groups = oddGroups([
    line(3, "pop", { state: "dismissed" }),
    line(3, "flicker", { place: PLACE }),
    line(9, "noise", { state: "accepted" }),
    line(9, "size", { state: "dismissed" }),
  ]);
  expect(groups).toMatchObject([
    { frame: 3, state: "open", place: PLACE },
    { frame: 9, state: "accepted", place: null },
  ]);
  expect(namedOdd(groups)).toHaveLength(4);
});

test("by frame, or the farthest off first; of one kind alone", () => {
  const groups = oddGroups([
    line(5, "pop", { value: 3 }),
    line(2, "noise", { value: 0.1 }),
    line(7, "frozen", { value: 0 }),
  ]);
  const frames = (...how: [Parameters<typeof orderedGroups>[1], Parameters<typeof orderedGroups>[2]]) =>
    orderedGroups(groups, ...how).map(({ frame }) => frame);
  expect(frames("frame", "all")).toEqual([2, 5, 7]);
  expect(frames("far", "all")).toEqual([7, 2, 5]);
  expect(frames("frame", "pop")).toEqual([5]);
});

test("several that are selected are judged together; else the one that is looked at", () => {
  const groups = oddGroups([line(2, "pop"), line(5, "pop"), line(7, "pop")]);
  const frames = (...of: [Parameters<typeof judgedGroups>[1], number | null]) =>
    judgedGroups(groups, ...of).map(({ frame }) => frame);
  expect(frames(setOf([2, 5, 6]), 7)).toEqual([2, 5]);
  expect(frames(setOf([2, 6]), 7)).toEqual([7]);
  expect(frames(EMPTY, null)).toEqual([]);
});
