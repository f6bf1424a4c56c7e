import { act, fireEvent, screen } from "@testing-library/react";
import { renderPart } from "../../../tests/support/components";
import { setLive } from "../live/live-store";
import { NodeChoice } from "./choices";

test("a group is chosen as one, whoever is in it; its nodes are taken with it", () => {
  const node = (name: string, ...groups: readonly string[]) =>
    ({ name, cores: 1, host: name, processors: 2, state: "idle", asideFrom: [], groups }) as const;
  act(() => setLive({ at: 3, nodes: [node("desk"), node("quay-1", "farm"), node("quay-2", "farm")] }));
  const onChange = jest.fn();
  const show = (value: readonly string[]) => renderPart(<NodeChoice value={value} onChange={onChange} />);
  const first = show(["quay-1", "desk"]);
  fireEvent.click(screen.getByRole("checkbox", { name: "all of farm" }));
  expect(onChange).toHaveBeenLastCalledWith(["group:farm", "desk"]);
  first.unmount();
  const second = show(["group:farm", "desk"]);
  expect(screen.getByRole<HTMLInputElement>("checkbox", { name: /quay-2/ })).toMatchObject({
    checked: true,
    disabled: true,
  });
  fireEvent.click(screen.getByRole("checkbox", { name: /desk/ }));
  expect(onChange).toHaveBeenLastCalledWith(["group:farm"]);
  second.unmount();
  show(["group:farm"]);
  fireEvent.click(screen.getByRole("checkbox", { name: "all of farm" }));
  expect(onChange).toHaveBeenLastCalledWith(null);
});

test("before the first news nothing is said of nodes; then their names are, or that there is none", () => {
  renderPart(<NodeChoice value={null} onChange={jest.fn()} />);
  expect(document.body.textContent).toContain("Looking for nodes.");
  act(() => setLive({ at: 1, nodes: [] }));
  expect(document.body.textContent).toContain("No node has ever worked here.");
  act(() =>
    setLive({
      at: 2,
      nodes: [
        { name: "quay-1", cores: 1, host: "quay", processors: 2, state: "idle", asideFrom: [], groups: [] },
      ],
    }),
  );
  expect(screen.getByRole("checkbox", { name: /quay-1/ })).toBeTruthy();
});
