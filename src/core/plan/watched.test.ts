import { rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { type Extent, followedFrames, nameInPlace, placeName, sharedExtent } from "./watched";

const extent = (first: number, last: number): Extent => ({ first, last });
const MOST = 1_000_000;

test("a shorter pass lacks frames, and one of other numbers lacks none of theirs", () => {
  const [beauty, depth, old] = [extent(1001, 1096), extent(1001, 1090), extent(1, 30)];
  const all = [beauty, depth, old];
  const asked = (own: Extent | null): string =>
    formatPhrase(followedFrames(rangeSet(1001, 1096), own, all, MOST));
  expect(asked(beauty)).toBe("1001-1096");
  expect(asked(depth)).toBe("1001-1096");
  expect(asked(old)).toBe("1-30");
  expect(asked(null)).toBe("1001-1096");
});

test("what arrives is asked for with all before it, and what the plan says stays asked for", () => {
  expect(formatPhrase(followedFrames(rangeSet(1, 96), extent(1, 104), [extent(1, 104)], MOST))).toBe("1-104");
  expect(formatPhrase(followedFrames(setOf([1, 50, 120]), extent(40, 60), [], MOST))).toBe("1,40-60,120");
});

test("sequences that meet through others share all their frames", () => {
  expect(sharedExtent(extent(1, 10), [extent(20, 30), extent(9, 21), extent(50, 60)])).toEqual(extent(1, 30));
});

test("a stray number does not ask for a million frames", () => {
  const stray = extent(1, 20_261_128);
  expect(formatPhrase(followedFrames(setOf([1, 2, 20_261_128]), stray, [stray], MOST))).toBe("1-2,20261128");
});

test("files are called as they were found", () => {
  const place = { root: "farm", folder: "HL050", prefix: "quay.", suffix: "_L.png", digits: 4 };
  expect([nameInPlace(place, 7), nameInPlace(place, -7), placeName(place)]).toEqual([
    "quay.0007_L.png",
    "quay.-0007_L.png",
    "quay.####_L.png",
  ]);
});
