import { nextTimeOf, timeOfDay } from "./time-of-day";

const at = (day: number, hours: number, minutes: number): number =>
  new Date(2026, 10, day, hours, minutes).getTime();

test("a clock time means its next occurrence: tonight, or tomorrow morning", () => {
  expect(nextTimeOf("22:00", at(25, 18, 30))).toBe(at(25, 22, 0));
  expect(nextTimeOf("07:30", at(25, 18, 30))).toBe(at(26, 7, 30));
  expect(nextTimeOf("18:30", at(25, 18, 30))).toBe(at(26, 18, 30));
  expect(nextTimeOf("", at(25, 18, 30))).toBeNull();
});

test("and is shown as it was typed", () =>
  expect([timeOfDay(at(26, 7, 5)), timeOfDay(null)]).toEqual(["07:05", ""]));
