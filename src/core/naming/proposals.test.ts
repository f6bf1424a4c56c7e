import { formatPhrase } from "../frames/phrase";
import { rangeSet } from "../frames/frame-set";
import { type ListedFolder, proposeSequences } from "./proposals";

const listed = (folder: string, ...names: readonly string[]): ListedFolder => ({
  folder,
  entries: names.map((name) => ({ name, bytes: 10 })),
});
const numbered = (prefix: string, first: number, last: number, suffix = ".png", digits = 4): string[] =>
  Array.from(
    { length: last - first + 1 },
    (_, i) => `${prefix}${String(first + i).padStart(digits, "0")}${suffix}`,
  );
const told = (folders: readonly ListedFolder[]): string[] =>
  proposeSequences(folders).sequences.map(
    ({ folder, found, camera, pass }) =>
      `${folder}|${found.name}|${camera}|${pass}|${formatPhrase(found.frames)}`,
  );

test("each camera and pass is proposed once, the main one first", () => {
  expect(
    told([
      listed("depth", ...numbered("quay_depth.", 1, 20, ".exr")),
      listed("", ...numbered("quay.", 1, 24)),
      listed("camB/beauty", ...numbered("quay.", 1, 12)),
    ]),
  ).toEqual([
    "|quay.####.png|main|beauty|1-24",
    "camB/beauty|quay.####.png|camB|beauty|1-12",
    "depth|quay_depth.####.exr|main|depth|1-20",
  ]);
});

test("two that seem to be one are told apart by what they do not share", () => {
  expect(
    told([
      listed("", ...numbered("quay.", 1, 24), ...numbered("quay.", 1, 10, ".jpg")),
      listed("old", ...numbered("quay.", 1, 20)),
      listed("older/old", ...numbered("quay.", 1, 9)),
    ]),
  ).toEqual([
    "|quay.####.png|main|beauty|1-24",
    "old|quay.####.png|main-old|beauty|1-20",
    "|quay.####.jpg|main-jpg|beauty|1-10",
    "older/old|quay.####.png|main-older-old|beauty|1-9",
  ]);
});

test("names that differ in nothing a camera may be called still make two", () => {
  const sequences = proposeSequences([
    listed("a", ...numbered("..", 1, 12)),
    listed("a", ...numbered("--.", 1, 12)),
  ]).sequences;
  expect(new Set(sequences.map((s) => s.camera)).size).toBe(2);
});

test("a numbered picture beside a sequence is a stranger; alone it is a sequence of one", () => {
  const beside = proposeSequences([listed("", ...numbered("quay.", 1, 24), "board_2.jpg", "notes.txt")]);
  expect(beside.sequences).toHaveLength(1);
  expect(beside.others).toEqual(["board_2.jpg", "notes.txt"]);
  expect(proposeSequences([listed("", "still_1.png")]).sequences[0]!.found.frames).toEqual(rangeSet(1, 1));
});

test("what is left over and what is strange is told with its folder", () => {
  const { others, leftovers } = proposeSequences([
    listed("a", ...numbered("q.", 1, 3), "q.0004.png.part17", "q (conflicted copy).0001.png"),
  ]);
  expect(leftovers).toEqual(["a/q.0004.png.part17"]);
  expect(others).toEqual(["a/q (conflicted copy).0001.png"]);
});
