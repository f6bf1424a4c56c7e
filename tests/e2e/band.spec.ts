/** The tally band and Look by mouse and keys, on a short and on a long sequence; two tabs; day and night. */
import { expect, type Page, test } from "./alive";
import fs from "node:fs/promises";
import path from "node:path";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { imageTools } from "@/server/files/image-tools";
import { PLAN } from "../support/plan";
import {} from "../support/stage";
import { onStage } from "./on-stage";
import { cell, clickStroke, openBench, sentence } from "./pages";

const on = onStage();

/** Writes frames as files that are just there, each of another grey. */
async function layFrames(folder: string, code: string, frames: readonly number[]): Promise<void> {
  await fs.mkdir(folder, { recursive: true });
  for (const frame of frames)
    await fs.writeFile(
      path.join(folder, `${code}.${String(frame).padStart(4, "0")}.png`),
      writePng(
        rgb8(PLAN.width, PLAN.height, new Uint8Array(PLAN.width * PLAN.height * 3).fill((frame * 37) & 255)),
        {},
        imageTools,
      ),
    );
}

const range = (first: number, last: number): number[] =>
  Array.from({ length: last - first + 1 }, (_, i) => first + i);
const shownFrames = (page: Page): Promise<number[]> =>
  page
    .locator("[role=gridcell]")
    .evaluateAll((cells) => cells.map((c) => Number((c as HTMLElement).dataset.frame)));

test("a short sequence: drag selects, a count selects its frames, Enter and Escape do their work", async ({
  page,
}) => {
  const shot = await on.stage.addShot("BA010", { frames: "1-30" });
  await layFrames(shot.folder, "BA010", range(1, 20));
  await page.goto(`${on.address}/p/test-film/shots/BA010?bench=run`);
  await expect(sentence(page)).toHaveText("20 of 30 good, 10 missing.");
  expect(await shownFrames(page)).toEqual(range(1, 30));
  const field = page.getByLabel("Frame phrase");

  const box = (await page.getByRole("grid", { name: "Tally band" }).locator("canvas").boundingBox())!;
  const pitch = box.width / (30 + 2 * 0.9);
  const x = (frame: number): number => box.x + (frame - 1 + Math.floor((frame - 1) / 10) * 0.9 + 0.5) * pitch;
  await page.mouse.move(x(4), box.y + 40);
  await page.mouse.down();
  await page.mouse.move(x(12), box.y + 45, { steps: 6 });
  await page.mouse.up();
  await expect(field).toHaveValue("4-12");
  await expect(cell(page, 12)).toHaveAttribute("aria-selected", "true");
  await expect(cell(page, 13)).toHaveAttribute("aria-selected", "false");

  await sentence(page).getByRole("button", { name: "10 missing" }).click();
  await expect(field).toHaveValue("missing");
  await expect(page.getByTestId("selected-frames")).toHaveText("21-30");
  await page.getByRole("button", { name: "Use in the bench" }).click();
  await expect(page.getByRole("radio", { name: "What is selected on the band" })).toBeChecked();
  await expect(page.getByTestId("to-render").filter({ visible: true })).toHaveText("10 frames");

  // A phrase keeps its meaning while the tally changes: what was missing and has come is not selected any
  // more.
  await layFrames(shot.folder, "BA010", [21, 22]);
  await expect(page.getByTestId("selected-frames")).toHaveText("23-30");
  await field.fill("1-5,40");
  await expect(page.getByText("Not in this sequence: 40")).toBeVisible();
});

test("a long sequence: the overview shows all of it, the window moves and zooms, and one bad frame is seen", async ({
  page,
}) => {
  const shot = await on.stage.addShot("BA020", { frames: "1-2000" });
  await layFrames(shot.folder, "BA020", range(1, 12));
  await fs.writeFile(path.join(shot.folder, "BA020.1500.png"), "no picture");
  await page.goto(`${on.address}/p/test-film/shots/BA020?bench=check`);
  await expect(sentence(page)).toHaveText("12 of 2,000 good, 1 flagged, 1,987 missing.");
  expect(await shownFrames(page)).toEqual(range(1, 100));
  const canvas = page.getByRole("grid", { name: "Tally band" }).locator("canvas");
  const box = (await canvas.boundingBox())!;
  await canvas.click({ position: { x: box.width * 0.75, y: 8 } });
  await expect(cell(page, 1500)).toHaveAttribute("data-result", "flagged");
  await page.getByRole("button", { name: "Zoom in" }).click();
  expect((await shownFrames(page)).length).toBe(71);
  await page.getByRole("button", { name: "Zoom out" }).click();
  await page.mouse.move(box.x + 300, box.y + 60);
  const before = (await shownFrames(page))[0]!;
  await page.mouse.wheel(0, 400);
  await expect.poll(async () => (await shownFrames(page))[0]).toBeGreaterThan(before);
  const here = (await shownFrames(page))[0]!;
  // The window is where it was after a look at another page.
  await page.getByRole("link", { name: "Plain Tally" }).click();
  await expect(page.getByRole("heading", { name: "Test Film" })).toBeVisible();
  await page.goBack();
  await expect.poll(async () => (await shownFrames(page))[0]).toBe(here);
  // ] goes to the finding, and the band shows where it is.
  await page.keyboard.press("]");
  await expect(page.getByTestId("focused-frame")).toHaveText(/^1500flagged/);
});

