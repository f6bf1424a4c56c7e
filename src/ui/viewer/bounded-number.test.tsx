import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { renderPart } from "../../../tests/support/components";
import { BoundedNumber } from "./bounded-number";

function Stops({ tell }: { readonly tell: (value: number) => void }) {
  const [value, setValue] = useState(0);
  return (
    <BoundedNumber
      label="Stops"
      value={value}
      step={0.5}
      bounds={{ least: -16, most: 16 }}
      onChange={(next) => {
        setValue(next);
        tell(next);
      }}
    />
  );
}

test("a number below nothing is typed from its minus on; one beyond the bounds is not taken, says so, and gives way", async () => {
  const told: number[] = [];
  renderPart(<Stops tell={(value) => told.push(value)} />);
  const field = screen.getByRole<HTMLInputElement>("spinbutton", { name: "Stops" });
  await userEvent.clear(field);
  await userEvent.type(field, "-2.5");
  expect(told.at(-1)).toBe(-2.5);
  await userEvent.clear(field);
  await userEvent.type(field, "99");
  expect(field.value).toBe("99");
  expect(screen.getByRole("alert").textContent).toBe("-16 to 16");
  expect(told.at(-1)).toBe(9);
  await userEvent.tab();
  expect(field.value).toBe("9");
});
