import type { EditClip } from "./edit-list";
import { matchEdit } from "./edit-use";
import { shotsOfEdit, timeLineFor, timeLineGrown } from "./edit-shots";

const clip = (name: string, first: number, end: number, at = "line 1"): EditClip => ({
  names: [name],
  first,
  end,
  starts: 0,
  at,
});
const of = (clips: readonly EditClip[], known: readonly string[] = []) => shotsOfEdit({ clips }, known);

test("each name is a shot, and two clips of one are joined", () => {
  const { shots, codes } = of([
    clip("HL010_v003.mov", 1009, 1080, "line 3"),
    clip("hl020", 5, 20),
    clip("HL010", 1001, 1020),
  ]);
  expect(shots).toEqual([
    { code: "HL010", clips: 2, used: { first: 1001, last: 1079 }, at: "line 3" },
    { code: "HL020", clips: 1, used: { first: 5, last: 19 }, at: "line 1" },
  ]);
  expect(codes).toEqual(["HL010", "HL020", "HL010"]);
});

test("a shot that is there is meant before a new one is made of the name", () => {
  expect(of([clip("HL010_020_v2", 1, 9)], ["HL010_020", "HL010"]).shots[0]!.code).toBe("HL010_020");
  expect(of([clip("harbour_7", 1, 9)], ["Harbour_7"]).shots[0]!.code).toBe("Harbour_7");
});

test("what the edit uses is counted for the same shot", () => {
  const timeLine = { first: 1, last: 20, rate: { numerator: 24, denominator: 1 } };
  const shots = ["HL010", "HL010_020"].map((code) => ({ code, timeLine }));
  const { uses } = matchEdit({ clips: [clip("HL010_020_v2", 1, 9)] }, shots);
  expect(uses.map((use) => use.code)).toEqual(["HL010_020"]);
});

test("a clip without a name or a length is no shot", () =>
  expect(of([clip("...", 1, 9), clip("HL010", 4, 4)])).toEqual({ shots: [], codes: [null, null] }));

test("handles go around what is used, and not below 0 by themselves", () => {
  expect(timeLineFor({ first: 1001, last: 1010 }, 8)).toEqual({ first: 993, last: 1018 });
  expect(timeLineFor({ first: 3, last: 10 }, 8)).toEqual({ first: 0, last: 18 });
  expect(timeLineFor({ first: -3, last: 10 }, 8)).toEqual({ first: -11, last: 18 });
});

test("a time line grows where an edit leaves it, and never shrinks", () => {
  const there = { first: 1001, last: 1096 };
  expect(timeLineGrown(there, { first: 1001, last: 1096 }, 8)).toEqual(there);
  expect(timeLineGrown(there, { first: 1040, last: 1050 }, 8)).toEqual(there);
  expect(timeLineGrown(there, { first: 1040, last: 1100 }, 8)).toEqual({ first: 1001, last: 1108 });
  expect(timeLineGrown(there, { first: 990, last: 1050 }, 8)).toEqual({ first: 982, last: 1096 });
});
