import { members } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { groupFiles } from "./group-files";
import { nameHazards } from "./hazards";
import { fileName, parsePattern } from "./pattern";

const values = { project: "harbour", shot: "HL010", version: "v001", pass: "beauty", camera: "main" };
const nameOf = (source: string, frame: number, digits = 4): string => {
  const parsed = parsePattern(source, digits);
  if (!parsed.ok) throw new Error(parsed.error.message);
  return fileName(parsed.pattern, values, frame, "png");
};
const hazardsOf = (source: string, digits: number, first: number, last: number, sequences = [values]) => {
  const parsed = parsePattern(source, digits);
  if (!parsed.ok) throw new Error(parsed.error.message);
  return nameHazards(source, parsed.pattern, sequences, "png", first, last);
};

describe("names from a pattern", () => {
  test.each([
    ["{shot}_{pass}.{frame}", 7, "HL010_beauty.0007.png"],
    ["{shot}.######", 7, "HL010.000007.png"],
    ["{shot}.%05d", 7, "HL010.00007.png"],
    ["{shot}.{frame}", -7, "HL010.-0007.png"],
    ["{shot}.{frame}", 12345, "HL010.12345.png"],
    ["", 7, "0007.png"],
  ])("%p frame %p", (source, frame, name) => expect(nameOf(source, frame)).toBe(name));

  test.each([
    ["{shot}_{pass}", "pattern-no-frame"],
    ["{frame}_####", "pattern-two-frames"],
    ["{shot}.{frmae}", "pattern-unknown-token"],
    ["../{frame}", "pattern-folder"],
    ["{shot}.##########", "pattern-digits"],
  ])("%p is refused as %s", (source, code) =>
    expect(parsePattern(source, 4)).toMatchObject({ ok: false, error: { code } }),
  );
});

describe("hazards carry their mend", () => {
  test("too few digits for the last frame", () => {
    expect(hazardsOf("{shot}_x.{frame}", 3, 998, 1002)).toEqual([
      { code: "too-few-digits", digits: 3, needed: 4, mend: { digits: 4, pattern: "{shot}_x.{frame}" } },
    ]);
  });
  test.each([
    ["all numbers have four", 1001, 1096, false],
    ["from three to four", 900, 1096, true],
    ["over 0", -5, 120, true],
    ["all are negative and have two", -48, -10, false],
  ])("two digits, and %s: %p to %p", (_what, first, last, isTold) =>
    expect(hazardsOf("{shot}_x.{frame}", 2, first, last).some((h) => h.code === "too-few-digits")).toBe(
      isTold,
    ),
  );
  test("a pattern that says its digits itself is mended in the pattern", () => {
    expect(hazardsOf("{shot}_x.###", 6, 998, 1002)).toMatchObject([
      { code: "too-few-digits", mend: { pattern: "{shot}_x.####" } },
    ]);
  });
  test("a digit right before the number gets a separator", () => {
    const [hazard] = hazardsOf("{shot}{frame}", 4, 1, 10);
    expect(hazard).toEqual({ code: "digit-before-number", mend: { pattern: "{shot}.{frame}" } });
  });
  test("characters and lengths that another system refuses, and negative numbers", () => {
    expect(hazardsOf("a:b.{frame}", 4, -2, 10).map((h) => h.code)).toEqual([
      "forbidden-characters",
      "negative-numbers",
    ]);
    expect(hazardsOf(`${"x".repeat(220)}.{frame}`, 4, 1, 10).map((h) => h.code)).toEqual(["name-too-long"]);
  });
  test("negative numbers are mended by an offset that starts at 1001", () =>
    expect(hazardsOf("{shot}_x.{frame}", 4, -2, 10)).toEqual([
      { code: "negative-numbers", first: -2, mend: { offset: 1003 } },
    ]));
  test.each([
    ["{shot}.{frame}", "{shot}_{pass}.{frame}"],
    ["{shot}_####", "{shot}_{pass}_####"],
    ["", "{pass}.{frame}"],
  ])("passes that %p gives one name get the pass into it", (source, mended) => {
    expect(hazardsOf(source, 4, 1, 10, [values, { ...values, pass: "depth" }])).toEqual([
      { code: "same-name", token: "pass", what: "Passes beauty, depth", mend: { pattern: mended } },
    ]);
    expect(hazardsOf(mended, 4, 1, 10, [values, { ...values, pass: "depth" }])).toEqual([]);
  });
  test("cameras whose names differ in capitals only", () =>
    expect(hazardsOf("{camera}.{frame}", 4, 1, 10, [values, { ...values, camera: "Main" }])).toEqual([
      { code: "differs-in-case" },
    ]));
  test("a sound name has none", () => expect(hazardsOf("{shot}_{pass}.{frame}", 4, 1001, 1096)).toEqual([]));
});

describe("a folder read back", () => {
  const group = (...names: string[]) => groupFiles(names.map((name) => ({ name, bytes: 10 })));

  test("gaps, sizes and usual width", () => {
    const [sequence, ...rest] = group("a.1001.png", "a.1002.png", "a.1005.png").sequences;
    expect(rest).toEqual([]);
    expect(sequence).toMatchObject({ name: "a.####.png", widths: [4], doubles: [], bytes: 30 });
    expect(formatPhrase(sequence!.missing)).toBe("1003-1004");
  });
  test("mixed widths are one sequence, a number written twice is a double", () => {
    const [sequence] = group("side_9.png", "side_010.png", "side_009.png", "side_008.png").sequences;
    expect(sequence).toMatchObject({
      name: "side_###.png",
      widths: [1, 3],
      doubles: [{ frame: 9, files: ["side_009.png", "side_9.png"] }],
    });
    expect([...members(sequence!.frames)]).toEqual([8, 9, 10]);
  });
  test("temporary, foreign and conflicted files are no frames", () => {
    const found = group(
      "a.0001.png",
      "a.0002.png.part17",
      "notes.txt",
      "smoke.particles",
      "notes.partial",
      "a.0001 (conflicted copy 2026-11-01).png",
      "cover.png",
    );
    expect(found.sequences.map((s) => s.name)).toEqual(["a.####.png"]);
    expect(found.leftovers).toEqual(["a.0002.png.part17"]);
    expect(found.others).toEqual([
      "a.0001 (conflicted copy 2026-11-01).png",
      "cover.png",
      "notes.partial",
      "notes.txt",
      "smoke.particles",
    ]);
  });
  test("negative numbers follow a separator; a dash in a name is no sign", () => {
    expect(group("a.-0002.png", "a.-0001.png", "a.0000.png").sequences[0]!.files.map((f) => f.frame)).toEqual(
      [-2, -1, 0],
    );
    expect(group("shot-0002.png").sequences[0]!.files[0]!.frame).toBe(2);
  });
  test("formats stand apart", () => expect(group("a.1.png", "a.1.exr").sequences).toHaveLength(2));
});

test("a number that no frame can have is a stranger's, listed under others", () => {
  const found = groupFiles(
    ["HL010.0001.png", "HL010.20240101120000.png", "HL010.99999999999999999999.png"].map((name) => ({
      name,
      bytes: 1,
    })),
  );
  expect(found.sequences.map((s) => [s.name, s.frames.count])).toEqual([["HL010.####.png", 1]]);
  expect(found.others).toEqual(["HL010.20240101120000.png", "HL010.99999999999999999999.png"]);
});
