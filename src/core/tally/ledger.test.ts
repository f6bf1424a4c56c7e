import { byNextStep, inLedgerOrder, isFound, type LedgerShot, projectTally } from "./ledger";
import type { NextStep } from "./next-step";
import { countsOf, deriveTally, NO_FACTS } from "./tally";
import { rangeSet, setOf } from "../frames/frame-set";

/** A shot of ten frames, of which so many are good and some flagged. */
function shot(code: string, good: number, step: NextStep, more: Partial<LedgerShot> = {}): LedgerShot {
  const tally = deriveTally({
    ...NO_FACTS,
    asked: rangeSet(1, 10),
    files: good === 0 ? setOf([]) : rangeSet(1, good),
    findingOpen: step.step === "patch" ? setOf([1]) : setOf([]),
  });
  return {
    ...{ code, title: `the ${code} light`, version: "v001", nodes: ["quay-1"], likelyFinish: null },
    ...{ counts: countsOf(tally), step },
    ...more,
  };
}
const done = shot("HL010", 10, { step: "hand-over" });
const patch = shot("HL020", 10, { step: "patch", frames: 1 });
const fresh = shot("HL100", 0, { step: "run", frames: 10 }, { nodes: [] });
const runs = shot("HL9", 4, { step: "watch" }, { likelyFinish: 5_000, version: "v002" });
const all = [fresh, done, runs, patch];
const found = (text: string) => all.filter((s) => isFound(s, text)).map((s) => s.code);

test.each([
  ["", ["HL100", "HL010", "HL9", "HL020"]],
  ["hl0", ["HL010", "HL020"]],
  ["LIGHT v002", ["HL9"]],
  ["done", ["HL010"]],
  ["flagged", ["HL020"]],
  ["missing -running", ["HL100"]],
  ["quay-1 todo", ["HL9", "HL020"]],
  ["-", ["HL100", "HL010", "HL9", "HL020"]],
  ["nobody", []],
])("%p finds %p", (text, codes) => expect(found(text)).toEqual(codes));

test("in order by code as people count, by what is to be done, by when it is done", () => {
  const codes = (order: Parameters<typeof inLedgerOrder>[1]) => inLedgerOrder(all, order).map((s) => s.code);
  expect(codes("code")).toEqual(["HL9", "HL010", "HL020", "HL100"]);
  expect(codes("most-to-do")).toEqual(["HL100", "HL020", "HL9", "HL010"]);
  expect(codes("first-done")).toEqual(["HL9", "HL010", "HL020", "HL100"]);
});

test("grouped by the next step, the most pressing first", () =>
  expect(byNextStep(all).map((g) => [g.step, g.shots.length, g.frames])).toEqual([
    ["patch", 1, 1],
    ["run", 1, 10],
    ["watch", 1, 0],
    ["hand-over", 1, 0],
  ]));

test("the project in figures: they are those of the lines", () => {
  expect(projectTally(all)).toEqual({
    shots: 4,
    done: 1,
    patch: { frames: 1, shots: 1 },
    render: { frames: 10, shots: 1 },
    running: 1,
    likelyFinish: 5_000,
  });
  // While one of those that run cannot tell yet, nobody can.
  expect(projectTally([...all, shot("X", 1, { step: "watch" })]).likelyFinish).toBeNull();
  expect(projectTally([])).toMatchObject({ shots: 0, done: 0, likelyFinish: null });
});
