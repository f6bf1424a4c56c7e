import { otherFrames } from "./other-frames";

const from = (first: number, count: number, apart = 0) =>
  Array.from({ length: count }, (_, i) => ({ frame: first + i, says: first + i + apart }));

test("one that says another number than its name is told, with the number that it should say", () => {
  const said = from(1, 10);
  said[4] = { frame: 5, says: 4 };
  expect(otherFrames(said)).toEqual([{ frame: 5, says: 4, expected: 5 }]);
});

test("numbered anew, all are as far apart; who is not is told", () => {
  expect(otherFrames(from(1, 10, 1000))).toEqual([]);
  const said = from(1, 10, 1000);
  said[4] = { frame: 5, says: 1004 };
  expect(otherFrames(said)).toEqual([{ frame: 5, says: 1004, expected: 1005 }]);
});

test("where no half agrees, and of one alone, its name counts", () => {
  expect(otherFrames([{ frame: 5, says: 4 }])).toEqual([{ frame: 5, says: 4, expected: 5 }]);
  expect(
    otherFrames([
      { frame: 1, says: 1 },
      { frame: 2, says: 9 },
      { frame: 3, says: 20 },
      { frame: 4, says: 40 },
      { frame: 5, says: 90 },
    ]).map(({ frame }) => frame),
  ).toEqual([2, 3, 4, 5]);
  expect(otherFrames([])).toEqual([]);
});
