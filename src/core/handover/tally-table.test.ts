import { rangeSet, setOf } from "../frames/frame-set";
import { deriveTally, NO_FACTS } from "../tally/tally";
import { tallyCsv, tallyRows } from "./tally-table";

const tally = deriveTally({
  ...NO_FACTS,
  asked: rangeSet(1, 3),
  files: setOf([1, 3]),
  findingOpen: setOf([3]),
});
const file = (frame: number) => ({
  ...{ frame, name: `a.000${frame}.png`, bytes: 10, content: "ab", node: "quay-1" },
  ...{ seconds: 1.5, samples: 16, luminance: 0.25, noise: null },
});
const rows = tallyRows(
  rangeSet(1, 3),
  tally,
  [file(1), file(3)],
  new Map([[3, ["=too dark", 'pop, "here"']]]),
);

test("a row a frame, also of those that have no file", () => {
  expect(rows.map(({ frame, result, file: name }) => [frame, result, name])).toEqual([
    [1, "good", "a.0001.png"],
    [2, "missing", null],
    [3, "flagged", "a.0003.png"],
  ]);
});

test("as CSV: a head, blanks for what is not known, and no text that a spreadsheet computes", () => {
  const [head, first, second, third] = tallyCsv(rows).split("\n");
  expect(head).toBe("frame,result,file,bytes,sha256,node,seconds,samples,luminance,noise,findings");
  expect(first).toBe("1,good,a.0001.png,10,ab,quay-1,1.5,16,0.25,,");
  expect(second).toBe("2,missing,,,,,,,,,");
  expect(third).toContain(`"'=too dark; pop, ""here"""`);
});
