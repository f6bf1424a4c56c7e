import type { ProofsView } from "@/contract/proof-view";
import { basisText, crowdedText, startedText } from "./words";

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

test("proofs that are done are not in the queue any more", () => {
  const started = { runs: [7, 8], frames: "1,50" };
  const view = (...left: readonly [number, number]): ProofsView =>
    ({
      proofs: left.map((n, i) => ({ runId: 7 + i, left: n, state: n === 0 ? "done" : "active" })),
    }) as never;
  const queued = "Frames 1,50 are in the queue, before all runs.";
  expect([undefined, view(1, 0), view(0, 2), view(0, 0)].map((v) => startedText(started, v))).toEqual([
    queued,
    queued,
    queued,
    "Frames 1,50 are done.",
  ]);
});
