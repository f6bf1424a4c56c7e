import { EMPTY, rangeSet, setOf, union } from "@/core/frames/frame-set";
import { deriveTally, type Facts, NO_FACTS, type Result, RESULTS } from "@/core/tally/tally";
import { activityAt, makeBandData, resultAt, worstOf } from "./band-data";
import { drawLine, drawStrokes } from "./draw";
import {
  clampWindow,
  firstWindow,
  layoutBand,
  MOST_IN_WINDOW,
  positionAt,
  strokeX,
  windowAround,
  zoomWindow,
} from "./layout";
import type { Mark } from "./marks";
import { pick } from "./selection";

const dataOf = (facts: Partial<Facts>) => makeBandData(deriveTally({ ...NO_FACTS, ...facts }));

describe("what the band is drawn from", () => {
  const data = dataOf({
    asked: rangeSet(1, 20, 2),
    files: union(rangeSet(1, 9, 2), setOf([4])),
    rejected: setOf([3]),
    rendering: setOf([11]),
    waiting: rangeSet(11, 19, 2),
  });
  test("asked frames and extra ones stand side by side; a step leaves no holes", () => {
    const frames = Array.from({ length: data.index.count }, (_, i) => data.index.frameAt(i));
    expect(frames).toEqual([1, 3, 4, 5, 7, 9, 11, 13, 15, 17, 19]);
    expect(frames.map((_, i) => resultAt(data, i))).toEqual([
      "good",
      "flagged",
      "extra",
      "good",
      "good",
      "good",
      "missing",
      "missing",
      "missing",
      "missing",
      "missing",
    ]);
    expect([0, 6, 7].map((i) => activityAt(data, i))).toEqual(["idle", "rendering", "waiting"]);
  });
  test("where frames share a pixel the worst shows", () =>
    expect([worstOf(data, 0, 1), worstOf(data, 0, 3), worstOf(data, 2, 4), worstOf(data, 4, 11)]).toEqual([
      "good",
      "flagged",
      "extra",
      "missing",
    ]));
});

test("one bad frame among 100,000 is seen on the overview line", () => {
  const data = dataOf({
    asked: rangeSet(1, 100_000),
    files: rangeSet(1, 100_000),
    rejected: setOf([54_321]),
  });
  const bricks = drawLine(data, 1000, 22).filter(
    (mark): mark is Extract<Mark, { kind: "box" }> => mark.kind === "box" && mark.ink === "brick",
  );
  expect(bricks).toHaveLength(1);
  expect(bricks[0]).toMatchObject({ x: 543, w: 1, h: 22 });
});

describe("shapes tell the result without colour", () => {
  const facts: Readonly<Record<Result, Partial<Facts>>> = (() => {
    const one = setOf([1]);
    const file = { asked: one, files: one };
    return {
      good: file,
      missing: { asked: one },
      partial: { asked: one, checkpointed: one },
      failed: { asked: one, lastAttemptFailed: one },
      flagged: { ...file, rejected: one },
      stale: { ...file, otherLook: one },
      unchecked: { ...file, unlooked: one },
      extra: { files: one },
    };
  })();
  /** Marks of one stroke with the inks taken out. */
  const shapeOf = (result: Result): string => {
    const data = dataOf(facts[result]);
    const marks = drawStrokes({
      data,
      layout: layoutBand(10, { start: 0, count: 1 }, 1, 0),
      selection: EMPTY,
      focus: null,
      progress: new Map(),
      savedShare: () => null,
    });
    return JSON.stringify(marks.map(({ ink: _ink, ...shape }) => shape));
  };
  test("no two results are drawn alike", () =>
    expect(new Set(RESULTS.map(shapeOf)).size).toBe(RESULTS.length));
});

test("a rendering frame has a second stroke that grows from the base line with its progress", () => {
  const data = dataOf({ asked: setOf([1]), files: setOf([1]), rendering: setOf([1]) });
  const layout = layoutBand(10, { start: 0, count: 1 }, 1, 0);
  const heightAt = (share: number): number => {
    const stroke = drawStrokes({
      data,
      layout,
      selection: EMPTY,
      focus: null,
      progress: new Map([[1, share]]),
      savedShare: () => null,
    }).find((mark) => mark.kind === "line" && mark.ink === "petrol") as Extract<Mark, { kind: "line" }>;
    expect(stroke.y1).toBe(layout.base);
    return stroke.y1 - stroke.y2;
  };
  expect(heightAt(0.8)).toBeCloseTo(2 * heightAt(0.4));
});

describe("layout", () => {
  test("strokes stand in groups of ten, and a click finds the stroke it is nearest to", () => {
    const layout = layoutBand(1100, firstWindow(96), 96, 0);
    const at = (i: number): number => strokeX(layout, i);
    expect(at(10) - at(9)).toBeCloseTo(1.9 * (at(9) - at(8)));
    for (let i = 0; i < 96; i++)
      expect([positionAt(layout, at(i) - 2), positionAt(layout, at(i) + 2)]).toEqual([i, i]);
    expect([positionAt(layout, -50), positionAt(layout, 5000)]).toEqual([0, 95]);
  });
  test("a short sequence is all strokes; a long one has a window that stays inside", () => {
    expect(clampWindow({ start: 40, count: 3 }, 96)).toEqual({ start: 0, count: 96 });
    expect(clampWindow({ start: 99_990, count: 100 }, 100_000)).toEqual({ start: 99_900, count: 100 });
    expect(clampWindow({ start: -5, count: 1e9 }, 100_000)).toEqual({ start: 0, count: MOST_IN_WINDOW });
  });
  test("zooming keeps the frame under the pointer in its place", () => {
    const before = { start: 5000, count: 100 };
    const after = zoomWindow(before, 1.5, 5025, 100_000);
    expect(after.count).toBe(150);
    expect((5025 - after.start) / after.count).toBeCloseTo(0.25, 1);
  });
  test("the window follows the focus, just so far", () => {
    expect(windowAround({ start: 100, count: 100 }, 150, 1000)).toEqual({ start: 100, count: 100 });
    expect(windowAround({ start: 100, count: 100 }, 199, 1000)).toEqual({ start: 105, count: 100 });
    expect(windowAround({ start: 100, count: 100 }, 0, 1000)).toEqual({ start: 0, count: 100 });
  });
});

describe("gestures", () => {
  const shown = rangeSet(1, 99, 2);
  test("a drag takes the frames that are there, either way", () =>
    expect(pick(shown, setOf([50]), null, "plain", 9, 5)).toMatchObject({
      selection: rangeSet(5, 9, 2),
      anchor: 9,
    }));
  test("Shift goes on from where the last gesture began", () =>
    expect(pick(shown, setOf([5]), 5, "extend", 11, 11)).toMatchObject({
      selection: rangeSet(5, 11, 2),
      anchor: 5,
    }));
  test("Ctrl adds what was not selected and takes away what was", () => {
    expect(pick(shown, setOf([1, 3]), 1, "toggle", 9, 9).selection).toEqual(setOf([1, 3, 9]));
    expect(pick(shown, setOf([1, 3, 5, 9]), 1, "toggle", 3, 5).selection).toEqual(setOf([1, 9]));
  });
});
