import { expectedSeconds, likelyAttemptSeconds, type MadeFrame, timeLimitOf } from "./expected";

const made = (frame: number, renderSeconds: number, change: Partial<MadeFrame> = {}): MadeFrame => ({
  frame,
  fixedSeconds: 2,
  renderSeconds,
  samplesAdded: 16,
  samples: 16,
  ...change,
});

test("between two made frames in proportion, beyond them as the outermost", () => {
  const two = [made(20, 30), made(10, 10)];
  expect([5, 10, 15, 18, 20, 99].map((frame) => expectedSeconds(frame, two, null))).toEqual([
    12, 12, 22, 28, 32, 32,
  ]);
});

test("only the nearest on either side count", () =>
  expect(expectedSeconds(15, [made(1, 998), made(10, 10), made(20, 30), made(30, 998)], null)).toBe(22));

test("a frame that went on from a checkpoint counts as if it had been made in one go", () =>
  expect(expectedSeconds(1, [made(1, 10, { samplesAdded: 4 })], null)).toBe(42));

test("an attempt is likely to take what the attempts beside it took themselves, in a refining run too", () =>
  expect(likelyAttemptSeconds(1, [made(1, 10, { samplesAdded: 4 })])).toBe(12));

test("seconds grow with the samples asked, what is fixed does not", () =>
  expect(expectedSeconds(1, [made(1, 10)], 64)).toBe(42));

test("nothing is known from nothing, nor from a frame that took no sample", () => {
  expect(expectedSeconds(1, [], null)).toBeNull();
  expect(expectedSeconds(1, [made(1, 0, { samplesAdded: 0 })], null)).toBeNull();
});

test("the limit is ten times what is expected, and never under two minutes", () =>
  expect([timeLimitOf(null), timeLimitOf(1), timeLimitOf(60)]).toEqual([null, 120, 600]));
