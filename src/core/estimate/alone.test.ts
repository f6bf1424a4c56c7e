import { aloneFactor, isTold, threadsOf, type TimedBeside } from "./alone";

const STAND_IN = { renderer: "stand-in" };
const OWN = { renderer: "lantern" };
const timed = (otherLoad: number | null, cpuShare: number | null): TimedBeside => ({ otherLoad, cpuShare });

test("the stand-in keeps one processor busy; a program of its own what its quiet frames say", () => {
  const frames = [timed(0, 3.8), timed(0.1, 3.6), timed(null, 3.9), timed(0.6, 1.2), timed(0, null)];
  expect([threadsOf(STAND_IN, frames), threadsOf(OWN, frames)]).toEqual([1, 3.8]);
  expect(threadsOf(OWN, [timed(0.6, 1.2), timed(0, null)])).toBeNull();
});

test.each<[string, TimedBeside, number | null, number | null]>([
  ["half a processor, twice the time", timed(0.5, 0.5), 1, 0.5],
  ["other programs on other processors cost nothing", timed(0.5, 1), 1, 1],
  ["more than one, with what collects garbage, is no gain", timed(0.5, 1.1), 1, 1],
  ["a quiet machine is believed, also where the disk was waited for", timed(0.1, 0.4), 1, 1],
  ["unknown load is not busy", timed(null, 0.4), 1, 1],
  ["two of four processors", timed(0.5, 2), 4, 0.5],
  ["busy, and its share is not known", timed(0.5, null), 1, null],
  ["busy, and nothing tells what it would use", timed(0.5, 0.5), null, null],
])("%s", (_what, sample, threads, factor) => expect(aloneFactor(sample, threads)).toBe(factor));

test("a correction by a hair is not told, nor one that could not be made", () =>
  expect([isTold(0.5), isTold(0.97), isTold(1), isTold(null)]).toEqual([true, false, false, false]));
