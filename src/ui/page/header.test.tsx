import { act, screen } from "@testing-library/react";
import { renderPart } from "../../../tests/support/components";
import { setLive } from "../live/live-store";
import { Header } from "./header";

test("a folder that cannot be seen is told on every page, with its place, why and since when", () => {
  renderPart(<Header project={{ title: "Harbour Lights", slug: "harbour-lights" }} />);
  expect(screen.queryByRole("alert")).toBeNull();
  const since = new Date();
  since.setHours(14, 5, 0, 0);
  act(() =>
    setLive({
      at: 1,
      outOfSight: [
        { project: "harbour-lights", folder: "/mnt/share/harbour", since: since.getTime(), why: "ESTALE" },
      ],
    }),
  );
  const { textContent } = screen.getByTestId("out-of-sight");
  expect(textContent).toMatch(
    /folder of harbour-lights, \/mnt\/share\/harbour, cannot be seen since .*14:05.* \(ESTALE\)/,
  );
  expect(textContent).toContain("Nothing is forgotten");
  act(() => setLive({ outOfSight: [] }));
  expect(screen.queryByRole("alert")).toBeNull();
});
