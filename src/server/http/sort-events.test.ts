import { members } from "@/core/frames/frame-set";
import type { EventRow } from "../store/events";
import { MOST_FRAMES, sortEvents } from "./sort-events";

let id = 0;
/** Sequence n belongs to version 10 n. */
const event = (
  kind: EventRow["kind"],
  sequenceId: number | null,
  frames: readonly [number, number] | null = null,
  runId: number | null = null,
): EventRow => ({
  id: ++id,
  kind,
  sequenceId,
  versionId: sequenceId === null ? null : sequenceId * 10,
  runId,
  firstFrame: frames?.[0] ?? null,
  lastFrame: frames?.[1] ?? null,
});
const sorted = (events: readonly EventRow[], shown: readonly number[]) => {
  const { sequences, frames } = sortEvents(events, (version) => shown.includes(version));
  return { sequences, frames: frames.map((f) => ({ ...f, set: [...members(f.set)] })) };
};

test("frames of a version on show are put together, with the runs that they belong to", () => {
  const events = [
    event("task", 1, [7, 7], 3),
    event("files", 1, [4, 5], 3),
    event("task", 1, [7, 7], 4),
    event("node", null),
  ];
  expect(sorted(events, [10])).toEqual({
    sequences: [],
    frames: [{ versionId: 10, sequenceIds: [1], set: [4, 5, 7], runIds: [3, 4] }],
  });
});

test("a version that no page shows, one of which any frame may have changed, or too many have, is told as a whole", () => {
  expect(sorted([event("task", 1, [7, 7], 3)], [])).toEqual({ sequences: [1], frames: [] });
  expect(sorted([event("task", 1, [7, 7]), event("files", 1), event("task", 2, [1, 1])], [10, 20])).toEqual({
    sequences: [1],
    frames: [{ versionId: 20, sequenceIds: [2], set: [1], runIds: [] }],
  });
  expect(sorted([event("files", 1, [1, MOST_FRAMES + 1])], [10]).sequences).toEqual([1]);
  const many = Array.from({ length: MOST_FRAMES + 1 }, (_, i) => event("task", 1, [i, i]));
  expect(sorted(many, [10]).sequences).toEqual([1]);
});

test("a plan that was saved may change every page", () => {
  expect(sorted([event("plan", 1), event("task", 2, [1, 1])], [20])).toEqual({ sequences: null, frames: [] });
});

test("what a run has become is told at once, also where the rest is asked for", () => {
  expect(sorted([event("run", 1, null, 3)], [10])).toEqual({
    sequences: [1],
    frames: [{ versionId: 10, sequenceIds: [1], set: [], runIds: [3] }],
  });
});
