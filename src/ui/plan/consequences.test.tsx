import { screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import { rangeSet } from "@/core/frames/frame-set";
import { packSet } from "@/core/tally/packed";
import { FilesByFrame } from "@/ui/live/files-by-frame";
import { type Plan, readPlan } from "@/core/plan/plan";
import { PlanConsequences } from "./consequences";

function shown(change: Partial<Plan>, parts = shotParts()): string {
  const plan = { ...parts.work.draft.plan, ...change };
  const read = readPlan(plan);
  const draft = { ...parts.work.draft, plan, read: read.ok ? read.value : null };
  const { unmount, container } = renderPart(<PlanConsequences group="quality" onOpen={jest.fn()} />, {
    ...parts,
    work: { ...parts.work, draft },
  });
  const text = container.textContent!;
  unmount();
  return text;
}

test("what decides the time: the samples, and a time limit where there is one", () => {
  expect(shown({})).toContain("samples decide it");
  expect(shown({ timeLimit: 90 })).toContain("samples decide it, and 1 min 30 s a frame at most");
});

test("kept samples are part of what is on disk, as in Prove", () => {
  const without = shown({ checkpoints: { kind: "never" } });
  expect(without).not.toContain("samples that are saved");
  expect(shown({ checkpoints: { kind: "never" }, keepSamples: true })).toContain(
    "of samples that are saved and kept",
  );
  expect(screen.queryByRole("alert")).toBeNull();
});

test("bytes of files that are there are measured, and nothing is said to be guessed", () => {
  const parts = shotParts();
  const files = new FilesByFrame({
    frames: packSet(rangeSet(1, 4)),
    seconds: [1, 1, 1, 1],
    luminance: [0, 0, 0, 0],
    noise: [0, 0, 0, 0],
    node: [0, 0, 0, 0],
    nodes: ["quay-1"],
    content: ["a", "b", "c", "d"],
    samples: [4, 4, 4, 4],
    bytes: [1_000_000, 1_000_000, 1_000_000, 1_000_000],
  });
  const guessed = "guessed from format and size";
  expect(shown({})).toContain(guessed);
  const told = shown({}, { ...parts, now: { ...parts.now, files } });
  expect(told).not.toContain(guessed);
  expect(told).toContain("1.0 MB a frame");
  // Another kind of file than those that are there is guessed again.
  expect(shown({ alpha: "straight" }, { ...parts, now: { ...parts.now, files } })).toContain(guessed);
});
