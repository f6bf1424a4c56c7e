import { fireEvent, screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import { whoNow } from "../live/who-now";
import { WhoField } from "./who-field";

beforeEach(() => {
  localStorage.clear();
  document.documentElement.dataset.account = "barge";
});

const write = (name: string, key: string): void => {
  fireEvent.click(screen.getByTestId("who"));
  const field = screen.getByLabelText("Your name");
  fireEvent.change(field, { target: { value: name } });
  fireEvent.keyDown(field, { key });
};

test("the account stands there until somebody gives a name, which the browser keeps", () => {
  renderPart(<WhoField />, shotParts());
  expect(screen.getByTestId("who").textContent).toBe("You are barge");
  write("  Mara Lind ", "Enter");
  expect(screen.getByTestId("who").textContent).toBe("You are Mara Lind");
  expect([whoNow(), localStorage.getItem("plain-tally-who")]).toEqual(["Mara Lind", "Mara Lind"]);
});

test("Escape and a blank leave it as it was; a name that none can be stays in the field with its fault", () => {
  renderPart(<WhoField />, shotParts());
  localStorage.setItem("plain-tally-who", "Jon");
  write("Somebody else", "Escape");
  write("", "Enter");
  expect(whoNow()).toBe("Jon");
  write("a/b", "Enter");
  expect(screen.getByRole("alert").textContent).toMatch(/^The name holds a slash/);
  expect(screen.getByLabelText<HTMLInputElement>("Your name").value).toBe("a/b");
  expect(whoNow()).toBe("Jon");
});
