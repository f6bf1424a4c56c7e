import { fireEvent, screen, within } from "@testing-library/react";
import { renderPart, shotParts } from "../../../tests/support/components";
import type { StartRunBody } from "@/contract/bodies";
import type { PreflightPoint } from "@/core/run/preflight";
import { ApiFailure } from "../live/api";
import { setLive } from "../live/live-store";
import { type Preflight, PreflightList } from "./preflight";

const REQUEST: StartRunBody = { phrase: "all", policy: "fill", scope: "version", nodes: null };
const answer = (...points: PreflightPoint[]): Preflight => ({ data: { points }, error: null }) as Preflight;
const list = (result: Preflight, onNodes = jest.fn(), parts = shotParts()) => {
  renderPart(<PreflightList request={REQUEST} result={result} onNodes={onNodes} />, parts);
  return within(screen.getByTestId("preflight"));
};

test("while nodes are asked it says what they prove", () => {
  expect(list({ data: undefined, error: null }).getByRole("status").textContent).toContain("Nodes prove");
});

test("a server that is away is no fault of the run; any other refusal is told", () => {
  const away = new ApiFailure({ code: "database-away", message: "away", faults: [] });
  expect(list({ data: undefined, error: away }).getByText(/as soon as there is an answer/)).toBeTruthy();
});

test("a refusal is told in its own words", () => {
  const refused = new ApiFailure({ code: "phrase-wrong", message: "column 3: no number", faults: [] });
  expect(list({ data: undefined, error: refused }).getByText("column 3: no number")).toBeTruthy();
});

test("a node that cannot write stops the start, and is left out by a click", () => {
  setLive({
    nodes: ["quay-1", "quay-2"].map((name) => ({ name, state: "idle" as const, seenAgoMs: 0 })) as never,
  });
  const onNodes = jest.fn();
  const preflight = list(answer({ code: "node-cannot-write", node: "quay-2", reason: "read-only" }), onNodes);
  expect(preflight.getByRole("alert").textContent).toContain("stops");
  fireEvent.click(preflight.getByRole("button", { name: "Leave quay-2 out" }));
  expect(onNodes).toHaveBeenCalledWith(["quay-1"]);
});

test("a rejected picture that would come out the same says so, and what could be changed", () => {
  const same = {
    code: "same-again",
    frames: "12",
    count: 1,
    reasons: ["too grainy"],
    nodes: ["quay-1"],
  } as const;
  expect(list(answer({ ...same, isStandIn: true })).getByText(/rejected as “too grainy”/).textContent).toBe(
    "1 frame (12) was rejected as “too grainy”, and nothing that decides the picture has changed: this makes the same one again. Change the samples, the seed, denoising or the scene first.",
  );
});

test("refining that starts over says how long it takes, and lets samples be kept from now on", () => {
  const parts = shotParts();
  const preflight = list(
    answer({ code: "refines-afresh", frames: "1-12", count: 12, seconds: 720, keepsSamples: false }),
    jest.fn(),
    parts,
  );
  expect(preflight.getByText(/start over/).textContent).toContain("about 12 min on one node");
  fireEvent.click(preflight.getByRole("button", { name: "Keep samples" }));
  expect(parts.work.draft.change).toHaveBeenCalledWith({ keepSamples: true });
});

test("what lies in the plan leads there", () => {
  const parts = shotParts();
  const preflight = list(
    answer({ code: "camera-missing", cameras: ["side"], known: ["main"] }),
    jest.fn(),
    parts,
  );
  fireEvent.click(preflight.getByRole("button"));
  expect(parts.work.openBench).toHaveBeenCalledWith("plan");
});
