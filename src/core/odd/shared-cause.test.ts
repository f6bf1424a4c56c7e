import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { chanceOf, groupsBy, sharedByCamera, sharedCauses, thirdsOf } from "./shared-cause";

test("Fisher's tail is that of the tables", () => {
  // Fisher's tea: all four of four cups by chance, and three or more (1935).
  expect(chanceOf(4, 4, 4, 8)).toBeCloseTo(1 / 70, 12);
  expect(chanceOf(3, 4, 4, 8)).toBeCloseTo(17 / 70, 12);
  expect(chanceOf(0, 4, 4, 8)).toBeCloseTo(1, 12);
});

test("a node that made a third of the frames and nearly all the bad ones comes first, in words", () => {
  const bad = setOf([1, 4, 19, 34, 40, 55, 70, 88, 30]);
  const all = rangeSet(1, 96);
  const nodes = {
    name: "node",
    verb: "came from",
    groups: groupsBy(
      Array.from({ length: 96 }, (_, i) => i + 1),
      (f) => `quay-${f % 3 === 1 ? 2 : f % 3 === 2 ? 1 : 3}`,
    ),
  };
  const [first, ...others] = sharedCauses(bad, all, [
    nodes,
    { name: "part", verb: "lie in", groups: thirdsOf(all) },
  ]);
  expect(first).toMatchObject({ factor: "node", value: "quay-2", bad: 8, count: 32, lift: 16 });
  expect(first!.sentence).toBe("8 of 9 bad frames came from quay-2, as 32 of all 96 do.");
  expect(first!.chance).toBeLessThan(0.001);
  expect(others.every((other) => other.chance > first!.chance)).toBe(true);
});

test("a camera is held against the others of its version", () => {
  const main = { camera: "main", bad: rangeSet(1, 8), all: rangeSet(1, 48) };
  const wide = { camera: "wide", bad: setOf([40]), all: rangeSet(1, 96) };
  const cause = sharedByCamera(main, [wide]);
  expect(cause).toMatchObject({ factor: "camera", value: "the camera main", bad: 8, count: 48, lift: 16 });
  expect(cause!.sentence).toBe(
    "8 of 9 bad frames of all cameras came from the camera main, as 48 of all 144 do.",
  );
  expect(cause!.chance).toBeCloseTo(chanceOf(8, 48, 9, 144), 12);
  expect(sharedByCamera(main, [])).toBeNull();
  expect(sharedByCamera({ ...main, bad: EMPTY }, [wide])).toBeNull();
});

test("what all frames share says nothing, nor do frames that are not there", () => {
  const one = { name: "node", verb: "came from", groups: [{ value: "quay-1", frames: rangeSet(1, 9) }] };
  expect(sharedCauses(rangeSet(1, 3), rangeSet(1, 9), [one])).toEqual([]);
  expect(sharedCauses(rangeSet(20, 30), rangeSet(1, 9), [one])).toEqual([]);
});

test("one group alone is held against all frames that are not in it", () => {
  const dusk = { name: "marker", verb: "lie in", groups: [{ value: "dusk", frames: rangeSet(1, 4) }] };
  expect(sharedCauses(setOf([1, 2, 3]), rangeSet(1, 30), [dusk])).toMatchObject([
    { value: "dusk", bad: 3, count: 4 },
  ]);
});

test("where no other frame is bad there is no ratio; frames of which nothing is known are in no group", () => {
  const groups = groupsBy([1, 2, 3, 4], (f) => (f === 4 ? null : f < 3 ? "16" : "32"));
  expect(groups.map(({ frames }) => frames.count)).toEqual([2, 1]);
  const causes = sharedCauses(setOf([1, 2]), rangeSet(1, 4), [{ name: "samples", verb: "have", groups }]);
  expect(causes).toMatchObject([{ value: "16", bad: 2, lift: null }]);
});

test("thirds are of the frames that are there; fewer than three have fewer parts", () => {
  expect(thirdsOf(rangeSet(1, 7)).map(({ value }) => value)).toEqual([
    "the first third (1-3)",
    "the middle third (4-6)",
    "the last third (7)",
  ]);
  expect(thirdsOf(rangeSet(1, 1))).toHaveLength(1);
});
