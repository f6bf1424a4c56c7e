import { fireEvent, screen } from "@testing-library/react";
import { answering, renderPart, shotParts } from "../../../tests/support/components";
import { IntoField, intoOf } from "./into-field";

test.each([
  ["", null],
  ["  ", null],
  ["/mnt/films/day 3", { root: null, folder: "/mnt/films/day 3" }],
  ["/mnt/a:b", { root: null, folder: "/mnt/a:b" }],
  ["frames:deliveries/day 3", { root: "frames", folder: "deliveries/day 3" }],
  ["deliveries", { root: null, folder: "deliveries" }],
])("%j means %j", (text, into) => {
  expect(intoOf(text)).toEqual(into);
});

test("a folder is typed, or found below the roots and put into the field", async () => {
  const giveBack = answering({
    "/api/folders": {
      root: "frames",
      roots: ["frames"],
      folder: "",
      lines: [{ name: "deliveries", folder: "deliveries", folders: 2, pictures: 0 }],
      isWhole: true,
    },
  });
  const onChange = jest.fn();
  renderPart(<IntoField into={null} onChange={onChange} fault={undefined} />, shotParts(), true);
  fireEvent.change(screen.getByLabelText("Into"), { target: { value: "/mnt/out" } });
  expect(onChange).toHaveBeenLastCalledWith({ root: null, folder: "/mnt/out" });
  fireEvent.click(screen.getByRole("button", { name: "Choose" }));
  fireEvent.click(await screen.findByRole("button", { name: "Put it in deliveries" }));
  expect(onChange).toHaveBeenLastCalledWith({ root: "frames", folder: "deliveries" });
  expect(screen.getByLabelText<HTMLInputElement>("Into").value).toBe("frames:deliveries");
  expect(screen.queryByLabelText("Folders")).toBeNull();
  giveBack();
});

test("what is wrong with it stands below it", () => {
  renderPart(<IntoField into={null} onChange={jest.fn()} fault="There is no folder /mnt/out." />);
  expect(screen.getByText("There is no folder /mnt/out.")).toBeTruthy();
});
