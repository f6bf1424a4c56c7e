import { estimateFinish, framesAMinute } from "./finish";

const took = (...seconds: readonly number[]) => seconds.map((s, i) => ({ seconds: s, ago: i * 10 }));

test("frames left over the nodes at work, times what a frame takes", () =>
  expect(estimateFinish({ left: 9, recent: took(10, 20, 30), lanes: 2 })).toMatchObject({
    secondsAFrame: 20,
    likelySeconds: 80,
  }));

test("the late finish is as likely as late when every frame took the same, and further off the more they differ", () => {
  const late = (...seconds: readonly number[]): number =>
    estimateFinish({ left: 9, recent: took(...seconds), lanes: 2 })!.lateSeconds;
  expect(late(20, 20, 20)).toBe(80);
  // A spread of 10 in 20 s, from 3 frames for 9: 80 x (1 + 1.2816 x 0.5 x sqrt(1/3 + 1/9)).
  expect(late(10, 20, 30)).toBeCloseTo(114.18, 1);
  expect(late(1, 20, 39)).toBeGreaterThan(late(10, 20, 30));
});

test("two frames say nothing of how far they differ: the late finish then allows what one proof does", () =>
  expect(estimateFinish({ left: 1000, recent: took(20, 20), lanes: 1 })!.lateSeconds).toBeGreaterThan(
    estimateFinish({ left: 1000, recent: took(20, 20), lanes: 1 })!.likelySeconds * 1.2,
  ));

test.each([
  ["before the first frame is done", { left: 9, recent: [], lanes: 2 }],
  ["while nothing renders", { left: 9, recent: took(3), lanes: 0 }],
  ["with nothing left", { left: 0, recent: took(3), lanes: 1 }],
])("no figure %s", (_when, pace) => expect(estimateFinish(pace)).toBeNull());

const ended = (...ago: readonly number[]) => ago.map((a) => ({ seconds: 10, ago: a }));

test("one frame every ten seconds is six a minute", () =>
  expect(framesAMinute(ended(0, 10, 20, 30), 1)).toBe(6));

test("the pace falls as soon as the next frame lets wait for it", () =>
  expect(framesAMinute(ended(30, 40, 50, 60), 1)).toBe(4));

test("what was before the run stood still is another pace", () =>
  expect(framesAMinute(ended(0, 5, 10, 15, 3600, 3700), 1)).toBe(12));

test("no pace from fewer than three frames after the first round, nor while nothing has been made for long", () => {
  expect(framesAMinute(ended(4), 1)).toBeNull();
  expect(framesAMinute(ended(0, 10, 20), 1)).toBeNull();
  expect(framesAMinute(ended(1000, 1010, 1020, 1030), 1)).toBeNull();
  expect(framesAMinute([], 1)).toBeNull();
});

test("three nodes that began together: what ends at one moment is no pace, the second round is", () => {
  // The first round alone came to hundreds a minute.
  expect(framesAMinute(ended(0, 0.1, 0.2), 3)).toBeNull();
  expect(framesAMinute(ended(0, 0.1, 0.2, 10, 10.1, 10.2), 3)).toBeCloseTo(18, 0);
  expect(framesAMinute(ended(0, 0.1, 0.2, 10, 10.1, 10.2, 20, 20.1, 20.2), 3)).toBeCloseTo(18, 0);
});

test("in which order frames began says nothing of when they ended", () =>
  expect(framesAMinute(ended(10, 0, 30, 20), 1)).toBe(6));
