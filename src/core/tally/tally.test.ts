import { has, isEqual, rangeSet, setOf, union, unionAll } from "../frames/frame-set";
import { formatPhrase, parsePhrase } from "../frames/phrase";
import { phraseNames } from "./names";
import { packTally, unpackTally } from "./packed";
import { countsOf, deriveTally, type Facts, NO_FACTS, type Result, RESULTS, todoOf } from "./tally";

const frame = setOf([7]);
const asked = { ...NO_FACTS, asked: frame };
const whole = { ...asked, files: frame };

/** Every row of the table of states, and what each row gives way to. */
const ROWS: readonly (readonly [string, Facts, Result])[] = [
  ["a file that the plan does not ask for", { ...NO_FACTS, files: frame }, "extra"],
  ["a file nobody asked for that is also damaged", { ...NO_FACTS, files: frame, rejected: frame }, "extra"],
  ["a file that a check rejects", { ...whole, rejected: frame }, "flagged"],
  ["a file with an open finding", { ...whole, findingOpen: frame }, "flagged"],
  ["a flagged file of another look", { ...whole, findingOpen: frame, otherLook: frame }, "flagged"],
  ["a flagged file that changed since", { ...whole, findingOpen: frame, unlooked: frame }, "flagged"],
  ["a whole file of another look", { ...whole, otherLook: frame }, "stale"],
  ["a whole file", whole, "good"],
  ["a whole file whose later attempt failed", { ...whole, lastAttemptFailed: frame }, "good"],
  ["a whole file that also has a checkpoint", { ...whole, checkpointed: frame }, "good"],
  ["a file that nothing has looked at", { ...whole, unlooked: frame }, "unchecked"],
  ["an unlooked file of another look", { ...whole, unlooked: frame, otherLook: frame }, "unchecked"],
  ["no file but a checkpoint", { ...asked, checkpointed: frame }, "partial"],
  [
    "no file, a checkpoint, and a failed attempt",
    { ...asked, checkpointed: frame, lastAttemptFailed: frame },
    "partial",
  ],
  ["no file, last attempt failed", { ...asked, lastAttemptFailed: frame }, "failed"],
  ["nothing at all", asked, "missing"],
  ["a finding left over from a deleted file", { ...asked, findingOpen: frame }, "missing"],
];

describe("the table of states, row by row", () => {
  test("is not empty and names every result", () =>
    expect(new Set(ROWS.map(([, , r]) => r))).toEqual(new Set(RESULTS)));
  test.each(ROWS)("%s", (_name, facts, result) => {
    const tally = deriveTally(facts);
    expect(RESULTS.filter((r) => has(tally.results[r], 7))).toEqual([result]);
  });
});

describe("activity is the other axis", () => {
  test("a good frame can be rendering again", () => {
    const tally = deriveTally({ ...whole, rendering: frame, waiting: frame });
    expect(countsOf(tally)).toMatchObject({ results: { good: 1 }, activity: { rendering: 1, waiting: 0 } });
  });
});

const shot: Facts = {
  ...NO_FACTS,
  asked: rangeSet(1001, 1096),
  files: union(rangeSet(1001, 1090), setOf([1100])),
  rejected: setOf([1020]),
  findingOpen: setOf([1030, 1031]),
  otherLook: setOf([1040]),
  lastAttemptFailed: setOf([1095]),
};

test("results of asked frames add up to the number asked; extra is counted apart", () => {
  const counts = countsOf(deriveTally(shot));
  const sum = RESULTS.filter((r) => r !== "extra").reduce((total, r) => total + counts.results[r], 0);
  expect(sum).toBe(96);
  expect(counts.results).toMatchObject({ good: 86, flagged: 3, stale: 1, failed: 1, missing: 5, extra: 1 });
});

test("todo is what mend would render", () =>
  expect(formatPhrase(todoOf(deriveTally(shot)))).toBe("1020,1030-1031,1040,1091-1096"));

test("packed and unpacked it is the same tally", () => {
  const tally = deriveTally(shot);
  const back = unpackTally(JSON.parse(JSON.stringify(packTally(tally))));
  expect(RESULTS.every((r) => isEqual(back.results[r], tally.results[r]))).toBe(true);
  expect(isEqual(unionAll(Object.values(back.results)), unionAll(Object.values(tally.results)))).toBe(true);
});

describe("names in phrases", () => {
  const names = phraseNames({
    tally: deriveTally(shot),
    markers: { wake: rangeSet(1010, 1019) },
    nodes: { "quay-2": setOf([1030, 1050]) },
  });
  test.each([
    ["all", "1001-1096"],
    ["first,middle,last", "1001,1048,1096"],
    ["flagged,node(quay-2)", "1020,1030-1031,1050"],
    ["todo,!1090-1096", "1020,1030-1031,1040"],
    ["marker(wake),!1012-1096", "1010-1011"],
    ["idle,!all", "1100"],
    ["partial", ""],
  ])("%s", (phrase, frames) => {
    const read = parsePhrase(phrase, names);
    expect(read.ok && formatPhrase(read.set)).toBe(frames);
  });
  test("an unknown node is an error, not an empty set", () =>
    expect(parsePhrase("node(pier-9)", names)).toMatchObject({ ok: false, error: { code: "phrase-name" } }));
});
