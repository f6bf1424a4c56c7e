import { rangeSet, setOf } from "../frames/frame-set";
import { nextStep } from "./next-step";
import { sentenceText } from "./sentence";
import { countsOf, deriveTally, type Facts, NO_FACTS } from "./tally";

const counts = (facts: Partial<Facts>) =>
  countsOf(deriveTally({ ...NO_FACTS, asked: rangeSet(1, 96), ...facts }));

test.each([
  ["nothing is there", counts({}), false, 0, { step: "run", frames: 96 }],
  ["a run is on", counts({ files: rangeSet(1, 40) }), true, 0, { step: "watch" }],
  ["a run was stopped", counts({ files: rangeSet(1, 40) }), false, 56, { step: "resume", frames: 56 }],
  ["a part is there", counts({ files: rangeSet(1, 40) }), false, 0, { step: "run-rest", frames: 56 }],
  [
    "most is there and a few are not",
    counts({ files: rangeSet(1, 90) }),
    false,
    0,
    { step: "patch", frames: 6 },
  ],
  [
    "some are flagged",
    counts({ files: rangeSet(1, 94), rejected: setOf([3]) }),
    false,
    0,
    { step: "patch", frames: 3 },
  ],
  ["all is good", counts({ files: rangeSet(1, 96) }), false, 0, { step: "hand-over" }],
])("the next step when %s", (_when, c, isRunning, left, step) =>
  expect(nextStep(c, isRunning, left)).toEqual(step),
);

test("the tally as a sentence: results in one clause, activity in another", () => {
  expect(
    sentenceText(
      counts({
        files: rangeSet(1, 90),
        rejected: setOf([4, 5]),
        waiting: rangeSet(93, 96),
        rendering: setOf([92]),
      }),
    ),
  ).toBe("88 of 96 good, 2 flagged, 6 missing. 4 waiting, 1 rendering.");
  expect(sentenceText(counts({ files: rangeSet(1, 96) }))).toBe("All 96 good.");
});
