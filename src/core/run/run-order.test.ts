import { rangeSet, setOf } from "../frames/frame-set";
import { phraseTerms } from "../frames/phrase";
import { orderFrames, RUN_ORDERS } from "./run-order";

test.each(RUN_ORDERS)("%s has every frame exactly once, whatever the number of frames", (order) => {
  for (let count = 0; count <= 70; count++) {
    const frames = setOf(Array.from({ length: count }, (_, i) => 5 + i * 3));
    const ordered = orderFrames(frames, order);
    expect(ordered.length).toBe(count);
    expect(setOf(ordered)).toEqual(frames);
  }
});

test("coarse to fine shows the whole motion first: every 16th and the last, then every 8th, 4th, 2nd, and the rest", () => {
  expect(orderFrames(rangeSet(1, 20), "coarse-to-fine")).toEqual([
    1, 17, 20, 9, 5, 13, 3, 7, 11, 15, 19, 2, 4, 6, 8, 10, 12, 14, 16, 18,
  ]);
});

test("ends first works from both ends inwards", () =>
  expect(orderFrames(rangeSet(1, 5), "ends-first")).toEqual([1, 5, 2, 4, 3]));

test("as written follows the terms; what is taken away and what stands twice does no harm", () => {
  const terms = phraseTerms("90-92, 1-3, !2, 91, last", (name) => (name === "last" ? setOf([96]) : null));
  expect(orderFrames(setOf([1, 3, 50, 90, 91, 92, 96]), "as-written", terms)).toEqual([
    90, 91, 92, 1, 3, 96, 50,
  ]);
});
