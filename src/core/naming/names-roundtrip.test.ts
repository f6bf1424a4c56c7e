/** Names that are made are read back: the number, its width, and which files belong together. */
import fc from "fast-check";
import { isEqual, rangeSet, setOf } from "../frames/frame-set";
import { groupFiles, isLeftoverName, splitName } from "./group-files";
import { nameHazards } from "./hazards";
import { fileName, parsePattern } from "./pattern";

const SEED = 20261125;
const VALUES = { project: "harbour-lights", shot: "HL010", version: "v001", pass: "beauty", camera: "main" };
const PATTERNS = [
  "{shot}_{pass}.{frame}",
  "{project}/{shot}".replace("/", "-") + "_{frame}",
  "{frame}",
  "",
  "{shot}.{version}.####",
  "a%05d",
  "{camera} {frame}",
];

const made = (source: string, digits: number, frame: number): string => {
  const read = parsePattern(source, digits);
  if (!read.ok) throw new Error(read.error.message);
  return fileName(read.pattern, VALUES, frame, "png");
};

test.each(PATTERNS)("the number of %p is read back as it was written", (source) => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 99_999 }), fc.integer({ min: 1, max: 6 }), (frame, digits) => {
      const name = made(source, digits, frame);
      expect(splitName(name)?.frame).toBe(frame);
    }),
    { seed: SEED, numRuns: 150 },
  );
});

test("a negative number keeps its sign in front of the zeros, and comes back", () => {
  expect(made("{shot}_{frame}", 4, -7)).toBe("HL010_-0007.png");
  expect(splitName("HL010_-0007.png")).toMatchObject({ frame: -7, width: 4 });
  // A dash that joins words is no sign.
  expect(splitName("HL010-0007.png")).toMatchObject({ frame: 7 });
});

test("a hazard for digits before the number is raised exactly where another program would read the number wrong", () => {
  const hazardsOf = (source: string): string[] => {
    const read = parsePattern(source, 4);
    return read.ok
      ? nameHazards(source, read.pattern, [VALUES], "png", 1, 10).map((h) => h.code)
      : ["unreadable"];
  };
  for (const [source, isWrong] of [
    ["{shot}{frame}", true],
    ["{shot}.{frame}", false],
    ["take2####", true],
    ["take2_####", false],
    ["{pass}{frame}", false],
  ] as const) {
    expect([source, hazardsOf(source).includes("digit-before-number")]).toEqual([source, isWrong]);
    expect([
      source,
      splitName(made(source, 4, 3))?.frame === 3 && splitName(made(source, 4, 3))?.width === 4,
    ]).toEqual([source, !isWrong]);
  }
});

test("a folder of two sequences and strangers comes apart as it was put together", () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 0, max: 300 }), { minLength: 1, maxLength: 60 }),
      fc.uniqueArray(fc.integer({ min: 0, max: 300 }), { minLength: 1, maxLength: 60 }),
      (first, second) => {
        const entries = [
          ...first.map((f) => made("{shot}_{pass}.{frame}", 4, f)),
          ...second.map((f) => made("{shot}_depth.{frame}", 4, f)),
          "notes.txt",
          "HL010_beauty.0001.png.part3",
        ].map((name) => ({ name, bytes: 10 }));
        const groups = groupFiles(entries);
        expect(groups.sequences.map((s) => s.name)).toEqual([
          "HL010_beauty.####.png",
          "HL010_depth.####.png",
        ]);
        expect(groups.sequences.map((s, i) => isEqual(s.frames, setOf([first, second][i]!)))).toEqual([
          true,
          true,
        ]);
        expect(groups.sequences[0]!.missing.count).toBe(
          rangeSet(Math.min(...first), Math.max(...first)).count - first.length,
        );
        expect([groups.others, groups.leftovers]).toEqual([["notes.txt"], ["HL010_beauty.0001.png.part3"]]);
      },
    ),
    { seed: SEED, numRuns: 60 },
  );
});

test.each([
  ["a.0001.png.part12", true],
  ["a.0001.png.part3f-x", false],
  ["smoke.particles", false],
  ["notes.partial", false],
  ["part.0001.png", false],
  ["a.part1.png", false],
])("%p left over: %p", (name, left) => expect(isLeftoverName(name)).toBe(left));
