import { act, fireEvent, screen } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import type { ReactElement } from "react";
import type { NodeView } from "@/contract/node-view";
import type { FindingView } from "@/contract/sequence-view";
import { rangeSet, setOf } from "@/core/frames/frame-set";
import { packSet } from "@/core/tally/packed";
import { FilesByFrame } from "../live/files-by-frame";
import { setLive } from "../live/live-store";
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

const NODE: NodeView = {
  ...{ name: "quay-1", host: "quay", pid: 1 },
  state: "idle",
  asideFrom: [],
  groups: [],
} as never;
/** Two nodes are awake, of which the second made frames 6 to 10; these are flagged. */
function flagged(...frames: readonly number[]): ShotParts {
  setLive({ at: 1, nodes: [NODE, { ...NODE, name: "quay-2" }] });
  const finding = (frame: number): FindingView => ({
    ...{ id: frame, frame, source: "person", who: null, code: "by-hand", text: "too dark", state: "open" },
    ...{ createdAt: 0, closedAt: null, closedWho: null, why: null, place: null },
  });
  const parts = shotParts(
    {
      findings: frames.map(finding),
      nodes: { "quay-1": packSet(rangeSet(1, 5)), "quay-2": packSet(rangeSet(6, 10)) },
    },
    ALL,
  );
  const files = new FilesByFrame({
    frames: packSet(setOf(ALL)),
    ...{ seconds: ALL.map(() => 1), luminance: ALL.map(() => 0.5), noise: [], samples: ALL.map(() => 4) },
    ...{ bytes: ALL.map(() => 9), content: ALL.map(() => "c"), nodes: ["quay-1", "quay-2"] },
    node: ALL.map((frame) => (frame > 5 ? 1 : 0)),
  });
  return { ...parts, now: { ...parts.now, files } };
}
afterEach(() => setLive({ at: 0, nodes: [] }));

test("a node that made all that is wrong is left out by itself, says so, and can be let in", async () => {
  await show(<PatchBench scope="mend" onScope={jest.fn()} />, flagged(6, 8, 9));
  expect(screen.getByTestId("left-out").textContent).toContain("quay-2 is left out: 3 of the 3 bad frames");
  await act(async () => {
    fireEvent.click(screen.getByRole("button", { name: "Let every node take part" }));
  });
  expect(screen.queryByTestId("left-out")).toBeNull();
});

test("where both made some of it, nobody is left out", async () => {
  await show(<PatchBench scope="mend" onScope={jest.fn()} />, flagged(2, 6));
  expect(screen.queryByTestId("left-out")).toBeNull();
});

test("the list grows by the frames beside each, and the good ones among them are rendered, too", async () => {
  const onScope = jest.fn();
  const parts = shotParts({}, [1, 2, 3, 5, 6, 7, 8, 9, 10]);
  await show(<PatchBench scope="mend" onScope={onScope} />, parts);
  await act(async () => {
    fireEvent.click(screen.getByRole("button", { name: "Grow" }));
  });
  expect(parts.pointed.selection.write).toHaveBeenCalledWith("3-5");
  expect(onScope).toHaveBeenCalledWith("selection");
});
