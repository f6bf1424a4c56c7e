/**
 * What a person sees and does when the disk is full. Its stage holds nothing else: the small disk takes in
 * all that is there.
 */
import { expect, test } from "./alive";
import { canMount, type Disk, mountDisk } from "../support/mounts";
import { onStage } from "./on-stage";
import { sentence, startRun } from "./pages";

const on = onStage();

test("a full disk holds the run with the figure it needs, and it goes on by itself when there is room", async ({
  page,
}) => {
  // Only a real small disk can be full; a machine without the right to mount says that it did not ask.
  test.skip(!canMount, "mounting is not allowed here");
  await on.stage.addShot("FL020", {
    frames: "1-6",
    width: 320,
    height: 180,
    samples: 2,
    file: { kind: "png", depth: 16, level: 0 },
  });
  await on.stage.startNode("quay-1");
  const disk: Disk = mountDisk(on.stage.projectFolder, 60_000_000);
  try {
    // The preflight lets nobody start on a full disk: it fills up afterwards.
    const pause = (how: "now" | "no") =>
      page.request.post(`${on.address}/api/pause`, { data: { pause: how }, headers: { origin: on.address } });
    await pause("now");
    await page.goto(`${on.address}/p/test-film/shots/FL020?bench=run`);
    await startRun(page, "6 frames");
    await expect(page.getByTestId("run-strip")).toContainText("0 of 6 frames done");
    disk.fill(600_000);
    await pause("no");
    const held = page.getByTestId("held");
    await expect(held).toContainText(
      /Held: the disk is full\. All that is left needs about [\d.]+ MB; [\d.]+ (kB|MB|B) are free\. It goes on by itself at [\d.]+ MB\./,
    );
    disk.empty();
    await expect(held).toHaveCount(0);
    await expect(sentence(page)).toHaveText("All 6 good.");
  } finally {
    disk.empty();
    disk.remove();
  }
});
