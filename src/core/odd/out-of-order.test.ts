import { olderThanBefore } from "./out-of-order";

const MINUTE = 60_000;
const night = (count: number): number[] => Array.from({ length: count }, (_, i) => i * MINUTE);

test("files left from an earlier render are told, each with the newer one before it", () => {
  const times = night(40);
  for (const i of [12, 13, 14]) times[i] = -600 * MINUTE;
  expect(olderThanBefore(times)).toEqual([12, 13, 14].map((at) => ({ at, than: 11, byMs: 611 * MINUTE })));
});

test("frames that were made again later are newer than what follows, and no fault", () => {
  const times = night(40);
  for (const i of [5, 20, 21]) times[i] = 900 * MINUTE;
  expect(olderThanBefore(times)).toEqual([]);
});

test.each([
  ["nodes that work side by side", night(60).map((time, i) => (i % 2 === 0 ? time : time - 9 * MINUTE))],
  ["a copy, all of one moment", night(60).map(() => 5)],
  ["one that was rendered backwards", night(60).reverse()],
  [
    "times that differ by less than shares keep",
    night(60).map((time, i) => (i === 30 ? time - MINUTE - 900 : time)),
  ],
  ["nothing", []],
])("%s: nothing is told", (_, times) => {
  expect(olderThanBefore(times)).toEqual([]);
});
