import { countForShare, fairShare, MAX_BATCH, proposeBatch } from "./batch";

const proposed = (startupSeconds: number, frameSeconds: number) =>
  proposeBatch({ startupSeconds, frameSeconds });

test("one by one before anything was measured", () => expect(proposeBatch(null)).toBe(1));
test("long frames with little start-up go one by one", () => expect(proposed(1, 60)).toBe(1));
test("start-up may be a twentieth of a batch", () =>
  expect([proposed(3, 60), proposed(6, 60), proposed(30, 60)]).toEqual([1, 2, 10]));
test("very short frames are asked for about every two seconds", () =>
  expect([proposed(0, 2.5), proposed(0, 0.5), proposed(0, 0)]).toEqual([1, 4, MAX_BATCH]));
test("never more than the most", () => expect(proposed(600, 1)).toBe(MAX_BATCH));
test("towards the end nodes take less, so that all of them have work", () =>
  expect([fairShare(32, 1_000, 4), fairShare(32, 64, 4), fairShare(32, 5, 4), fairShare(8, 100, 0)]).toEqual([
    32, 8, 1, 8,
  ]));
test("only as many waiting frames are counted as decide the share", () =>
  expect(fairShare(32, countForShare(32, 3), 3)).toBe(32));
