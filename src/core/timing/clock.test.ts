import { clockText, readClock } from "./clock";

test.each([
  ["08:00", "08:00"],
  ["8:05", "08:05"],
  [" 23:59 ", "23:59"],
  ["00:00", "00:00"],
])("%j is a time", (text, written) => expect(clockText(readClock(text)!)).toBe(written));

test.each(["", "8", "24:00", "12:60", "8:5", "08:00 PM", "25:99x", "-1:00"])("%j is none", (text) =>
  expect(readClock(text)).toBeNull(),
);
