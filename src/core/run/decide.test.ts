import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { deriveTally, NO_FACTS } from "../tally/tally";
import {
  decideSequences,
  type Decidable,
  framesDecided,
  framesKept,
  picturesDecided,
  writeOut,
} from "./decide";
import { frameTasks, inOrder, leadsAmong } from "./run-tasks";

/** A sequence of frames 1-6 with files of some. */
const sequence = (files: readonly number[], nodes: Decidable["nodes"] = {}): Decidable => ({
  tally: deriveTally({ ...NO_FACTS, asked: rangeSet(1, 6), files: setOf(files) }),
  markers: { storm: rangeSet(2, 4) },
  nodes,
});

const decide = (sequences: readonly Decidable[], phrase: string) => {
  const read = decideSequences(sequences, phrase, "fill");
  if (!read.ok) throw new Error(read.error.message);
  return read.decided;
};

test("a name means each sequence's own frames", () => {
  const decided = decide([sequence([1, 2]), sequence([5])], "missing");
  expect(decided.map((d) => d.decision.toRender)).toEqual([rangeSet(3, 6), setOf([1, 2, 3, 4, 6])]);
  // Of two cameras each frame is one rendering; two passes of one camera come from the same.
  const numbered = decided.map((d, i) => ({ ...d, of: i }));
  expect(framesDecided(numbered, String)).toBe(9);
  expect(framesDecided(numbered, () => "main")).toBe(6);
  expect(picturesDecided(decided)).toBe(9);
});

test("frames of a hundred are kept once, however many pictures each has", () => {
  const passes = ["beauty", "depth", "normal"].map((of, i) => ({
    of,
    decision: decide([sequence(i === 0 ? [1, 2, 3, 4] : [1, 2, 3, 4, 5])], "all")[0]!.decision,
  }));
  expect(framesKept(passes, () => "main")).toBe(4);
  expect(framesKept(passes, (pass) => pass)).toBe(14);
});

test("a node that made nothing of one sequence is no wrong name there", () => {
  const decided = decide([sequence([1, 2], { "quay-2": setOf([1]) }), sequence([])], "all,!node(quay-2)");
  expect(decided.map((d) => d.decision.toRender)).toEqual([rangeSet(3, 6), rangeSet(1, 6)]);
  expect(decideSequences([sequence([])], "node(nobody)", "fill")).toMatchObject({
    ok: false,
    error: { code: "phrase-name" },
  });
});

test("what is written out holds plain numbers, with the terms apart where their order counts", () => {
  const both = [sequence([1, 2]), sequence([1, 2, 3])];
  expect(writeOut(both, "marker(storm),missing,!6", "first-to-last")).toMatchObject({
    wanted: "2-5",
    set: rangeSet(2, 5),
  });
  expect(writeOut(both, "5,marker(storm)", "as-written").wanted).toBe("5,2-4");
  expect(writeOut([], "1-3", "first-to-last").set).toEqual(EMPTY);
});

test("each frame of a camera is one task with the passes that need it; cameras of a frame follow each other", () => {
  const rows = [
    { id: 1, versionId: 7, camera: "mole", pass: "beauty" },
    { id: 2, versionId: 7, camera: "mole", pass: "depth" },
    { id: 3, versionId: 7, camera: "quay", pass: "beauty" },
  ];
  const tasks = frameTasks(
    [
      { versionId: 7, camera: "mole", pass: "beauty", toRender: rangeSet(1, 2) },
      { versionId: 7, camera: "mole", pass: "depth", toRender: rangeSet(2, 3) },
      { versionId: 7, camera: "quay", pass: "beauty", toRender: rangeSet(2, 2) },
    ],
    leadsAmong(rows),
  );
  expect(inOrder(tasks, "first-to-last", []).map((t) => [t.leadId, t.frame, t.passes])).toEqual([
    [1, 1, ["beauty"]],
    [1, 2, ["beauty", "depth"]],
    [3, 2, ["beauty"]],
    [1, 3, ["depth"]],
  ]);
});
