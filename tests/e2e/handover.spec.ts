/** Handing over on the page: a movie with a gap, the edit, a page that plays from a file, a report, copies, after a run. */
import fs from "node:fs/promises";
import path from "node:path";
import { unzipSync } from "fflate";
import { importEdit } from "@/server/actions/import-edit";
import { catchUp } from "@/server/folder/check";
import { requireSequence } from "@/server/store/shots";
import { expect, type Locator, type Page, test } from "./alive";
import { numbersIn, probe } from "../support/decoded";
import { frameFile, layNumbered } from "../support/numbered-pictures";
import { onStage } from "./on-stage";
import { sentence, startRun } from "./pages";

const on = onStage();
const SIZE = { width: 160, height: 90 };

/** A shot whose frames carry their numbers. */
async function numbered(code: string, frames: readonly number[], asked: string): Promise<string> {
  const { folder, sequenceId } = await on.stage.addShot(code, { frames: asked, ...SIZE });
  await layNumbered(folder, code, frames, SIZE);
  await catchUp(await requireSequence(sequenceId));
  return folder;
}

test.beforeAll(async () => {
  await on.stage.startNode("quay-1");
  await numbered("GAP", [1, 2, 4, 5, 6], "1-6");
  await numbered("ALL", [1, 2, 3, 4], "1-4");
});

const open = async (page: Page, code: string): Promise<void> => {
  await page.goto(`${on.address}/p/test-film/shots/${code}?bench=handover`);
  await expect(page.getByTestId("outlook")).toBeVisible();
};
const choose = (page: Page, text: string): Promise<void> => page.getByText(text, { exact: true }).click();
const handOver = (page: Page): Promise<void> =>
  page.getByRole("button", { name: "Hand over", exact: true }).click();
/** The newest, once it is made. */
async function made(page: Page, name: RegExp): Promise<Locator> {
  const line = page.getByTestId("handover").first();
  await expect(line).toContainText(name);
  await expect(line).toHaveAttribute("data-state", "done");
  return line;
}
async function fileOf(line: Locator, page: Page): Promise<string> {
  const waited = page.waitForEvent("download");
  await line.getByRole("link", { name: /Download/ }).click();
  return (await waited).path();
}

test("a movie with a gap: stopped, held, as a card; it is told before and after, and can be kept", async ({
  page,
}) => {
  await open(page, "GAP");
  const outlook = page.getByTestId("outlook");
  await expect(outlook).toContainText("Of these no picture");
  await expect(outlook).toContainText("hold the frame before, or a card with the number");
  await expect(page.getByRole("button", { name: "Hand over", exact: true })).toBeDisabled();
  await page.getByLabel("Kind of movie").selectOption("ffv1");
  await choose(page, "Hold the frame before");
  await expect(outlook).toContainText("GAP_v001_main_beauty_001.mkv");
  await handOver(page);
  const held = await made(page, /GAP_v001_main_beauty_001\.mkv/);
  await expect(held).toContainText("no picture: 3: the frame before was held");
  expect(await numbersIn(await fileOf(held, page))).toEqual([1, 2, 2, 4, 5, 6]);

  await choose(page, "A black card with the number");
  await expect(outlook).toContainText("_002.mkv");
  await handOver(page);
  const card = await made(page, /_002\.mkv/);
  expect((await numbersIn(await fileOf(card, page))).filter((_, i) => i !== 2)).toEqual([1, 2, 4, 5, 6]);

  // The frame comes: both are out of date, and one click makes one again.
  await layNumbered(path.join(on.stage.projectFolder, "GAP/v001/main/beauty"), "GAP", [3], SIZE);
  await expect(sentence(page)).toHaveText("All 6 good.");
  await expect(page.getByTestId("out-of-date")).toHaveCount(2);
  await card.getByRole("button", { name: "Make again" }).click();
  const again = await made(page, /_003\.mkv/);
  await expect(again.getByTestId("out-of-date")).toHaveCount(0);
  expect(await numbersIn(await fileOf(again, page))).toEqual([1, 2, 3, 4, 5, 6]);
  await again.getByRole("button", { name: "Log" }).click();
  await expect(again.getByLabel("Log")).toContainText("read back: 6 frames");
});

