import { findingBeside } from "./step-findings";

const findings = [{ frame: 57 }, { frame: 12 }, { frame: 57 }, { frame: 90 }];

test.each([
  ["the next one", 20, 1, 57],
  ["a frame with two findings is left in one step", 57, 1, 90],
  ["the one before", 57, -1, 12],
  ["none behind the last", 90, 1, null],
  ["none before the first", 12, -1, null],
  ["from nowhere the first", null, 1, 12],
  ["from nowhere backwards the last", null, -1, 90],
] as const)("%s", (_name, frame, direction, next) =>
  expect(findingBeside(findings, frame, direction)).toBe(next),
);
