import { act, fireEvent, screen } from "@testing-library/react";
import { renderPart } from "../../../tests/support/components";
import { setLive } from "../live/live-store";
import { NodeChoice } from "./choices";

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

test("a group is chosen as one, whoever is in it; its nodes are taken with it", async () => {
  const node = (name: string, ...groups: readonly string[]) =>
    ({ name, cores: 1, host: name, processors: 2, state: "idle", asideFrom: [], groups }) as const;
  act(() => setLive({ at: 3, nodes: [node("desk"), node("quay-1", "farm"), node("quay-2", "farm")] }));
  const onChange = jest.fn();
  const click = (name: string | RegExp) =>
    act(async () => {
      fireEvent.click(screen.getByRole("checkbox", { name }));
      // The checkbox tells of it in a microtask.
      await Promise.resolve();
    });
  const show = (value: readonly string[]) => renderPart(<NodeChoice value={value} onChange={onChange} />);
  const first = show(["quay-1", "desk"]);
  await click("all of farm");
  expect(onChange).toHaveBeenLastCalledWith(["group:farm", "desk"]);
  first.unmount();
  const second = show(["group:farm", "desk"]);
  expect(screen.getByRole<HTMLInputElement>("checkbox", { name: /quay-2/ })).toMatchObject({
    checked: true,
    disabled: true,
  });
  await click(/desk/);
  expect(onChange).toHaveBeenLastCalledWith(["group:farm"]);
  second.unmount();
  show(["group:farm"]);
  await click("all of farm");
  expect(onChange).toHaveBeenLastCalledWith(null);
});
