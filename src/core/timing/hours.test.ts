import { isWithinHours } from "./hours";

test.each<[string, string, string, boolean]>([
  ["19:00", "08:00", "23:30", true],
  ["19:00", "08:00", "07:59", true],
  ["19:00", "08:00", "08:00", false],
  ["19:00", "08:00", "12:00", false],
  ["09:00", "17:30", "09:00", true],
  ["09:00", "17:30", "17:30", false],
  ["00:00", "00:00", "13:00", true],
])("from %s to %s at %s: %s", (from, to, at, expected) => {
  expect(isWithinHours({ from, to }, Number(at.slice(0, 2)) * 60 + Number(at.slice(3)))).toBe(expected);
});
