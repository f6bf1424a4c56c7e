import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { ACTIVITIES, RESULTS, type Tally } from "../tally/tally";
import { patchRanges, type Reason } from "./patch-ranges";

const tally = (
  results: Partial<Tally["results"]>,
  activities: Partial<Tally["activities"]> = {},
): Pick<Tally, "results" | "activities"> => ({
  results: { ...(Object.fromEntries(RESULTS.map((r) => [r, EMPTY])) as Tally["results"]), ...results },
  activities: {
    ...(Object.fromEntries(ACTIVITIES.map((a) => [a, EMPTY])) as Tally["activities"]),
    ...activities,
  },
});
const said = (frame: number, text: string): Reason => ({ frame, source: "person", code: "by-hand", text });
const found = (frame: number, code: string): Reason => ({ frame, source: "check", code, text: `${frame} …` });
const told = (of: ReturnType<typeof tally>, findings: readonly Reason[]) =>
  patchRanges(of, findings).map(({ result, why, frames }) => [result, why, formatPhrase(frames)]);

test("frames of one reason are one range, in the order in which they come", () => {
  const of = tally({ missing: rangeSet(40, 48), stale: setOf([3]), flagged: setOf([10, 11, 12, 30]) });
  const findings = [said(10, "no lamp"), found(11, "truncated"), said(12, "no lamp"), found(30, "truncated")];
  expect(told(of, findings)).toEqual([
    ["stale", null, "3"],
    ["flagged", "no lamp", "10,12"],
    ["flagged", "truncated", "11,30"],
    ["missing", null, "40-48"],
  ]);
});

test("what a node has in hand is seen to; a flag that nothing explains is told all the same", () => {
  const of = tally(
    { missing: rangeSet(1, 6), flagged: setOf([9]) },
    { rendering: setOf([2]), waiting: rangeSet(4, 6) },
  );
  expect(told(of, [])).toEqual([
    ["missing", null, "1,3"],
    ["flagged", null, "9"],
  ]);
});

test("a person's word that is a code is still a person's word", () => {
  const of = tally({ flagged: setOf([1, 2]) });
  expect(patchRanges(of, [said(1, "truncated"), found(2, "truncated")]).map((range) => range.isSaid)).toEqual(
    [true, false],
  );
  expect(patchRanges(tally({}), [said(1, "gone")])).toEqual([]);
});
