import { rangeSet } from "./frame-set";
import { meantFrames } from "./meant-frames";

const RATE = { numerator: 24, denominator: 1 };
const NTSC = { numerator: 24_000, denominator: 1001 };
const line = { first: 1001, last: 1096 };
const meant = (text: string, at = line, rate = RATE) => meantFrames(text, at, rate);

test.each([
  ["80s", "1001-2920", "1 min 20 s from the beginning, 1920 frames"],
  ["1m20s", "1001-2920", "1 min 20 s from the beginning, 1920 frames"],
  ["1 min", "1001-2440", "1 min from the beginning, 1440 frames"],
  ["0,5s", "1001-1012", "0.5 s from the beginning, 12 frames"],
])("%p is a length", (text, phrase, words) =>
  expect(meant(text)).toEqual({ kind: "length", meant: { phrase, words } }),
);

test("a length counts in the exact rate", () =>
  expect(meant("1h", line, NTSC)).toMatchObject({ meant: { phrase: `1001-${1000 + 86_314}` } }));

test("a stretch is turned into its numbers where only numbers are kept, and one that is none is nothing", () => {
  const names = (name: string, of: string | null) =>
    name === "marker" && of === "dusk" ? rangeSet(1010, 1020) : null;
  expect(meantFrames("marker(dusk), 1055", line, RATE, names)).toEqual({
    kind: "stretch",
    meant: { words: "1010-1020,1055", phrase: "1010-1020,1055" },
  });
  expect(meantFrames("marker(dawn)", line, RATE, names)).toBeNull();
  expect(meantFrames("marker(dusk)", line, RATE)).toBeNull();
});

test("a clock time has two readings, and neither is taken", () =>
  expect(meant("1:20")).toEqual({
    kind: "two-readings",
    readings: [
      { words: "1 min 20 s, 1920 frames", phrase: "1001-2920" },
      { words: "1 s and 20 frames, 44 frames", phrase: "1001-1044" },
    ],
  }));

test.each([
  ["55-57", line, 1000, "1055-1057"],
  ["1,90-96/2", line, 1000, "1001,1090-1096/2"],
  // A shot that begins at no round number: its first is frame 1.
  ["3", { first: 86, last: 120 }, 85, "88"],
  ["0-3", { first: 86, last: 120 }, 86, "86-89"],
])("%p in a shot from %p is offered %p further up", (text, at, by, phrase) =>
  expect(meant(text, at)).toEqual({ kind: "shifted", by, meant: { phrase, words: phrase } }),
);

test.each(["1055-1057", "90-200", "missing", "", "80", "5000", "s", "m", "0s", "-5", "1:2:3"])(
  "%p is left as it is",
  (text) => expect(meant(text, text === "80" ? { first: 1, last: 96 } : line)).toBeNull(),
);