test("a rate that differs is told with its effect, and a wrong number where it is typed", async ({
  page,
}) => {
  await open(page, "ALL");
  await page.getByLabel("Frames a second").selectOption("50");
  await expect(page.getByTestId("outlook")).toContainText("208.3 % of its speed");
  await page.getByLabel("Size in percent").fill("0");
  await expect(page.getByText("must be at least 1").first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Hand over", exact: true })).toBeDisabled();
  await page.getByLabel("Size in percent").fill("50");
  await expect(page.getByTestId("outlook")).toContainText("80 x 46, from pictures of 160 x 90");
  await page.getByLabel("Size by").selectOption("pixels");
  await page.getByLabel("Width of the movie").fill("640");
  await page.getByLabel("Height of the movie").fill("640");
  await expect(page.getByTestId("outlook")).toContainText("640 x 640, from pictures of 160 x 90");
});

test("settings are kept under a name, chosen again, and forgotten", async ({ page }) => {
  await open(page, "ALL");
  await page.getByLabel("Kind of movie").selectOption("gif");
  await page.getByLabel("Size in percent").fill("50");
  await page.getByRole("button", { name: /^Holds, background/ }).click();
  await page.getByLabel("Name of the preset").fill("for the client");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  const preset = page.getByLabel("Preset", { exact: true });
  await expect(preset.locator("option:checked")).toHaveText("for the client");
  await preset.selectOption({ label: "for a phone" });
  await expect(page.getByLabel("Kind of movie")).toHaveValue("h264");
  await preset.selectOption({ label: "for the client" });
  await expect(page.getByLabel("Kind of movie")).toHaveValue("gif");
  await expect(page.getByLabel("Size in percent")).toHaveValue("50");
  const call = await on.stage.cli("export", "ALL", "--as", "movie", "--preset", "for the client", "--json");
  expect(await probe((JSON.parse(call.stdout) as { path: string }).path)).toMatchObject({
    width: 80,
    codec: "gif",
  });
  await page.getByRole("button", { name: "Forget for the client" }).click();
  await expect(preset.locator("option", { hasText: "for the client" })).toHaveCount(0);
  expect((await on.stage.cli("export", "ALL", "--as", "movie", "--preset", "for the client")).code).toBe(2);
});

test("the moving page plays from a file, without a server", async ({ page, context }) => {
  await open(page, "ALL");
  await choose(page, "A page that plays anywhere");
  await handOver(page);
  await made(page, /ALL_v001_main_beauty_page_001\.html/);
  const alone = await context.newPage();
  await alone.goto(
    `file://${path.join(on.stage.projectFolder, "handovers/ALL_v001_main_beauty_page_001.html")}`,
  );
  const frame = alone.locator("#frame");
  await expect(frame).toHaveText("1");
  await alone.keyboard.press("ArrowRight");
  await expect(frame).toHaveText("2");
  await alone.keyboard.press("End");
  await expect(frame).toHaveText("4");
  expect(await alone.locator("img").evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(160);
  const seen = new Set<string>();
  await alone.keyboard.press("Space");
  await expect(async () => {
    seen.add((await frame.textContent())!);
    expect(seen.size).toBe(4);
  }).toPass();
  await alone.close();
});

test("a report and copies of the frames, as a ZIP", async ({ page }) => {
  await open(page, "ALL");
  await choose(page, "A report of the shot");
  await handOver(page);
  const report = await made(page, /report_001\.html/);
  expect(await fs.readFile(await fileOf(report, page), "utf8")).toContain("All 4 good");
  await choose(page, "A copy of the frames");
  await page.getByLabel("First number").fill("101");
  await page.getByLabel("Name", { exact: true }).fill("quay");
  await handOver(page);
  const copies = await made(page, /frames_001/);
  const zip = unzipSync(new Uint8Array(await fs.readFile(await fileOf(copies, page))));
  expect(Object.keys(zip).map((name) => path.basename(name))).toEqual([
    "quay.0101.png",
    "quay.0102.png",
    "quay.0103.png",
    "quay.0104.png",
  ]);
  const original = await fs.readFile(
    path.join(on.stage.projectFolder, "ALL/v001/main/beauty", frameFile("ALL", 1)),
  );
  expect(Buffer.from(Object.values(zip)[0]!).equals(original)).toBe(true);
});

test("the edit as one movie, in its order", async ({ page }) => {
  await importEdit(
    "test-film",
    "cut.edl",
    [
      "TITLE: CUT",
      "FCM: NON-DROP FRAME",
      "",
      "001  ALL  V  C  00:00:00:01 00:00:00:03 01:00:00:00 01:00:00:02",
      "002  GAP  V  C  00:00:00:04 00:00:00:07 01:00:00:02 01:00:00:05",
      "",
    ].join("\n"),
  );
  await page.goto(`${on.address}/p/test-film/hand-over`);
  await expect(page.getByTestId("outlook")).toContainText("5 pictures at 24");
  await page.getByLabel("Kind of movie").selectOption("ffv1");
  await handOver(page);
  const line = await made(page, /test-film_edit_001\.mkv/);
  expect(await numbersIn(await fileOf(line, page))).toEqual([1, 2, 4, 5, 6]);
});

test("a run carries what follows it; it comes by itself once all frames are good", async ({ page }) => {
  await on.stage.addShot("THEN", { frames: "1-3", width: 64, height: 36 });
  await page.goto(`${on.address}/p/test-film/shots/THEN?bench=run`);
  await page.getByLabel("When all frames are good").selectOption("phone");
  await startRun(page, "3 frames");
  await expect(sentence(page)).toHaveText("All 3 good.");
  await page.getByRole("tab", { name: "Hand over" }).click();
  const line = await made(page, /THEN_v001_main_beauty_001\.mp4/);
  expect(await probe(await fileOf(line, page))).toMatchObject({ codec: "h264", frames: 3 });
});

test("the ledger opens with what happened, until it was seen", async ({ page }) => {
  await page.goto(`${on.address}/p/test-film`);
  const news = page.getByTestId("news");
  await expect(news).toContainText("ALL_v001_main_beauty_page_001.html handed over");
  await expect(news.getByTestId("news-of-shot").filter({ hasText: "THEN" })).toContainText(
    "3 frames (1-3) made",
  );
  await news.getByRole("button", { name: "I have seen it" }).click();
  await expect(news).toHaveCount(0);
});
