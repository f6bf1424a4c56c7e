import { screen } from "@testing-library/react";
import { renderPart, RUN, shotParts } from "../../../tests/support/components";
import { setLive } from "../live/live-store";
import { RunStrip } from "./run-strip";

const buttons = (): string[] =>
  screen.getAllByRole("button").map((b) => b.textContent || b.getAttribute("aria-label")!);

test("a run that goes on says how far it is, and can be stopped in two ways", () => {
  renderPart(<RunStrip run={RUN} />);
  const strip = screen.getByTestId("run-strip");
  expect(strip.textContent).toContain("Run 3, what was missing");
  expect(strip.textContent).toContain("4 of 10 frames done");
  expect(buttons()).toEqual(expect.arrayContaining(["Stop after these", "Stop now"]));
});

test("one that has stopped goes on with what it has left", () => {
  renderPart(<RunStrip run={{ ...RUN, state: "stopped" }} />);
  expect(buttons()).toContain("Go on with 6 frames");
  expect(buttons()).not.toContain("Stop now");
});

test("one that began with an older plan says which plan goes on, and offers the newest", () => {
  const revisions = [{ version: "v001", follows: 3, newest: 4 }];
  renderPart(<RunStrip run={{ ...RUN, state: "stopped", revisions }} />);
  expect(buttons()).toEqual(
    expect.arrayContaining(["Go on with 6 frames, revision 3", "With revision 4 instead"]),
  );
});

test("a run whose nodes are paused says so, and promises no end", () => {
  setLive({
    at: Date.now(),
    rendering: [],
    nodes: [
      { name: "quay-1", cores: 1, host: "quay", processors: 2, state: "paused", asideFrom: [], groups: [] },
    ],
  });
  renderPart(
    <RunStrip
      run={{ ...RUN, secondsAFrame: 3, likelyFinish: Date.now() + 60_000, lateFinish: Date.now() + 90_000 }}
    />,
  );
  const { textContent } = screen.getByTestId("run-strip");
  expect(textContent).toContain("Stands still: quay-1 is paused.");
  expect(textContent).not.toContain("likely");
});

test("frames that were set aside can be tried again while it goes on", () => {
  renderPart(<RunStrip run={{ ...RUN, failed: 2 }} />);
  expect(screen.getByTestId("run-strip").textContent).toContain("2 set aside");
  expect(buttons()).toContain("Try 2 frames again");
});

test("a hand-out is waited for, not stopped", () => {
  renderPart(<RunStrip run={{ ...RUN, isHandedOut: true }} />);
  expect(screen.getByTestId("run-strip").textContent).toContain("6 handed out");
  expect(buttons()).toContain("Wait no longer");
  expect(buttons()).not.toContain("Stop now");
});

test("a plan that saves no samples says on how many frames a stop now would lose work", () => {
  const parts = shotParts();
  const shot = {
    ...parts.work.shot,
    plan: { ...parts.work.shot.plan, checkpoints: { kind: "never" as const } },
  };
  setLive({
    rendering: [1, 2].map((frame) => ({
      runId: RUN.id,
      project: "test-film",
      shot: "CO010",
      version: "v001",
      isProof: false,
      isLight: false,
      sequenceId: 1,
      frame,
      node: `quay-${frame}`,
      progress: 0.5,
      seconds: 4,
      expectedSeconds: null,
    })),
  });
  renderPart(<RunStrip run={RUN} />, { ...parts, work: { ...parts.work, shot } });
  expect(buttons()).toContain("Stop now, losing work on 2");
});

test("a full disk that holds a run is told with its figures", () => {
  renderPart(
    <RunStrip
      run={{ ...RUN, held: { code: "disk-full", need: 5_000_000, goesOnAt: 2_000_000, free: 1_000 } }}
    />,
  );
  expect(screen.getByTestId("run-strip").textContent).toMatch(/disk is full/i);
});
