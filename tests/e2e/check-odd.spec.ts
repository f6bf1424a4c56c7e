/** What the measures find odd: judged by keys, dismissed with a reason, back for a new file; and what the bad ones share. */
import fs from "node:fs/promises";
import path from "node:path";
import { pool } from "@/server/db/pool";
import { write } from "@/server/db/rows";
import { catchUp } from "@/server/folder/check";
import { requireSequence } from "@/server/store/shots";
import { viewAsideFiles } from "@/server/views/aside-files";
import { loadSequence } from "@/server/views/tally";
import { expect, type Page, test } from "./alive";
import { frameFile } from "../support/numbered-pictures";
import { layWandering, WANDERING_SIZE, wanderingPicture } from "../support/wandering-pictures";
import { onStage } from "./on-stage";
import { openBench, startRun } from "./pages";

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

test("a region flickers on one node: shared cause, all of the node, a patch without it, before and after, two accepted, one taken back, a report", async ({
  page,
}) => {
  const code = "OD3";
  const { folder, sequenceId } = await on.stage.addShot(code, { frames: "1-24", ...WANDERING_SIZE });
  const bad = [6, 12, 18];
  await layWandering(
    folder,
    FRAMES,
    (frame) => frameFile(code, frame),
    Object.fromEntries(bad.map((frame) => [frame, { isPatched: true }])),
  );
  await catchUp(await requireSequence(sequenceId));
  // What the files of our own renderer say of their maker: every fifth is quay-2's.
  await write(
    pool(),
    "UPDATE frame_file SET node = IF(frame IN (6, 12, 18, 23, 24), 'quay-2', 'quay-1') WHERE sequence_id = ?",
    [sequenceId],
  );
  await on.stage.startNode("quay-2");
  await open(page, code);
  await expect(page.getByText("3 odd to judge")).toBeVisible();
  const causes = page.getByTestId("shared-causes");
  await expect(causes).toContainText("3 of 3 bad frames came from quay-2, as 5 of all 24 do.");
  await page.getByTestId("cause").first().getByRole("button", { name: "Select all 5" }).click();
  await expect(page.getByLabel("Frame phrase")).toHaveValue("6-18/6,23-24");
  // The node is trusted no more, with the reason kept.
  await page.getByTestId("cause").first().getByRole("button", { name: "Set aside…" }).click();
  await page.getByLabel("Why quay-2 is set aside").fill("its texture is missing");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Why quay-2 is set aside")).toHaveCount(0);
  // All that is odd of the selection at once.
  await page.getByRole("button", { name: "Accept all 3 selected" }).click();
  await expect(page.getByText("Nothing odd left to judge")).toBeVisible();

  await openBench(page, "Patch");
  await expect(page.getByTestId("left-out")).toContainText("quay-2 is left out: 3 of the 3 bad frames");
  await startRun(page, "3 frames");
  const replaced = page.getByTestId("replaced");
  await expect(replaced).toContainText("3 frames made anew, to be accepted");
  const { files } = await loadSequence(sequenceId);
  expect(files.filter((f) => bad.includes(f.frame)).map((f) => f.node)).toEqual([
    "quay-1",
    "quay-1",
    "quay-1",
  ]);
  // Each beside the picture that it replaced.
  await expect(replaced).toContainText("6 before6 nowwhat changed");
  await page.getByLabel("Frame phrase").fill("6,12");
  await replaced.getByRole("button", { name: "Accept selected 2" }).click();
  await expect(replaced).toContainText("1 frame made anew, to be accepted");
  await replaced.getByRole("button", { name: "Undo 18" }).click();
  await expect(page.getByTestId("to-render").filter({ visible: true })).toHaveText("1 frame");
  expect(await fs.readFile(path.join(folder, frameFile(code, 18)))).toEqual(
    Buffer.from(wanderingPicture(18, { isPatched: true })),
  );
  // The case ends once nothing waits: what was kept goes with its report.
  const close = page.getByTestId("close-case");
  await expect(close.getByRole("button", { name: "Close the case" })).toBeDisabled();
  await replaced.getByRole("button", { name: "Accept 18" }).click();
  await close.getByRole("button", { name: "Close the case" }).click();
  await close.getByRole("button", { name: "See it on Hand over" }).click();
  const report = page.getByTestId("handover").filter({ hasText: "Report of a closed case" });
  await expect(report).toHaveAttribute("data-state", "done");
  const told = path.join(on.stage.projectFolder, "handovers", `${code}_v001_main_beauty_case_001.html`);
  expect(await fs.readFile(told, "utf8")).toContain("Frame 6 before");
  expect((await viewAsideFiles(sequenceId)).count).toBe(0);
  // Why the node is set aside stands on Nodes, and the frame that was left in the list of all shots.
  await page.goto(`${on.address}/nodes`);
  await expect(page.getByTestId("aside").filter({ hasText: "its texture is missing" })).toBeVisible();
  await page.goto(`${on.address}/p/test-film/patch`);
  const list = page.getByTestId("patch-shot").filter({ hasText: code });
  await expect(list.getByTestId("patch-range")).toContainText("flicker of a part18");
  await expect(page.getByTestId("patch-sentence")).toContainText("need rendering");
});
