import { fireEvent, screen, within } from "@testing-library/react";
import type { HandoverView } from "@/contract/handover";
import { wishOf } from "@/contract/handover";
import { HANDOVER_STATES } from "@/core/handover/handover-life";
import { renderPart } from "../../../tests/support/components";
import { HandoverList } from "./handover-list";
import type { HandoverDeeds } from "./use-handovers";

const deed = (error: Error | null = null) => ({ mutate: jest.fn(), error, isPending: false });
const deeds = (change: Partial<Record<keyof HandoverDeeds, unknown>> = {}) =>
  ({ make: deed(), stop: deed(), again: deed(), forget: deed(), ...change }) as unknown as HandoverDeeds;

const DONE: HandoverView = {
  id: 4,
  wish: wishOf({ as: "movie", frames: "1-48", gaps: "hold" }),
  name: "HL010_v001_main_beauty_002.mp4",
  path: "/films/harbour/handovers/HL010_v001_main_beauty_002.mp4",
  state: "done",
  progress: 1,
  node: "quay-1",
  runId: null,
  held: null,
  isOutOfDate: false,
  isHere: true,
  result: {
    path: "/films/harbour/handovers/HL010_v001_main_beauty_002.mp4",
    folder: "/films/harbour/HL010/v001/main/beauty",
    bytes: 1_500_000,
    frames: 48,
    rate: "24/1",
    seconds: 2,
    warnings: ["12 of 60 frames of the plan are left out."],
  },
  fault: null,
  who: "Mara",
  createdAt: 0,
  endedAt: 1_000,
};
const show = (handover: Partial<HandoverView>, all = deeds()) => {
  renderPart(<HandoverList handovers={[{ ...DONE, ...handover }]} deeds={all} />);
  return within(screen.getByTestId("handover"));
};

test("what was made says where it lies, what it holds, what was odd about it, and is downloaded from here", () => {
  const line = show({});
  expect(line.getByText(DONE.path)).toBeTruthy();
  expect(line.getByRole("button", { name: /Copy.*path of HL010/ })).toBeTruthy();
  expect(line.getByText(/of 1-48, gaps held · 48 pictures, 2(\.0)? s · .*MB · Mara/)).toBeTruthy();
  expect(line.getByText("12 of 60 frames of the plan are left out.")).toBeTruthy();
  expect(line.getByRole("link", { name: "Download" }).getAttribute("href")).toBe("/api/handovers/4/file");
  expect(line.queryByTestId("out-of-date")).toBeNull();
});

test("copies come as one ZIP; a file that is elsewhere is not offered", () => {
  expect(
    show({ wish: wishOf({ as: "frames" }) }).getByRole("link", { name: "Download as ZIP" }),
  ).toBeTruthy();
});

test("what does not lie here cannot be downloaded, and says its path all the same", () => {
  const line = show({ isHere: false });
  expect(line.queryByRole("link")).toBeNull();
  expect(line.getByText(DONE.path)).toBeTruthy();
});

test("out of date is told, and one click makes it again", () => {
  const all = deeds();
  const line = show({ isOutOfDate: true }, all);
  expect(line.getByTestId("out-of-date").textContent).toContain("have changed since");
  fireEvent.click(line.getByRole("button", { name: "Make again" }));
  expect(all.again.mutate).toHaveBeenCalledWith(4);
});

test("one that waits for its run says what keeps it, and can be cancelled", () => {
  const all = deeds();
  const line = show(
    { state: "awaiting", runId: 9, held: "Run 9 is over, and 3-5 are missing.", result: null },
    all,
  );
  expect(line.getByText("waits for run 9")).toBeTruthy();
  expect(line.getByText(/3-5 are missing/)).toBeTruthy();
  fireEvent.click(line.getByRole("button", { name: "Cancel" }));
  expect(all.stop.mutate).toHaveBeenCalledWith(4);
});

test("one that could not be made says why in a sentence, and is tried again from there", () => {
  const all = deeds();
  const fault = { code: "ffmpeg-missing", message: "ffmpeg is not there: install it." };
  const line = show({ state: "failed", fault, result: null, isHere: false }, all);
  expect(line.getByText(fault.message)).toBeTruthy();
  fireEvent.click(line.getByRole("button", { name: "Try again" }));
  expect(all.again.mutate).toHaveBeenCalledWith(4);
});

test.each(HANDOVER_STATES)(
  "one that is %s is either cancelled or taken off the list, never both",
  (state) => {
    const line = show({ state, result: null });
    const isOffered = (name: RegExp): boolean => line.queryByRole("button", { name }) !== null;
    expect(isOffered(/^Cancel/)).toBe(!isOffered(/off the list/));
    expect(line.queryByRole("progressbar") !== null).toBe(state === "waiting" || state === "leased");
  },
);

test("nothing yet is said, and what went wrong with a click is told", () => {
  renderPart(<HandoverList handovers={[]} deeds={deeds({ stop: deed(new Error("It is over.")) })} />);
  expect(screen.getByText("Nothing was handed over yet.")).toBeTruthy();
  expect(screen.getByText("It is over.")).toBeTruthy();
});
