import { fireEvent, screen } from "@testing-library/react";
import { renderPart } from "../../../tests/support/components";
import { HeldLine } from "./held-line";

test("a full disk says what is needed, what is free, and that it goes on by itself", () => {
  renderPart(
    <HeldLine
      held={{ code: "disk-full", need: 5_000_000, free: 1_000, goesOnAt: 2_000_000 }}
      isPending={false}
      onGoOn={jest.fn()}
    />,
  );
  const text = screen.getByTestId("held").textContent;
  expect(text).toContain("needs about 5.0 MB; 1 kB are free");
  expect(text).toContain("goes on by itself at 2.0 MB");
});

test("a scene that fails everywhere names the nodes, the frames and what was said; a person goes on", () => {
  const goOn = jest.fn();
  renderPart(
    <HeldLine
      held={{
        code: "scene-fails",
        error: "texture-missing",
        nodes: ["quay-1", "quay-2"],
        frames: [1, 2],
        message: "the texture is missing.",
      }}
      isPending={false}
      onGoOn={goOn}
    />,
  );
  expect(screen.getByTestId("held").textContent).toContain(
    "quay-1, quay-2 each failed on the first frame (1-2) in the same way, so it is the scene: the texture is missing.",
  );
  fireEvent.click(screen.getByRole("button", { name: "Go on now" }));
  expect(goOn).toHaveBeenCalled();
});
