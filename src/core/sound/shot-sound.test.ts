import { loudestOfFrames, type ShotSound, soundFault } from "./shot-sound";

const RATE = { numerator: 10, denominator: 1 };
const TIMING = { timeLine: { first: 1, last: 20, rate: RATE }, rate: RATE, offset: 1000 };
/** A second of silence but for one click after 250 ms, at 1,000 samples a second; the second channel is softer. */
const click = new Float32Array(1000);
click[250] = -0.8;
const SOUND = { channels: [click, click.map((v) => v / 2)], sampleRate: 1000 };
const loud = (offset: number, numbers: readonly number[], timing = TIMING) =>
  loudestOfFrames(SOUND, { offset }, timing, numbers).map((v) =>
    v === null ? null : Math.round(v * 10) / 10,
  );

test("a sound that begins with the time line is heard at the numbers of the files, and nowhere else", () =>
  expect(loud(0, [1000, 1001, 1003, 1004, 1010, 1011])).toEqual([null, 0, 0.8, 0, 0, null]));

test("an offset moves it, to both sides", () => {
  expect(loud(0.5, [1003, 1005, 1006, 1008])).toEqual([null, null, 0, 0.8]);
  expect(loud(-0.2, [1001, 1002])).toEqual([0.8, 0]);
});

test("at another rate of the plan it stays where it is in time", () =>
  expect(loud(0, [1001, 1002, 1003], { ...TIMING, rate: { numerator: 5, denominator: 1 } })).toEqual([
    0, 0.8, 0,
  ]));

test.each<[string, ShotSound, RegExp | null]>([
  ["a sound", { path: "scenes/sound/gulls.WAV", offset: -1.5 }, null],
  ["a picture", { path: "scenes/sky.png", offset: 0 }, /ends in/],
  ["an offset that is no number", { path: "a.wav", offset: Number.NaN }, /seconds/],
  ["an offset of a week", { path: "a.wav", offset: 604_800 }, /seconds/],
])("%s is judged", (_what, sound, fault) =>
  fault === null ? expect(soundFault(sound)).toBeNull() : expect(soundFault(sound)).toMatch(fault),
);
