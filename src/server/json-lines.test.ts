import { lineOf, syntaxFault } from "./json-lines";

const text = `{
  "keep": {
    "logDays": 0
  },
  "renderers": {
    "drawn": { "program": "draw",
      "arguments": [
        "{scene}",
        7
      ]
    }
  }
}`;

test.each([
  ["/keep/logDays", undefined, 3],
  ["/renderers/drawn/arguments/1", undefined, 9],
  ["/renderers/drawn/arguments", undefined, 7],
  // What is missing is told at what it is missing from.
  ["/renderers/drawn/passes/depth", undefined, 6],
  ["/keep", "logDays", 3],
  ["", undefined, 1],
])("%p is in its line", (path, unknownKey, line) =>
  expect(lineOf(text, { path, message: "", ...(unknownKey === undefined ? {} : { unknownKey }) })).toBe(line),
);

test.each([
  ['{\n  "a": 1,\n}', 3],
  ['{\n  "a" 1\n}', 2],
  ["{\n  // why\n}", 2],
])("%p is no JSON, and the line says where", (broken, line) => expect(syntaxFault(broken)?.line).toBe(line));
test("JSON is JSON", () => expect(syntaxFault(text)).toBeNull());
