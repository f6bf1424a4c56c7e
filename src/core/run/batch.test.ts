import { countForShare, fairShare, MAX_BATCH, proposeBatch } from "./batch";

const proposed = (startupSeconds: number, frameSeconds: number) =>
  proposeBatch({ startupSeconds, frameSeconds }, false);

test("before anything was measured one by one; a program that takes several, for a few", () =>
  expect([proposeBatch(null, false), proposeBatch(null, true)]).toEqual([1, 4]));
test("long frames with little start-up go one by one", () => expect(proposed(1, 60)).toBe(1));
test("start-up may be a twentieth of a batch", () =>
  expect([proposed(3, 60), proposed(6, 60), proposed(30, 60)]).toEqual([1, 2, 10]));
test("very short frames are asked for about every two seconds", () =>
  expect([proposed(0, 2.5), proposed(0, 0.5), proposed(0, 0)]).toEqual([1, 4, MAX_BATCH]));
test("never more than the most", () => expect(proposed(600, 1)).toBe(MAX_BATCH));
/** Three seconds of start-up, 0.3 s a frame. */
const PATIENT = { startupSeconds: 3, frameSeconds: 0.3 };
/** Ten seconds a frame, and next to no start-up. */
const PROMPT = { startupSeconds: 0.1, frameSeconds: 10 };

test("while there is plenty a batch is as large as was proposed", () =>
  expect([fairShare(32, 1_000, 4, PATIENT), fairShare(8, 100, 0, PROMPT)]).toEqual([32, 8]));
test("towards the end what is left is shared out once, where each start costs more than waiting for another", () =>
  expect([
    fairShare(100, 108, 3, PATIENT),
    fairShare(100, 21, 3, PATIENT),
    fairShare(100, 2, 3, PATIENT),
  ]).toEqual([36, 7, 1]));
test("where start-up is cheap the last share is taken in halves, down to one", () =>
  expect([fairShare(32, 64, 4, PROMPT), fairShare(32, 5, 4, PROMPT), fairShare(32, 3, 4, null)]).toEqual([
    8, 1, 1,
  ]));
test("only as many waiting frames are counted as decide the share", () =>
  expect(fairShare(32, countForShare(32, 3), 3, PATIENT)).toBe(32));
test("24 frames on three nodes: two calls each, not seven", () => {
  // What the three take one after the other, until nothing is left that nobody has.
  const taken: number[] = [];
  for (let left = 24, free = 24; free > 0;) {
    const pace = taken.length < 3 ? null : PATIENT;
    if (taken.length === 3) left = free;
    const share = Math.min(free, fairShare(proposeBatch(pace, true), left, 3, pace));
    taken.push(share);
    free -= share;
  }
  expect(taken).toEqual([4, 4, 4, 4, 4, 4]);
});
