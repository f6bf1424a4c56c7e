import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { Plan } from "@/core/plan/plan";
import { renderPart, shotParts } from "../../../tests/support/components";
import type { ShotParts } from "../shot/shot-context";
import { Stretches } from "./stretches";

/** A shot of ten frames with two stretches, and what is asked for of it. */
function asking(change: Partial<Plan>): ShotParts {
  const parts = shotParts();
  return {
    ...parts,
    work: {
      ...parts.work,
      shot: {
        ...parts.work.shot,
        markers: [
          { name: "dusk", first: 1, end: 5 },
          { name: "night", first: 5, end: 11 },
        ],
      },
      draft: { ...parts.work.draft, plan: { ...parts.work.draft.plan, ...change } },
    },
  };
}
const ticked = (): boolean[] =>
  screen.getAllByRole("checkbox").map((box) => (box as HTMLInputElement).checked);

test.each<[string, Partial<Plan>, boolean[]]>([
  ["both are asked for", { frames: "1-10" }, [true, true]],
  ["one is left out of the phrase", { frames: "1-4" }, [true, false]],
  ["one is asked for in part", { frames: "3-4" }, [true, false]],
  ["one is off", { frames: "1-10", markersOff: ["night"] }, [true, false]],
])("a stretch is ticked while it is asked for: %s", (_what, change, expected) => {
  renderPart(<Stretches />, asking(change));
  expect(ticked()).toEqual(expected);
});

test("a stretch that is ticked again is asked for again", async () => {
  const parts = asking({ frames: "1-4", markersOff: ["night"] });
  renderPart(<Stretches />, parts);
  await userEvent.click(screen.getAllByRole("checkbox")[1]!);
  expect(parts.work.draft.change).toHaveBeenCalledWith({ frames: "1-10", markersOff: [] });
});
