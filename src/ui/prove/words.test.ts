import { basisText, crowdedText } from "./words";

const QUIET = { spread: 0.04, leftOut: 0, isBusy: false, corrected: 0, correction: 1 };

test.each([
  ["of a quiet machine", QUIET, "Rests on 3 proofs, spread 4.0 %."],
  [
    "corrected",
    { ...QUIET, corrected: 3, correction: 0.52 },
    "Rests on 3 proofs, spread 4.0 %; 3 timed while the machine did other work count 52 % of their seconds, by what the renderer got of the processors.",
  ],
  [
    "left out",
    { ...QUIET, leftOut: 1 },
    "Rests on 3 proofs, spread 4.0 %; 1 timed beside other work is left out.",
  ],
  [
    "nothing better",
    { ...QUIET, isBusy: true },
    "Rests on 3 proofs, spread 4.0 %; all timed while the machine did other work: likely too high.",
  ],
])("what an estimate rests on: %s", (_what, model, text) => expect(basisText(3, 0, model)).toBe(text));

test("nodes that share too few processors are named", () =>
  expect(crowdedText([{ host: "quay", slots: 3, processors: 2 }])).toBe(
    "quay renders 3 frames at once on 2 processors: each is slower for it.",
  ));
