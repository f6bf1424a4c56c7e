import { readShotList } from "./shot-list";

test("columns are found by their names, in any order and with any separator", () => {
  const { wishes, wrong } = readShotList(
    "Title;Code;notes;Last;First;Camera\nthe ferry;HL040;x;1144;1001;quay+mole\n",
  );
  expect(wrong).toEqual([]);
  expect(wishes).toEqual([
    {
      line: 2,
      code: "HL040",
      title: "the ferry",
      timeLine: { first: 1001, last: 1144 },
      scene: null,
      renderer: "stand-in",
      cameras: ["quay", "mole"],
      markers: null,
    },
  ]);
});

test("a table without names has the usual order", () =>
  expect(readShotList("HL010,wakes,1,9,scenes/a.json,main").wishes[0]).toMatchObject({
    line: 1,
    code: "HL010",
    title: "wakes",
    timeLine: { first: 1, last: 9 },
    scene: "scenes/a.json",
    cameras: ["main"],
  }));

test("texts in quotes may hold separators and line ends", () =>
  expect(
    readShotList('code\ttitle\nA1\t"waves, and\nwind"\nA2\tx').wishes.map((w) => [w.line, w.title]),
  ).toEqual([
    [2, "waves, and\nwind"],
    [4, "x"],
  ]));

test("what is wrong is told with its line, and the rest is read", () => {
  const { wishes, wrong } = readShotList(
    "code,first,last\nA1,1,ten\n\n,1,2\nA2,1,\nA3,1,24\na3,1,24\nA4,1.5,2\n",
  );
  expect(wishes.map((w) => [w.line, w.code])).toEqual([[6, "A3"]]);
  expect(wrong).toEqual([
    { line: 2, message: '"ten" in the column last is no frame.' },
    { line: 4, message: "There is no code." },
    { line: 5, message: "First and last go together; last is blank." },
    { line: 7, message: "a3 stands in line 6 already." },
    { line: 8, message: '"1.5" in the column first is no frame.' },
  ]);
});

test("nothing, a mark of byte order and blank lines are no shots", () => {
  expect(readShotList("")).toEqual({ wishes: [], wrong: [] });
  expect(readShotList("\uFEFFcode\n \n,,\n")).toEqual({ wishes: [], wrong: [] });
});
