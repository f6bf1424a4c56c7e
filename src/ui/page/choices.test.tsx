import { act, screen } from "@testing-library/react";
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
      nodes: [{ name: "quay-1", cores: 1, host: "quay", processors: 2, state: "idle", asideFrom: [] }],
    }),
  );
  expect(screen.getByRole("checkbox", { name: /quay-1/ })).toBeTruthy();
});
