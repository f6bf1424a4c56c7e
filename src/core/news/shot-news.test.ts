import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { countsOf, deriveTally, NO_FACTS } from "../tally/tally";
import { type ShotFacts, shotNews } from "./shot-news";

const asked = rangeSet(1, 10);
const QUIET: ShotFacts = {
  counts: countsOf(deriveTally({ ...NO_FACTS, asked, files: asked })),
  made: EMPTY,
  mended: EMPTY,
  found: [],
  runs: [],
  stoppedLeft: 0,
  isWatched: false,
  handovers: [],
};

test("nothing is told where nothing happened, and a run that goes on is no news", () => {
  expect(shotNews(QUIET)).toBeNull();
  expect(shotNews({ ...QUIET, runs: [{ id: 1, still: null, held: null }] })).toBeNull();
  const later = { code: "begins-later", at: 9 } as const;
  expect(shotNews({ ...QUIET, runs: [{ id: 1, still: later, held: null }] })).toBeNull();
});

test("a night: made, mended by itself, and handed over; the next step is to hand over", () => {
  expect(
    shotNews({
      ...QUIET,
      made: asked,
      mended: setOf([3, 4]),
      handovers: [{ name: "a.mp4", state: "done", why: null }],
    }),
  ).toEqual({
    sentence: "All 10 good.",
    made: ["10 frames (1-10) made", "a.mp4 handed over"],
    mended: ["2 frames (3-4) failed or lost, and made again by itself"],
    eyes: [],
    still: [],
    step: { step: "hand-over" },
  });
});

test("what waits for eyes, what stands still and why, and what was not handed over", () => {
  const counts = countsOf(
    deriveTally({ ...NO_FACTS, asked, files: rangeSet(1, 9), findingOpen: setOf([5]) }),
  );
  const news = shotNews({
    ...QUIET,
    counts,
    found: [{ source: "check", frames: setOf([5]) }],
    runs: [
      { id: 3, still: { code: "no-node", wanted: null }, held: null },
      { id: 4, still: { code: "held" }, held: "The disk is full." },
      { id: 5, still: { code: "nodes-rest", nodes: [{ name: "quay-1", rest: "away" }] }, held: null },
    ],
    handovers: [
      { name: "b.mp4", state: "awaiting", why: "no picture: 10" },
      { name: "c.mp4", state: "failed", why: "ffmpeg is not there." },
    ],
  })!;
  expect(news.eyes).toEqual(["1 frame (5) flagged by a check", "c.mp4 was not made. ffmpeg is not there."]);
  expect(news.still).toEqual([
    "Run 3 stands still: no node is at work",
    "Run 4 is held: The disk is full.",
    "Run 5 stands still: quay-1 is not heard of",
    "b.mp4 waits. no picture: 10",
  ]);
  expect(news.step).toEqual({ step: "patch", frames: 2 });
});

test("a run that was stopped is told with what it left", () => {
  expect(shotNews({ ...QUIET, stoppedLeft: 4 })?.still).toEqual(["A run was stopped with 4 frames left"]);
});
