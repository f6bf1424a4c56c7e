import { RequestPace } from "./request-pace";

test("a burst is allowed, then as many as come back by the clock; one is not slowed by another", () => {
  const pace = new RequestPace({ burst: 3, aSecond: 2 });
  expect([0, 0, 0, 0].map((at) => pace.allows("mara", at))).toEqual([true, true, true, false]);
  expect(pace.allows("jon", 0)).toBe(true);
  expect([499, 500, 501].map((at) => pace.allows("mara", at))).toEqual([false, true, false]);
  expect([60_000, 60_000, 60_000, 60_000].map((at) => pace.allows("mara", at))).toEqual([
    true,
    true,
    true,
    false,
  ]);
});

test("however many ask, what is kept of them is bounded", () => {
  const pace = new RequestPace({ burst: 1, aSecond: 0 });
  for (let i = 0; i < 5_000; i++) pace.allows(`somebody-${i}`, i);
  // Forgotten: as if it had never asked.
  expect(pace.allows("somebody-0", 5_000)).toBe(true);
  expect(pace.allows("somebody-4999", 5_000)).toBe(false);
});
