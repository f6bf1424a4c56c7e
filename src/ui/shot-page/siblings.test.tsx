import { fireEvent, screen } from "@testing-library/react";
import { renderPart, shotParts, sibling } from "../../../tests/support/components";
import { Siblings } from "./siblings";

const beauty = sibling(1, "beauty", 4);

test("one other sequence stands in its line, and a click gives it the focus", () => {
  const parts = shotParts({ siblings: [beauty, sibling(2, "depth", 7)] });
  renderPart(<Siblings />, parts);
  const line = screen.getByRole("button", { name: "Show main depth" });
  expect(line.textContent).toContain("7 of 10 good, 3 missing");
  fireEvent.click(line);
  expect(parts.work.openSequence).toHaveBeenCalledWith({ version: "v001", camera: "main", pass: "depth" });
});

test("several fold into one line where the page is low; it says what is in them and opens", () => {
  const others = [sibling(2, "depth", 7), sibling(3, "normal", 10)];
  renderPart(<Siblings />, shotParts({ siblings: [beauty, ...others] }));
  expect(
    screen.getByText(/^2 other sequences: main depth 7 of 10 good, 3 missing; main normal/),
  ).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Show main depth" })).toBeNull();
  fireEvent.click(screen.getByRole("button", { name: "Show them" }));
  expect(screen.getByRole("button", { name: "Show main normal" })).toBeTruthy();
});

test("a version of one sequence has no such line", () => {
  const { container } = renderPart(<Siblings />, shotParts({ siblings: [beauty] }));
  expect(container.textContent).toBe("");
});
