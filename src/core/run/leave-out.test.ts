import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { leftOut } from "./leave-out";

const all = rangeSet(1, 60);
const NODES = [
  { value: "quay-1", frames: rangeSet(1, 30) },
  { value: "quay-2", frames: rangeSet(31, 60) },
];
const names = (bad: Parameters<typeof leftOut>[0], awake = ["quay-1", "quay-2"]): string[] =>
  leftOut(bad, all, NODES, awake).map(({ node }) => node);

test("who made all that is bad is left out, and told with its figures", () => {
  expect(leftOut(setOf([31, 40, 50]), all, NODES, ["quay-1", "quay-2"])).toEqual([
    { node: "quay-2", bad: 3, of: 3 },
  ]);
});

test("who made far more of it than chance would give is, too; where all make some, nobody is", () => {
  expect(names(setOf([3, 31, 33, 35, 37, 39, 41, 43, 45, 47]))).toEqual(["quay-2"]);
  expect(names(setOf([3, 7, 31, 40]))).toEqual([]);
});

test("one bad frame says nothing, and nobody is left out where nobody else is awake", () => {
  expect(names(setOf([31]))).toEqual([]);
  expect(names(EMPTY)).toEqual([]);
  expect(names(setOf([31, 40, 50]), ["quay-2"])).toEqual([]);
  // Of the other frames nobody knows who made them.
  expect(leftOut(setOf([31, 40]), all, NODES.slice(1), ["quay-1"])).toMatchObject([{ node: "quay-2" }]);
});
