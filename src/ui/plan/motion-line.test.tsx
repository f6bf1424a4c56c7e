import { screen } from "@testing-library/react";
import { rangeSet } from "@/core/frames/frame-set";
import { renderPart } from "../../../tests/support/components";
import { MotionLine } from "./motion-line";

const before = global.fetch;
afterEach(() => (global.fetch = before));
/** @param body what the server says of the motion */
function answering(body: unknown, status = 200): jest.Mock {
  const fetch = jest.fn(() =>
    Promise.resolve({ ok: status < 400, status, json: () => Promise.resolve(body) }),
  );
  global.fetch = fetch as never;
  return fetch;
}

test("a scene that is numbered outside the time line is asked for where its frames are, and told one thing", async () => {
  const fetch = answering({ movesUntil: 1_005, emptyFrom: null });
  // The time line is 1 to 24.
  renderPart(<MotionLine set={rangeSet(1_001, 1_010)} write={jest.fn()} />);
  expect(
    await screen.findByText("Nothing moves after 1005; frames 1006-1010 repeat one picture."),
  ).toBeTruthy();
  expect(document.body.textContent).not.toContain("Something moves");
  expect(String(fetch.mock.calls[0]![0])).toContain("first=1&last=1010");
});

test("where all that is asked for moves, nothing is to be trimmed", async () => {
  answering({ movesUntil: null, emptyFrom: null });
  renderPart(<MotionLine set={rangeSet(1_001, 1_010)} write={jest.fn()} />);
  expect(await screen.findByText("Something moves to the end of the time line.")).toBeTruthy();
  expect(screen.queryByRole("button")).toBeNull();
});

test("of a scene that cannot be read it says so, and looks no more", async () => {
  answering({ error: { code: "scene-broken", message: "test.json is not JSON.", faults: [] } }, 409);
  renderPart(<MotionLine set={rangeSet(1, 10)} write={jest.fn()} />);
  expect(
    await screen.findByText("Where the motion ends cannot be told: test.json is not JSON."),
  ).toBeTruthy();
  expect(document.body.textContent).not.toContain("Looking");
});
