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

test("findings are listed by kind and in an order, and those of a kind are selected", () => {
  const parts = shotParts({
    findings: [
      finding(2, { code: "truncated", createdAt: 5 }),
      finding(5, { code: "by-hand", text: "too dark", createdAt: 9 }),
      finding(7, { code: "truncated", createdAt: 7 }),
    ],
  });
  renderPart(<CheckBench />, parts);
  const listed = (): readonly string[] =>
    screen.getAllByTestId("finding").map((line) => line.querySelector("button")!.textContent);
  fireEvent.change(screen.getByLabelText("Order of findings"), { target: { value: "newest" } });
  expect(listed()).toEqual(["5", "7", "2"]);
  fireEvent.change(screen.getByLabelText("Kind of finding"), { target: { value: "truncated" } });
  expect(listed()).toEqual(["7", "2"]);
  fireEvent.click(screen.getByRole("button", { name: "Select these" }));
  expect(parts.pointed.selection.write).toHaveBeenCalledWith("2,7");
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
