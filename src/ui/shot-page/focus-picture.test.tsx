import { act, fireEvent, screen } from "@testing-library/react";
import { setOf } from "@/core/frames/frame-set";
import { packSet } from "@/core/tally/packed";
import { FilesByFrame } from "@/ui/live/files-by-frame";
import { renderPart, shotParts } from "../../../tests/support/components";
import { setLive } from "../live/live-store";
import { FocusPicture } from "./focus-picture";

const FILES = new FilesByFrame({
  frames: packSet(setOf([3])),
  seconds: [1],
  luminance: [0.5],
  noise: [0.01],
  node: [0],
  nodes: ["quay-1"],
  content: ["abc"],
  samples: [4],
  bytes: [100],
});

test("a picture that does not come is told in words, and tried again when its folder can be seen again", () => {
  const parts = shotParts({}, [3]);
  renderPart(<FocusPicture />, { ...parts, now: { ...parts.now, files: FILES } });
  fireEvent.error(screen.getByAltText("Frame 3"));
  expect(screen.queryByRole("img")).toBeNull();
  expect(document.body.textContent).toContain("cannot be shown");
  act(() => setLive({ outOfSight: [{ project: "p", folder: "/x", since: 0, why: "ENOENT" }] }));
  fireEvent.error(screen.getByAltText("Frame 3"));
  act(() => setLive({ outOfSight: [] }));
  expect(screen.getByAltText("Frame 3")).toBeTruthy();
});
