import { fireEvent, screen } from "@testing-library/react";
import { createRef } from "react";
import { renderPart } from "../../../tests/support/components";
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
