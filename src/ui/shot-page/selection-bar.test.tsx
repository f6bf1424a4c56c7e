import { fireEvent, screen } from "@testing-library/react";
import { createRef } from "react";
import { renderPart, shotParts } from "../../../tests/support/components";
import { SelectionBar } from "./selection-bar";

test("Escape leaves the phrase field, so that keys act on the band again", () => {
  renderPart(
    <SelectionBar field={createRef()} isFlagging={false} onFlagging={jest.fn()} hasKeys onUse={null} />,
  );
  const field = screen.getByLabelText("Frame phrase");
  field.focus();
  expect(document.activeElement).toBe(field);
  fireEvent.keyDown(field, { key: "Escape" });
  expect(document.activeElement).toBe(document.body);
});

test("a list as somebody sent it is pasted as a phrase; a piece of a phrase is pasted as always", () => {
  const parts = shotParts();
  renderPart(
    <SelectionBar field={createRef()} isFlagging={false} onFlagging={jest.fn()} hasKeys onUse={null} />,
    parts,
  );
  const field = screen.getByLabelText("Frame phrase");
  const paste = (text: string): boolean => fireEvent.paste(field, { clipboardData: { getData: () => text } });
  // False: what the browser would do is not done.
  expect(paste("2\n4 and 6 to 8\n")).toBe(false);
  expect(parts.pointed.selection.write).toHaveBeenCalledWith("2,4,6-8");
  expect(paste("9")).toBe(true);
  expect(paste("missing")).toBe(true);
  expect(parts.pointed.selection.write).toHaveBeenCalledTimes(1);
});
