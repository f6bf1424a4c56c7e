import { act, fireEvent, screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import type { ReactElement } from "react";
import type { ShotParts } from "../shot/shot-context";
import { PatchBench } from "./patch-bench";

/** Radio buttons settle after they are shown. */
async function show(bench: ReactElement, parts?: ShotParts): Promise<void> {
  await act(async () => {
    renderPart(bench, parts);
  });
}

const ALL = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];

test("with everything good there is nothing on the list and nothing to start", async () => {
  await show(<PatchBench scope="mend" onScope={jest.fn()} />, shotParts({}, ALL));
  expect(screen.getByText("Nothing is missing, failed, flagged or out of date.")).toBeTruthy();
  expect(screen.queryByTestId("preflight")).toBeNull();
});

test("each choice says how many frames it is; choosing one is told", async () => {
  const onScope = jest.fn();
  await show(<PatchBench scope="mend" onScope={onScope} />);
  expect(screen.getByRole("radio", { name: /^What is missing or failed/ })).toBeTruthy();
  expect(screen.getAllByText("6 frames").length).toBeGreaterThanOrEqual(2);
  await act(async () => {
    fireEvent.click(screen.getByRole("radio", { name: /only what is selected/ }));
  });
  expect(onScope).toHaveBeenCalledWith("selection");
});

test("with nothing selected the selection is no frame, and never all of them", async () => {
  await show(<PatchBench scope="selection" onScope={jest.fn()} />);
  expect(screen.getByText("0 frames")).toBeTruthy();
  expect(screen.queryByTestId("preflight")).toBeNull();
});
