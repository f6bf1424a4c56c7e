import fc from "fast-check";
import { beatAt, comingPlaces, type Direction, ENDS, placeAtBeat, type PlayRound } from "./play-clock";

const round = (settings: Partial<PlayRound> = {}): PlayRound => ({
  first: 10,
  last: 14,
  every: 1,
  ends: "loop",
  holdBeats: 0,
  ...settings,
});

const shown = (settings: PlayRound, from: number, direction: Direction, beats: number): number[] =>
  Array.from({ length: beats }, (_, beat) => placeAtBeat(settings, from, direction, beat).place);

test.each<[string, Partial<PlayRound>, number, Direction, number[]]>([
  ["a loop begins again", {}, 10, 1, [10, 11, 12, 13, 14, 10, 11]],
  ["from the middle", {}, 13, 1, [13, 14, 10]],
  ["backwards", {}, 11, -1, [11, 10, 14, 13]],
  ["from before the range: its first", {}, 3, 1, [10, 11]],
  ["from behind it: its last", {}, 30, -1, [14, 13]],
  ["a loop that holds: each end stands longer", { holdBeats: 2 }, 13, 1, [13, 14, 14, 14, 10, 10, 10, 11]],
  ["back and forth", { ends: "back-and-forth" }, 10, 1, [10, 11, 12, 13, 14, 13, 12, 11, 10, 11]],
  ["backwards and forth", { ends: "back-and-forth" }, 12, -1, [12, 11, 10, 11, 12, 13, 14, 13]],
  [
    "back and forth with holds",
    { ends: "back-and-forth", last: 12, holdBeats: 1 },
    10,
    1,
    [10, 11, 12, 12, 11, 10, 10, 11, 12, 12],
  ],
  ["once: the end stays", { ends: "once" }, 12, 1, [12, 13, 14, 14, 14]],
  ["once, backwards", { ends: "once" }, 11, -1, [11, 10, 10]],
  ["every second", { every: 2 }, 10, 1, [10, 12, 14, 10]],
  ["every third: the last stop is inside the range", { every: 3 }, 10, 1, [10, 13, 10]],
  ["every second, backwards", { every: 2 }, 14, -1, [14, 12, 10, 14]],
  ["one place", { last: 10, ends: "back-and-forth" }, 10, 1, [10, 10, 10]],
  ["one place, looped with a hold", { last: 10, holdBeats: 3 }, 10, -1, [10, 10, 10]],
])("%s", (_name, settings, from, direction, places) =>
  expect(shown(round(settings), from, direction, places.length)).toEqual(places),
);

test("playing once is over when its last stop was shown, and held", () => {
  const isOver = (settings: Partial<PlayRound>, beat: number): boolean =>
    placeAtBeat(round({ ends: "once", ...settings }), 13, 1, beat).isOver;
  expect([0, 1, 2].map((beat) => isOver({}, beat))).toEqual([false, false, true]);
  expect([2, 3, 4].map((beat) => isOver({ holdBeats: 2 }, beat))).toEqual([false, false, true]);
});

test("a beat is as long as its places, by exact fractions", () => {
  const film = { numerator: 24_000, denominator: 1_001 };
  expect(beatAt(1, { numerator: 24, denominator: 1 }, 1)).toBe(24);
  expect(beatAt(1, { numerator: 24, denominator: 1 }, 2)).toBe(12);
  expect(beatAt(3_600, film, 1)).toBe(86_313);
  expect(beatAt(1_001 / 24_000, film, 1)).toBe(1);
  expect(beatAt(1_000 / 24_000, film, 1)).toBe(0);
});

test("what comes next is told once each, as far as it is asked for", () => {
  expect(comingPlaces(round(), 13, 1, 3)).toEqual([13, 14, 10]);
  expect(comingPlaces(round(), 13, 1, 99)).toEqual([13, 14, 10, 11, 12]);
  expect(comingPlaces(round({ ends: "back-and-forth" }), 11, -1, 99)).toEqual([11, 10, 12, 13, 14]);
  expect(comingPlaces(round({ ends: "once" }), 13, 1, 99)).toEqual([13, 14]);
});

test("every stop of a round is shown once a way, and nothing outside of it", () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 50 }),
      fc.integer({ min: 0, max: 40 }),
      fc.integer({ min: 1, max: 7 }),
      fc.constantFrom(...ENDS),
      fc.integer({ min: 0, max: 4 }),
      fc.constantFrom<Direction>(1, -1),
      (first, length, every, ends, holdBeats, direction) => {
        const settings = round({ first, last: first + length, every, ends, holdBeats });
        const from = direction === 1 ? first : first + length;
        const stops = Array.from({ length: Math.floor(length / every) + 1 }, (_, i) => first + i * every);
        const due = new Set(shown(settings, from, direction, 200));
        expect([...due].sort((a, b) => a - b)).toEqual(stops);
        expect(new Set(comingPlaces(settings, from, direction, 1_000))).toEqual(due);
      },
    ),
    { seed: 13, numRuns: 300 },
  );
});
