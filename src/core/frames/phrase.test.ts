import { EMPTY, members, rangeSet, setOf } from "./frame-set";
import { formatPhrase, type NameResolver, parsePhrase } from "./phrase";

const read = (phrase: string, resolve: NameResolver | null = null): number[] => {
  const result = parsePhrase(phrase, resolve);
  if (!result.ok) throw new Error(result.error.message);
  return [...members(result.set)];
};
const written = (frames: number[]): string => formatPhrase(setOf(frames));

describe("reading", () => {
  test.each([
    ["7", [7]],
    ["1-5", [1, 2, 3, 4, 5]],
    ["1-10/3,!4", [1, 7, 10]],
    ["-5--1", [-5, -4, -3, -2, -1]],
    ["-3-2/2", [-3, -1, 1]],
    [" 1 - 4 , ! 2 ", [1, 3, 4]],
    ["1-9/4", [1, 5, 9]],
    ["1-10/4", [1, 5, 9]],
    ["!3,1-4", [1, 2, 3, 4]],
    ["1-4,!3,3", [1, 2, 3, 4]],
    ["1-10 & 5-20", [5, 6, 7, 8, 9, 10]],
    ["1-12/2&1-12/3", [1, 7]],
    ["1-3&9", []],
    ["1-3&2-9,7", [2, 3, 7]],
    ["1-9,!2-8&4-20,6", [1, 2, 3, 6, 9]],
    ["1-20&5-15&10-30/5", [10, 15]],
  ])("%s", (phrase, frames) => expect(read(phrase)).toEqual(frames));

  test("names are looked up, with their argument, and can be taken away", () => {
    const resolve: NameResolver = (name, argument) =>
      name === "missing" ? setOf([3, 5, 92]) : name === "node" && argument === "quay-2" ? setOf([5]) : null;
    expect(read("missing,!90-96", resolve)).toEqual([3, 5]);
    expect(read("Missing, !node( quay-2 )", resolve)).toEqual([3, 92]);
    expect(read("missing & node(quay-2)", resolve)).toEqual([5]);
    expect(read("1-9,!missing&node(quay-2)", resolve)).toEqual([1, 2, 3, 4, 6, 7, 8, 9]);
    expect(parsePhrase("1,lost", resolve)).toMatchObject({
      ok: false,
      error: { code: "phrase-name", column: 3 },
    });
  });
});

describe("a wrong phrase says where and what to write", () => {
  test.each([
    ["55-57,90-86", "phrase-backwards", 'column 7: "90-86" runs backwards; write 86-90'],
    ["10-1", "phrase-backwards", 'column 1: "10-1" runs backwards; write 1-10'],
    ["", "phrase-empty", "column 1: the phrase is empty; write frames such as 1-96"],
    ["  ", "phrase-empty", "column 1: the phrase is empty; write frames such as 1-96"],
    ["1,,2", "phrase-syntax", "column 3: a term is missing between two commas or at an end"],
    ["1,", "phrase-syntax", "column 3: a term is missing between two commas or at an end"],
    ["1-4,2-6 &", "phrase-syntax", "column 10: a set is missing beside the &"],
    ["& 3", "phrase-syntax", "column 1: a set is missing beside the &"],
    ["1-9 & 7-2", "phrase-backwards", 'column 7: "7-2" runs backwards; write 2-7'],
    ["1-10/0", "phrase-step", 'column 1: the step in "1-10/0" must be a whole number from 1 up'],
    [
      "1, !4..6",
      "phrase-syntax",
      'column 5: "4..6" is not a frame, a range such as 1-96 or 1-96/2, or a name',
    ],
    [
      "missing",
      "phrase-name",
      'column 1: "missing" is a name, and a name needs a shot to look in; write numbers here',
    ],
    [
      "12345678901",
      "phrase-number",
      'column 1: "12345678901" is too large for a frame number; the limit is 999999999',
    ],
  ])("%p", (phrase, code, message) =>
    expect(parsePhrase(phrase)).toMatchObject({ ok: false, error: { code, message } }),
  );
});

describe("writing", () => {
  test.each([
    [[1, 2, 3, 5, 7], "1-3,5,7"],
    [[1, 3, 5], "1,3,5"],
    [[1, 3, 5, 7, 9], "1-9/2"],
    [[1, 7, 10], "1,7,10"],
    [[1001, 1003, 1005], "1001-1005/2"],
    [[-5, -4, -3], "-5--3"],
    [[4, 5], "4-5"],
    [[], ""],
  ])("%p is %s", (frames, phrase) => expect(written(frames)).toBe(phrase));

  test("the largest numbers there are, either way", () =>
    expect([
      formatPhrase(rangeSet(-999_999_999, 999_999_999)),
      formatPhrase(rangeSet(-999_999_999, -999_999_999)),
      formatPhrase(setOf([0, 10, 99, 1000])),
    ]).toEqual(["-999999999-999999999", "-999999999", "0,10,99,1000"]));

  test("a text longer than the first room for it is whole", () => {
    const frames = Array.from({ length: 3000 }, (_, i) => i * i);
    expect(formatPhrase(setOf(frames))).toBe(["0-1", ...frames.slice(2)].join(","));
  });

  test("a long stepped run stays one term", () =>
    expect(formatPhrase(rangeSet(0, 1_000_000, 4))).toBe("0-1000000/4"));
});

test.each([
  ["a name with blanks in its brackets", `marker(${" ".repeat(200_000)}x`],
  ["a name that never ends", `${"a-".repeat(100_000)}.`],
  ["a range with blanks", `1${" ".repeat(100_000)}-${" ".repeat(100_000)}x`],
  ["brackets that never close", "marker(".repeat(30_000)],
  ["a step with blanks", `1-9${" ".repeat(200_000)}/x`],
])("%s costs no more than its length, and is told in a line", (_what, phrase) => {
  const read = parsePhrase(phrase, () => EMPTY);
  expect(read).toMatchObject({ ok: false, error: { code: "phrase-syntax" } });
  expect(read.ok ? 0 : read.error.message.length).toBeLessThan(250);
});

test("blanks within the brackets of a name are free", () => {
  const asked: (string | null)[] = [];
  parsePhrase("marker(  dusk  ), marker(night)", (_name, argument) => {
    asked.push(argument);
    return EMPTY;
  });
  expect(asked).toEqual(["dusk", "night"]);
});
