import type { FileRow } from "../store/frame-files";
import { hasNewlyOver, partClaims } from "./claims";

const file = (frame: number, bytes: number, modifiedMs: number, seconds: number | null = null): FileRow => ({
  ...{ frame, bytes, modifiedMs, seconds, name: `q.${frame}.png`, content: null, verdict: null, code: null },
  ...{ detail: null, look: null, effort: null, samples: null, attemptId: null, node: null },
  ...{ luminance: null, noise: null },
});
const source = { root: "farm", folder: "a", prefix: "q.", suffix: ".png", digits: 4 };
const MINUTE = 60_000;

test("an empty file is a claim where something else renders, and a damaged picture where we do", () => {
  const files = [file(1, 10, 0), file(2, 0, 0)];
  expect(partClaims({ source: null }, files).pictures).toHaveLength(2);
  const { pictures, claims } = partClaims({ source }, files, MINUTE);
  expect([pictures.map((f) => f.frame), claims]).toEqual([[1], [{ frame: 2, sinceMs: 0, isOver: false }]]);
});

test("a claim is over after a few times what frames take, and news once", () => {
  const files = [file(1, 10, 0, 120), file(2, 0, 0)];
  const at = (minutes: number) => partClaims({ source }, files, minutes * MINUTE).claims;
  expect([at(7), at(9)].map(([claim]) => claim!.isOver)).toEqual([false, true]);
  expect([at(7), at(9), at(10)].map((claims) => hasNewlyOver(5, claims))).toEqual([false, true, false]);
  // Another one on the same frame is another claim.
  expect(hasNewlyOver(5, [{ frame: 2, sinceMs: 1, isOver: true }])).toBe(true);
});
