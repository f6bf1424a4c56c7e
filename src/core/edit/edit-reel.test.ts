import { editReel, numberOfPlace, type ReelClip } from "./edit-reel";

const rate = { numerator: 24, denominator: 1 };
const timing = (first: number, last: number, offset = 0) => ({
  timeLine: { first, last, rate },
  rate,
  offset,
});
const SHOTS: Readonly<Record<string, ReturnType<typeof timing>>> = {
  QA010: timing(1001, 1096),
  QA020: timing(1, 48, 1000),
};
const reel = (clips: readonly ReelClip[]) => editReel(clips, (code) => SHOTS[code] ?? null);

test("clips in their order, with the hole between them, from the first one on", () =>
  expect(
    reel([
      { code: "QA010", first: 1011, end: 1021, starts: 86_400 },
      { code: "QA020", first: 5, end: 9, starts: 86_415 },
    ]),
  ).toEqual([
    { code: "QA010", start: 0, length: 10, firstNumber: 1011, perPlace: 1 },
    { code: null, start: 10, length: 5, firstNumber: null, perPlace: 1 },
    { code: "QA020", start: 15, length: 4, firstNumber: 1005, perPlace: 1 },
  ]));

test("what lies over another is seen, and the other goes on behind it where it was", () =>
  expect(
    reel([
      { code: "QA010", first: 1001, end: 1011, starts: 0 },
      { code: "QA020", first: 1, end: 4, starts: 3 },
    ]),
  ).toEqual([
    { code: "QA010", start: 0, length: 3, firstNumber: 1001, perPlace: 1 },
    { code: "QA020", start: 3, length: 3, firstNumber: 1001, perPlace: 1 },
    { code: "QA010", start: 6, length: 4, firstNumber: 1007, perPlace: 1 },
  ]));

test("a clip that is no shot of ours is a hole of its length", () =>
  expect(reel([{ code: "XX999", first: 0, end: 12, starts: 0 }])).toEqual([
    { code: null, start: 0, length: 12, firstNumber: null, perPlace: 1 },
  ]));

test("counts from nought are frames from the first of the time line on", () =>
  expect(reel([{ code: "QA010", first: 0, end: 10, starts: 0 }])![0]!.firstNumber).toBe(1001));

test("a shot that is rendered at half the rate shows each of its frames for two places", () => {
  const half = { ...timing(1, 48), rate: { numerator: 12, denominator: 1 } };
  const [stretch] = editReel([{ code: "QA030", first: 3, end: 9, starts: 0 }], () => half)!;
  expect([0, 1, 2, 3, 4].map((n) => numberOfPlace(stretch!, n))).toEqual([2, 2, 3, 3, 4]);
});

test("no clips, clips of no length, and an edit that is longer than any is", () => {
  expect(reel([])).toEqual([]);
  expect(reel([{ code: "QA010", first: 5, end: 5, starts: 0 }])).toEqual([]);
  expect(
    reel([
      { code: "QA010", first: 1001, end: 1002, starts: 0 },
      { code: "QA010", first: 1001, end: 1002, starts: 90_000_000 },
    ]),
  ).toBeNull();
});
