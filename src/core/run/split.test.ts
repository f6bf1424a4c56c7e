import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { overlapOf, splitByRange, splitByStretches } from "./split";

test.each<[string, number, string[]]>([
  ["ten over three", 3, ["1-4", "5-7", "8-10"]],
  ["one machine takes all", 1, ["1-10"]],
  ["more machines than frames", 12, ["1", "2", "3", "4", "5", "6", "7", "8", "9", "10"]],
])("by range: %s", (_what, machines, parts) =>
  expect(splitByRange(rangeSet(1, 10), machines).map(formatPhrase)).toEqual(parts),
);

test("by range with gaps and a step: parts have as many frames, not as long stretches", () =>
  expect(splitByRange(setOf([1, 3, 5, 7, 100, 101]), 2).map(formatPhrase)).toEqual(["1,3,5", "7,100-101"]));

test("by stretches: each its own, a frame of two goes with the first, the rest is a part too", () =>
  expect(
    splitByStretches(rangeSet(1, 20), [rangeSet(5, 10), rangeSet(10, 12), rangeSet(30, 40)]).map(
      formatPhrase,
    ),
  ).toEqual(["5-10", "11-12", "1-4,13-20"]));

test("an overlap is found, whichever parts it is between", () => {
  expect(formatPhrase(overlapOf([rangeSet(1, 5), rangeSet(6, 9), rangeSet(4, 6)]))).toBe("4-5");
  expect(overlapOf([rangeSet(1, 5), rangeSet(6, 9), EMPTY])).toBe(EMPTY);
});
