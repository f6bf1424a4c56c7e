import { LineCutter } from "./line-cutter";

function linesOf(longest: number, ...pieces: readonly string[]): readonly string[] {
  const lines: string[] = [];
  const cutter = new LineCutter(longest, (line) => lines.push(line));
  for (const piece of pieces) cutter.write(piece);
  cutter.end();
  return lines;
}

test("lines come whole, however they came in pieces; the last needs no end", () => {
  expect(linesOf(10, "on", "e\ntw", "o\r\n\nth", "ree")).toEqual(["one", "two", "", "three"]);
  expect(linesOf(10, "one\n")).toEqual(["one"]);
});

test("what a line has beyond its length is counted and not kept", () => {
  expect(linesOf(4, "abcdefg\nhi")).toEqual(["abcd … 3 characters more", "hi"]);
  expect(linesOf(4, "ab", "cd", "ef", "g\n")).toEqual(["abcd … 3 characters more"]);
});

test("thirty million characters in one line cost what they are, and no more", () => {
  const piece = "x".repeat(100_000);
  expect(linesOf(3, ...Array.from({ length: 300 }, () => piece))).toEqual([
    "xxx … 29,999,997 characters more",
  ]);
});
