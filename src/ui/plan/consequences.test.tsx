import { screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import { type Plan, readPlan } from "@/core/plan/plan";
import { PlanConsequences } from "./consequences";

function shown(change: Partial<Plan>): string {
  const parts = shotParts();
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
