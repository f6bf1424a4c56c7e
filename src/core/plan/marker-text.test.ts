import fc from "fast-check";
import { markerChange, readMarkers, withMarker, writeMarkers, writeMarkerTable } from "./marker-text";

test("a name and its frames a line, both ends inclusive; one frame may stand alone", () =>
  expect(readMarkers("dusk 90-120\n\n the lamp, lit 121 to 130\nflash 140\nminus -5--1")).toEqual({
    markers: [
      { name: "dusk", first: 90, end: 121 },
      { name: "flash", first: 140, end: 141 },
      { name: "minus", first: -5, end: 0 },
    ],
    // A comma makes a table of it: the name has to stand in quotes there.
    wrong: [{ line: 3, message: '"lit 121 to 130" to "lit 121 to 130" are no frames.' }],
  }));

test.each([
  ["", "dusk 5-8"],
  ["start 1-4\n", "start 1-4\ndusk 5-8"],
  ["dusk 1-2\nnot yet a line\nnoon 9-10", "dusk 5-8\nnot yet a line\nnoon 9-10"],
  ["name,first,last\ndusk,1,2", "name,first,last\ndusk 5-8"],
])("%p has dusk at 5-8 then, and everything else as it was", (text, next) =>
  expect(withMarker(text, "dusk", "5-8")).toBe(next),
);

test("a table as a spreadsheet writes it, with its head, semicolons, quotes and the mark of its coding", () =>
  expect(readMarkers('\uFEFFname;first;last\r\ndusk;90;120\r\n"the lamp; lit";121;130\r\n').markers).toEqual([
    { name: "dusk", first: 90, end: 121 },
    { name: "the lamp; lit", first: 121, end: 131 },
  ]));

test.each([
  ["dusk", 1, /is not a name and its frames/],
  ["dusk 120-90", 1, /ends before it begins/],
  ["dusk 1-2\ndusk 3-4", 2, /is there twice/],
  ["a/b 1-2", 1, /name of a marker/],
])("%p is told with its line", (text, line, message) => {
  const { wrong } = readMarkers(text);
  expect(wrong).toHaveLength(1);
  expect(wrong[0]!.line).toBe(line);
  expect(wrong[0]!.message).toMatch(message);
});

test("what is written is read back the same, as lines and as a table", () => {
  const frame = fc.integer({ min: -1000, max: 1000 });
  const name = fc.stringMatching(/^[a-z][a-z0-9 ]{0,8}[a-z]$/);
  const marker = fc.tuple(name, frame, fc.integer({ min: 1, max: 50 }));
  fc.assert(
    fc.property(fc.uniqueArray(marker, { selector: ([n]) => n, maxLength: 8 }), (all) => {
      const markers = all.map(([n, first, length]) => ({ name: n, first, end: first + length }));
      expect(readMarkers(writeMarkers(markers))).toEqual({ markers, wrong: [] });
      expect(readMarkers(writeMarkerTable(markers))).toEqual({ markers, wrong: [] });
    }),
    { seed: 11 },
  );
});

test("what a change makes: new ones, gone ones, others that lie elsewhere now", () =>
  expect(
    markerChange(
      [
        { name: "a", first: 1, end: 5 },
        { name: "b", first: 5, end: 9 },
      ],
      [
        { name: "b", first: 5, end: 10 },
        { name: "c", first: 1, end: 2 },
      ],
    ),
  ).toEqual({ added: ["c"], removed: ["a"], moved: ["b"] }));
