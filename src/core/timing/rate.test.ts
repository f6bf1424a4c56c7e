import { durationSeconds, rateText } from "./rate";

test("96 frames at 24 last four seconds; a fraction is kept exact", () => {
  expect(durationSeconds(96, { numerator: 24, denominator: 1 })).toBe(4);
  expect(durationSeconds(24_000, { numerator: 24_000, denominator: 1001 })).toBe(1001);
});

test.each([
  [24, 1, "24"],
  [24_000, 1001, "23.976"],
  [30_000, 1001, "29.97"],
])("%p/%p reads %s", (numerator, denominator, text) =>
  expect(rateText({ numerator, denominator })).toBe(text),
);
