import { readPastedFrames } from "./pasted-frames";

test.each([
  ["55\n57\n\n90\n", "55,57,90"],
  ["1001 1005\t1010", "1001,1005,1010"],
  ["55, 57 and 90 to 96", "55,57,90-96"],
  ["frames: 55-57, 77; 90–96", "55-57,77,90-96"],
  ["Frame 0055 through 0057 & 77", "55-57,77"],
  ["#12, #14.", "12,14"],
  ["90..96", "90-96"],
  ["1-9/2 12", "1-9/2,12"],
  ["5 - 9", "5-9"],
])("%j", (text, phrase) => expect(readPastedFrames(text)).toBe(phrase));

test.each([
  "",
  "  ",
  "the lamp flickers",
  "55 to",
  "to 55",
  "5 to 9 to 12",
  "missing,55",
  "12345678901",
  "5 to and 9",
])("%j is no list of frames", (text) => expect(readPastedFrames(text)).toBeNull());

test("a list of a hundred thousand lines is read in one go", () => {
  const lines = Array.from({ length: 100_000 }, (_, i) => String(i));
  expect(readPastedFrames(lines.join("\n"))!.split(",")).toHaveLength(100_000);
});
