import { clock, duration, everyFrame, finishText, paceText, size, stopwatch, workTime } from "./words";

test.each([
  [0.5, "0.50 s"],
  [4, "4.0 s"],
  [41.4, "41 s"],
  [725, "12 min"],
  [65, "1 min 5 s"],
  [8040, "2 h 14 min"],
])("%p seconds read %s", (seconds, text) => expect(duration(seconds)).toBe(text));

test.each([
  [41.9, "0:41"],
  [725, "12:05"],
])("%p seconds on a stopwatch: %s", (seconds, text) => expect(stopwatch(seconds)).toBe(text));

test.each([
  [850, "850 B"],
  [37_724, "38 kB"],
  [31_400_000, "31.4 MB"],
  [212e9, "212.0 GB"],
])("%p bytes read %s", (bytes, text) => expect(size(bytes)).toBe(text));

test("a clock time says its day when it is not today, and its seconds when it is near", () => {
  const now = new Date(2026, 10, 24, 23, 50).getTime();
  expect(clock(now + 60_000, now)).toBe("23:51:00");
  expect(clock(now + 3_600_000 * 8, now)).toBe("Wed 07:50");
});

test("a frame in work tells its time, and what is expected once it is known", () => {
  expect(workTime({ seconds: 41, expectedSeconds: null }, 2)).toBe("0:43");
  expect(workTime({ seconds: 41, expectedSeconds: 90 }, 2)).toBe("0:43 of about 1:30");
});

test("the pace is told by the minute, and by the hour where it is slower than that", () => {
  expect(paceText(12, 9.42)).toBe("12 s a frame, 9.4 a minute");
  expect(paceText(600, 0.3)).toBe("10 min a frame, 18.0 an hour");
  expect(paceText(600, null)).toBe("10 min a frame");
});

test("one clock time is enough where the late finish is no later", () => {
  const now = new Date(2026, 10, 24, 12, 0).getTime();
  expect(finishText(now + 3_600_000, now + 5_400_000, now)).toBe("likely 13:00, late 13:30");
  expect(finishText(now + 3_600_000, now + 3_601_000, now)).toBe("likely 13:00");
});

test.each([
  [1, "Every frame"],
  [2, "Every 2nd frame"],
  [3, "Every 3rd frame"],
  [12, "Every 12th frame"],
  [21, "Every 21st frame"],
  [112, "Every 112th frame"],
])("a step of %p reads %s", (step, text) => expect(everyFrame(step)).toBe(text));
