/** What the measures find odd: judged by keys, dismissed with a reason, back for a new file; and what the bad ones share. */
import fs from "node:fs/promises";
import path from "node:path";
import { catchUp } from "@/server/folder/check";
import { requireSequence } from "@/server/store/shots";
import { expect, type Page, test } from "./alive";
import { frameFile } from "../support/numbered-pictures";
import { layWandering, WANDERING_SIZE, wanderingPicture } from "../support/wandering-pictures";
import { onStage } from "./on-stage";

const on = onStage();
const FRAMES = Array.from({ length: 24 }, (_, i) => i + 1);

/** A shot with a pop at 7, a patch at 13 and a frozen frame at 20. */
async function messy(
  code: string,
): Promise<{ readonly folder: string; readonly look: () => Promise<unknown> }> {
  const { folder, sequenceId } = await on.stage.addShot(code, { frames: "1-24", ...WANDERING_SIZE });
  await layWandering(folder, FRAMES, (frame) => frameFile(code, frame), {
    7: { gain: 1.3 },
    13: { isPatched: true },
    20: 19,
  });
  const look = async (): Promise<unknown> => catchUp(await requireSequence(sequenceId));
  await look();
  return { folder, look };
}
test.beforeAll(() => on.stage.startNode("quay-1"));

const open = (page: Page, code: string): Promise<unknown> =>
  page.goto(`${on.address}/p/test-film/shots/${code}?bench=check`);

test("a pop is found, judged by key, dismissed with a reason, and back for a new file", async ({ page }) => {
  const { folder, look } = await messy("OD1");
  await open(page, "OD1");
  await expect(page.getByTestId("measuring")).toContainText("24 of 24 frames measured");
  const lines = page.getByTestId("odd-line");
  await expect(page.getByText("3 odd to judge")).toBeVisible();
  // From finding to finding by key; the frame stands between its neighbours, its reason below.
  await page.keyboard.press("]");
  const odd = page.getByTestId("odd");
  await expect(page.getByTestId("odd-strip")).toContainText("678what changed");
  await expect(odd).toContainText("The whole picture changes by");
  await page.keyboard.press("d");
  await page.getByLabel("Why it is no fault").fill("lightning");
  await page.keyboard.press("Enter");
  await expect(page.getByText("2 odd to judge")).toBeVisible();
  // Taken back, and dismissed again.
  await page.keyboard.press("u");
  await expect(page.getByText("3 odd to judge")).toBeVisible();
  await page.keyboard.press("d");
  await page.getByLabel("Why it is no fault").fill("lightning");
  await page.keyboard.press("Enter");
  await expect(page.getByText("2 odd to judge")).toBeVisible();
  // The next one is a fault: its place in the picture is drawn, and its frame is flagged with it.
  await page.keyboard.press("]");
  await expect(page.getByTestId("odd-place").first()).toBeVisible();
  await page.keyboard.press("a");
  await expect(page.getByText("1 odd to judge")).toBeVisible();
  await expect(page.getByTestId("finding")).toContainText("A part of it, 32 x 16 at 32, 16");
  await odd.getByRole("button", { name: "Show 2 judged" }).click();
  await expect(lines.filter({ hasText: "dismissed: lightning" })).toHaveCount(1);
  await expect(lines.filter({ hasText: "accepted" })).toHaveCount(1);
  // Somebody puts another picture in its place that pops as well.
  await fs.writeFile(path.join(folder, frameFile("OD1", 7)), wanderingPicture(7, { gain: 1.31 }));
  await look();
  await expect(page.getByText("2 odd to judge")).toBeVisible();
  await expect(lines.first()).toHaveAttribute("data-state", "open");
});

test("a change of threshold shows at once what is odd by it; a wrong figure is told and changes nothing", async ({
  page,
}) => {
  await messy("OD2");
  await open(page, "OD2");
  await expect(page.getByText("3 odd to judge")).toBeVisible();
  await page.getByRole("button", { name: "How far off is odd…" }).click();
  const form = page.getByTestId("thresholds");
  await form.getByLabel("Pop, flicker").fill("0");
  await expect(form).toContainText("from 1 to 1000");
  await expect(page.getByText("3 odd to judge")).toBeVisible();
  await form.getByLabel("Pop, flicker").fill("900");
  await form.getByLabel("Other measures").fill("900");
  await expect(form).toContainText("Set for this shot.");
  await expect(page.getByTestId("odd-line").filter({ hasText: "flicker" })).toHaveCount(0);
  await page.getByRole("button", { name: "As usual" }).click();
  await expect(page.getByText("3 odd to judge")).toBeVisible();
});
