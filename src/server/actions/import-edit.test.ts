import { BOUNDS } from "@/contract/bounds";
import { readEdit } from "./import-edit";

const RATE = { numerator: 24, denominator: 1 };
const edit = (title: string): string =>
  `TITLE: ${title}\n001 AX V C 00:00:10:00 00:00:12:00 01:00:00:00 01:00:02:00\n`;

test("an edit without a title is called after its file", () =>
  expect(readEdit("cut 4.edl", edit(""), RATE).title).toBe("cut 4"));

test("a title that its column does not hold is refused in words, and not cut", () => {
  expect(readEdit("a.edl", edit("x".repeat(BOUNDS.editTitle)), RATE).title).toHaveLength(BOUNDS.editTitle);
  expect(() => readEdit("a.edl", edit("x".repeat(BOUNDS.editTitle + 1)), RATE)).toThrow("title has 201");
});
