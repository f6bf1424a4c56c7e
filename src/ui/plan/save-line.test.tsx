import { fireEvent, screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import { sayFault } from "@/contract/faults";
import { readPlan, type Plan } from "@/core/plan/plan";
import type { ShotParts } from "../shot/shot-context";
import { SaveLine } from "./save-line";

/** A draft that differs from the saved plan in these settings. */
function edited(change: Partial<Plan>, { hasFiles = true, good = [1, 2, 3, 4] } = {}): ShotParts {
  const parts = shotParts({}, good);
  const plan = { ...parts.work.draft.plan, ...change };
  const read = readPlan(plan);
  return {
    ...parts,
    work: {
      ...parts.work,
      shot: { ...parts.work.shot, hasFiles },
      draft: {
        ...parts.work.draft,
        plan,
        read: read.ok ? read.value : null,
        changed: Object.keys(change) as (keyof Plan)[],
      },
    },
  };
}
const buttons = (): (string | null)[] => screen.getAllByRole("button").map((b) => b.textContent);

test("a plan as it was saved has nothing to save", () => {
  renderPart(<SaveLine />);
  expect(screen.getByText("This is revision 1 of v001 as saved. Runs use it.")).toBeTruthy();
  expect(screen.queryByRole("button")).toBeNull();
});

test("a change that no good frame feels is saved as the next revision", () => {
  const parts = edited({ seed: 7 }, { good: [] });
  renderPart(<SaveLine />, parts);
  expect(screen.getByText(/^Changed since revision 1: /)).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Save as revision 2" }));
  expect(parts.work.draft.save).toHaveBeenCalled();
  fireEvent.click(screen.getByRole("button", { name: "Drop the change" }));
  expect(parts.work.draft.putBack).toHaveBeenCalledWith();
});

test("good frames that would be out of date are counted before anything is saved", () => {
  renderPart(<SaveLine />, edited({ seed: 7 }));
  expect(screen.getByRole("alert").textContent).toContain("4 frames that are good would be out of date");
  expect(buttons()).toEqual([
    "Keep v001, mark them stale",
    "Open v002 with this plan",
    "Put the change back",
  ]);
});

test("another scene file puts every good frame out of date, and says so before", () => {
  renderPart(<SaveLine />, edited({ scene: "scenes/other.json" }));
  expect(screen.getByRole("alert").textContent).toContain("4 frames that are good would be out of date");
});

test("what files have fixed can be put back or goes into the next version, and is never saved here", () => {
  const parts = edited({ namePattern: "{shot}_v{version}.{frame}" });
  renderPart(<SaveLine />, parts);
  expect(screen.getByText(/^v001 holds files, so its name cannot change any more/)).toBeTruthy();
  expect(buttons()).toEqual(["Open v002 with this plan", "Put it back"]);
  fireEvent.click(screen.getByRole("button", { name: "Put it back" }));
  expect(parts.work.draft.putBack).toHaveBeenCalledWith(["namePattern"]);
});

test("without files the name may still change", () => {
  renderPart(
    <SaveLine />,
    edited({ namePattern: "{shot}_v{version}.{frame}" }, { hasFiles: false, good: [] }),
  );
  expect(buttons()).toEqual(["Save as revision 2", "Drop the change"]);
});

test("a plan that cannot be read cannot be saved", () => {
  renderPart(<SaveLine />, edited({ samples: 0 }, { good: [] }));
  expect((screen.getByRole("button", { name: "Save as revision 2" }) as HTMLButtonElement).disabled).toBe(
    true,
  );
});

test("a save that came too late can be done again, on the revision that is there now", () => {
  const parts = edited({ seed: 7 }, { good: [] });
  renderPart(<SaveLine />, {
    ...parts,
    work: {
      ...parts.work,
      shot: { ...parts.work.shot, revision: 4 },
      draft: {
        ...parts.work.draft,
        basedOn: 3,
        saveTrouble: { message: sayFault("plan-outdated", { saved: 4, basedOn: 3 }) } as never,
      },
    },
  });
  const text = document.body.textContent!;
  expect(text).toContain("It was begun on revision 3; revision 4 was saved since.");
  expect(text).toContain("Look at what has changed, then save again.");
  fireEvent.click(screen.getByRole("button", { name: "Save as revision 5" }));
  expect(parts.work.draft.save).toHaveBeenCalled();
});