test("Look by keys: steps, in and out, backwards, the findings, good takes a flag back", async ({ page }) => {
  const shot = await on.stage.addShot("BA030", { frames: "1-30" });
  await layFrames(shot.folder, "BA030", range(1, 14));
  await layFrames(shot.folder, "BA030", range(16, 30));
  await page.goto(`${on.address}/p/test-film/shots/BA030?bench=check`);
  await expect(sentence(page)).toHaveText("29 of 30 good, 1 missing.");
  await clickStroke(page, 9, 1, 30);
  await page.getByRole("grid", { name: "Tally band" }).dblclick({ position: { x: 5, y: 50 } });
  const look = page.getByTestId("look");
  const frame = look.getByTestId("look-frame");
  await expect(frame).toHaveText("1");
  await page.keyboard.press("Shift+ArrowRight");
  await expect(frame).toHaveText("11");
  await page.keyboard.press("i");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("o");
  await expect(look.getByTestId("play-state")).toContainText("plays 11 to 13");
  await page.keyboard.press("j");
  await expect(look.getByRole("button", { name: "Stop" })).toBeVisible();
  await page.keyboard.press("k");
  expect(Number(await frame.textContent())).toBeGreaterThanOrEqual(11);
  expect(Number(await frame.textContent())).toBeLessThanOrEqual(13);
  await page.keyboard.press("Home");
  await expect(frame).toHaveText("11");
  await look.getByRole("button", { name: "Whole" }).click();
  await page.keyboard.press("End");
  await expect(frame).toHaveText("30");

  await page.keyboard.press("s");
  await expect(look.getByLabel("Name of the file")).toHaveValue("BA030.0030.png");
  const [kept] = await Promise.all([
    page.waitForEvent("download"),
    look.getByRole("link", { name: "Save" }).click(),
  ]);
  expect(await fs.readFile(await kept.path())).toEqual(
    await fs.readFile(path.join(shot.folder, "BA030.0030.png")),
  );

  await page.keyboard.press("f");
  const reason = look.getByLabel("Reason");
  await reason.fill("too dark");
  // A frame that arrives while somebody types leaves the keyboard where it is.
  await layFrames(shot.folder, "BA030", [15]);
  await expect(look.locator('[role=gridcell][data-frame="15"]')).toHaveAttribute("data-result", "good");
  await page.evaluate(
    () => new Promise((painted) => requestAnimationFrame(() => requestAnimationFrame(painted))),
  );
  await expect(reason).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(look).toContainText("too dark");
  await page.keyboard.press("Home");
  await page.keyboard.press("]");
  await expect(frame).toHaveText("30");
  await page.keyboard.press("g");
  await expect(look).not.toContainText("too dark");
  await page.keyboard.press("Escape");
  await expect(sentence(page)).toHaveText("All 30 good.");
  await page.getByRole("button", { name: "Show 1 closed" }).click();
  await expect(page.getByTestId("finding")).toHaveAttribute("data-state", "dismissed");
});

test("two tabs share one stream, and both hear of a change", async ({ page, context }) => {
  const shot = await on.stage.addShot("BA040", { frames: "1-3" });
  let streams = 0;
  context.on("request", (request) => {
    if (request.url().endsWith("/api/events")) streams++;
  });
  await page.goto(`${on.address}/p/test-film/shots/BA040?bench=check`);
  await expect(sentence(page)).toHaveText("0 of 3 good, 3 missing.");
  const other = await context.newPage();
  await other.goto(`${on.address}/`);
  await expect(other.getByRole("region", { name: "Shot BA040" })).toContainText("0 of 3 good");
  await expect(other.getByText("no node is there")).toBeVisible();
  await layFrames(shot.folder, "BA040", [1, 2, 3]);
  await expect(other.getByRole("region", { name: "Shot BA040" })).toContainText("All 3 good.");
  await expect(sentence(page)).toHaveText("All 3 good.");
  expect(streams).toBe(1);
});

test("benches by keys, help and back, night and day", async ({ page }) => {
  await on.stage.addShot("BA050", { frames: "1-3" });
  await page.goto(`${on.address}/p/test-film/shots/BA050?bench=run`);
  await expect(sentence(page)).toHaveText("0 of 3 good, 3 missing.");
  for (const [key, bench] of [
    ["5", "Patch"],
    ["4", "Check"],
    ["1", "Plan"],
    ["2", "Prove"],
    ["3", "Run"],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.getByRole("tab", { name: bench, exact: true })).toHaveAttribute(
      "aria-selected",
      "true",
    );
  }
  const background = (): Promise<string> =>
    page.evaluate(() => getComputedStyle(document.body).backgroundColor);
  expect(await background()).toBe("rgb(243, 240, 232)");
  await page.getByRole("button", { name: "Night version" }).click();
  await expect.poll(background).toBe("rgb(21, 24, 26)");
  await page.keyboard.press("?");
  await expect(page.getByRole("heading", { name: "Help" })).toBeVisible();
  await expect.poll(background).toBe("rgb(21, 24, 26)");
  await page.getByRole("button", { name: "1-96,!40-50" }).click();
  await expect(page.getByRole("status")).toHaveText("85 frames, 1 to 96, written 1-39,51-96");
  await page.getByLabel("Try a phrase").fill("90-86");
  await expect(page.getByRole("alert").filter({ hasText: "write 86-90" })).toBeVisible();
  await page.goBack();
  await openBench(page, "Check");
  // Nothing to check, and it says so without an error.
  await page.getByRole("button", { name: "Check 0 frames" }).click();
  await expect(page.getByTestId("check-result")).toContainText("nothing");
});
