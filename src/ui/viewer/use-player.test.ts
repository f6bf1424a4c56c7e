import { playedPosition } from "./use-player";

const range = { first: 10, last: 19 };

test.each([
  ["at the start", 10, 1, 0, 10],
  ["half a second on at 24", 10, 1, 0.5, 12],
  ["past the end it goes on from the first", 18, 1, 0.125, 11],
  ["backwards", 12, -1, 0.125, 19],
  ["one frame is not left before its time is over", 10, 1, 0.0416, 10],
  ["from outside the range it begins inside", 3, 1, 0, 10],
] as const)("%s", (_name, from, direction, seconds, position) =>
  expect(playedPosition(range, from, direction, 24, seconds)).toBe(position),
);

test("a sequence of 48 at 24 a second loops after exactly two seconds", () =>
  expect(playedPosition({ first: 0, last: 47 }, 0, 1, 24, 2)).toBe(0));
