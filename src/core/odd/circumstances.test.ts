import { formatPhrase } from "../frames/phrase";
import { callsOf, hoursOf, type MadeBy, warningsOf } from "./circumstances";

const made = (node: string, frame: number, startedMs: number, isFirstOfCall = false): MadeBy => ({
  node,
  frame,
  startedMs,
  isFirstOfCall,
});

test("frames of one call of a renderer belong together, each node's its own", () => {
  const calls = callsOf([
    made("quay-1", 1, 100, true),
    made("quay-2", 5, 110, true),
    made("quay-1", 2, 200),
    made("quay-2", 6, 210),
    made("quay-1", 3, 300, true),
    made("quay-1", 4, 400),
    made("quay-2", 9, 500, true),
  ]);
  expect(calls.map(({ node, fromMs, frames }) => [node, fromMs, formatPhrase(frames)])).toEqual([
    ["quay-1", 100, "1-2"],
    ["quay-1", 300, "3-4"],
    ["quay-2", 110, "5-6"],
  ]);
});

test("hours are those of the clock on the wall, also where they begin at the half", () => {
  const at = (hour: number, minute: number): number => Date.UTC(2026, 10, 30, hour, minute);
  const files = [
    { frame: 1, modifiedMs: at(1, 20) },
    { frame: 2, modifiedMs: at(1, 40) },
    { frame: 3, modifiedMs: at(2, 10) },
  ];
  const told = (offsetMs: number) =>
    hoursOf(files, offsetMs).map(({ fromMs, frames }) => [fromMs, formatPhrase(frames)]);
  expect(told(0)).toEqual([
    [at(1, 0), "1-2"],
    [at(2, 0), "3"],
  ]);
  expect(told(5.5 * 3_600_000)).toEqual([
    [at(0, 30), "1"],
    [at(1, 30), "2-3"],
  ]);
});

test("warnings are one where they differ by each frame's own numbers; what one frame had says nothing", () => {
  const warnings = warningsOf([
    { frame: 4, text: "frame 4: texture rust_02.png not found after 1.5 s" },
    { frame: 7, text: "frame 7: texture rust_02.png not found after 12.25 s" },
    { frame: 7, text: "low memory" },
  ]);
  expect(warnings.map(({ text, frames }) => [text, formatPhrase(frames)])).toEqual([
    ["frame …: texture rust_….png not found after … s", "4,7"],
  ]);
});
