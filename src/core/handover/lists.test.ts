import { concatList, patchList, pathList, sumsList } from "./lists";

test("a path a line, and nothing for nothing", () => {
  expect(pathList(["/a/b.0001.png", "/a/b.0002.png"])).toBe("/a/b.0001.png\n/a/b.0002.png\n");
  expect(pathList([])).toBe("");
});

test("a list for ffmpeg quotes every name, and names the last file twice", () => {
  expect(concatList(["/it's/a.png", "/b c.png"], 1001 / 24000)).toBe(
    [
      "ffconcat version 1.0",
      "file '/it'\\''s/a.png'",
      "duration 0.041708333",
      "file '/b c.png'",
      "duration 0.041708333",
      "file '/b c.png'",
      "",
    ].join("\n"),
  );
});

test("sums escape what would break a line", () => {
  expect(
    sumsList([
      { name: "a.png", sum: "00" },
      { name: "b\\c\nd.png", sum: "11" },
    ]),
  ).toBe("00  a.png\n\\11  b\\\\c\\nd.png\n");
});

test("a patch list begins with its phrase, and says of each frame why, in one line", () => {
  const line = (frame: number, result: string, ...findings: string[]) => ({ frame, result, findings });
  expect(
    patchList([line(3, "missing"), line(4, "missing"), line(9, "flagged", "too\ndark", "a hot pixel")]),
  ).toBe("3-4,9\n3 missing\n4 missing\n9 flagged too dark; a hot pixel\n");
  expect(patchList([])).toBe("");
});
