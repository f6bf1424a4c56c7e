import { fireEvent, screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import { CheckBench } from "./check-bench";
import type { FindingView } from "@/contract/sequence-view";

const finding = (id: number, change: Partial<FindingView> = {}): FindingView => ({
  id,
  frame: id,
  source: "check",
  who: null,
  code: "png-cut-short",
  text: "41 % of the picture is there",
  state: "open",
  createdAt: 0,
  closedAt: null,
  closedWho: null,
  why: null,
  place: null,
  ...change,
});

test("with nothing found it says so; what needs rendering leads to Patch", () => {
  const parts = shotParts();
  renderPart(<CheckBench />, parts);
  expect(screen.getByText("Nothing found")).toBeTruthy();
  expect(screen.getByText(/^6 frames need rendering/)).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Select them" }));
  expect(parts.pointed.selection.write).toHaveBeenCalledWith("todo");
  fireEvent.click(screen.getByRole("button", { name: "Go to Patch" }));
  expect(parts.work.openBench).toHaveBeenCalledWith("patch");
});

test("with everything good nothing needs rendering", () => {
  renderPart(<CheckBench />, shotParts({}, [1, 2, 3, 4, 5, 6, 7, 8, 9, 10]));
  expect(screen.getByText("Nothing needs rendering.")).toBeTruthy();
});

test("a check that goes on shows how far it is, and can be cancelled", () => {
  renderPart(<CheckBench />, shotParts({ check: { done: 30, total: 120 } }));
  expect(screen.getByText("30 of 120 read")).toBeTruthy();
  expect(screen.getByRole("button", { name: /^Cancel/ })).toBeTruthy();
  expect(screen.queryByRole("button", { name: /^Check / })).toBeNull();
});

test("open findings are counted; closed ones are behind a button", () => {
  renderPart(
    <CheckBench />,
    shotParts({
      findings: [finding(2), finding(5)],
      closedFindings: [finding(9, { state: "fixed", closedAt: 1 })],
    }),
  );
  expect(screen.getByText("2 findings open")).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Show 1 closed" }));
  expect(screen.getByRole("button", { name: "Hide the closed ones" })).toBeTruthy();
});
