/** Prove: real proofs by real nodes, the estimate that rests on them, and what would be there in time. */
import { expect, test } from "./alive";
import fs from "node:fs/promises";
import path from "node:path";
import { TEST_SCENE, writeScene } from "../support/scene";
import { onStage } from "./on-stage";
import { openBench, sentence } from "./pages";

const on = onStage();

test("proof, estimate, backwards, plan; and the proofs become frames without rendering", async ({ page }) => {
  const shot = await on.stage.addShot("PR010", {
    frames: "1-24",
    passes: ["beauty", "denoised"],
    namePattern: "{shot}_{pass}.{frame}",
  });
  await page.goto(`${on.address}/p/test-film/shots/PR010?bench=prove`);
  await expect(page.getByText("Nothing has been timed yet.")).toBeVisible();
  await on.stage.startNode("quay-1");
  await page.getByRole("button", { name: "Prove 3 frames" }).click();
  const proofs = page.getByRole("group", { name: /^Proof \d+/ });
  await expect(proofs.getByRole("img", { name: /^Proof of frame \d+, denoised/ })).toHaveCount(3);
  // Apart from the sequence: nothing of it is there.
  await expect(sentence(page)).toHaveText("0 of 24 good, 24 missing.");
  expect(await fs.readdir(shot.folder).catch(() => [])).toEqual([]);
  await expect(page.getByTestId("basis")).toContainText("Rests on 3 proofs");
  await expect(page.getByTestId("estimate")).toContainText("24 frames on 1 node");

  // A deadline that has just passed is a day away: as planned it will be there.
  const backwards = page.getByRole("group", { name: "Backwards" });
  const by = backwards.getByLabel("There by");
  await by.fill(await page.evaluate(() => new Date(Date.now() - 60_000).toTimeString().slice(0, 5)));
  await expect(backwards).toContainText("As planned it will be.");
  await by.fill("25:99x");
  await expect(backwards).toContainText("Write a time, such as 08:00.");

  // So many samples that it takes days: fewer samples get there, and a click puts them into the plan.
  await openBench(page, "Plan");
  await page.getByRole("tab", { name: /^Quality/ }).click();
  await page.locator("input[name=samples]").fill("65536");
  await page.getByRole("tab", { name: /^Size/ }).click();
  await page.locator("input[name=width]").fill("480");
  await page.locator("input[name=height]").fill("270");
  await openBench(page, "Prove");
  // Far from both ends whatever the machine does meanwhile: days as planned, minutes at one sample.
  await by.fill(await page.evaluate(() => new Date(Date.now() + 12 * 3_600_000).toTimeString().slice(0, 5)));
  await expect(backwards).toContainText("Each of these alone gets there:");
  const way = backwards.getByText(/^[\d,]+ samples$/);
  const samples = (await way.textContent())!.replace(/\D/g, "");
  await way.locator("..").getByRole("button", { name: "Put it into the plan" }).click();
  await openBench(page, "Plan");
  await page.getByRole("tab", { name: /^Quality/ }).click();
  await expect(page.locator("input[name=samples]")).toHaveValue(samples);
  expect(Number(samples)).toBeLessThan(65_536);

  // Back to the saved plan, whose files the proofs are: they are taken over as they lie.
  await page.getByRole("button", { name: "Drop the change" }).click();
  await openBench(page, "Prove");
  const before = await on.stage.cli("status", "PR010", "--json");
  expect(JSON.parse(before.stdout)).toMatchObject({ results: { good: 0, missing: 24 } });
  // Large, raw against denoised; and one of them as a file under a name of one's own.
  await proofs.getByRole("button", { name: "See proof of frame 12 large" }).first().click();
  const large = page.getByTestId("proof-look");
  await expect(large.getByRole("img", { name: "Frame 12, raw and denoised" })).toHaveAttribute(
    "data-shown",
    "true",
  );
  await expect(large.getByTestId("layer-label")).toHaveText([/^raw, grain \d/, /^denoised, grain \d/]);
  await large.getByRole("button", { name: "Save denoised…" }).click();
  await large.getByLabel("Name of the file").fill("for-the-wall.png");
  const [kept] = await Promise.all([
    page.waitForEvent("download"),
    large.getByRole("link", { name: "Save" }).click(),
  ]);
  expect(kept.suggestedFilename()).toBe("for-the-wall.png");
  expect((await fs.readFile(await kept.path())).subarray(1, 4).toString()).toBe("PNG");
  await page.keyboard.press("Escape");
  await expect(large).toHaveCount(0);
  await proofs.getByRole("button", { name: "Use these" }).click();
  await expect(page.getByText("Frames 1,12,24 are in the sequence, 6 files.")).toBeVisible();
  await expect(sentence(page)).toHaveText("3 of 24 good, 21 missing.");
  await expect(page.getByRole("button", { name: "Show main denoised" })).toContainText("3 of 24 good");
  expect((await fs.readdir(shot.folder)).sort()).toEqual([
    "PR010_beauty.0001.png",
    "PR010_beauty.0012.png",
    "PR010_beauty.0024.png",
  ]);
});

test("a test strip shows what samples and denoising buy; the pick goes into the plan", async ({ page }) => {
  await on.stage.addShot("PR020", { frames: "1-8" });
  await on.stage.startNode("quay-2");
  await page.goto(`${on.address}/p/test-film/shots/PR020?bench=prove`);
  await page.getByRole("textbox", { name: "Samples of the test strip" }).fill("2, 8, none");
  await expect(page.getByText("Write up to six numbers of samples")).toBeVisible();
  await page.getByRole("textbox", { name: "Samples of the test strip" }).fill("2, 8");
  await page.getByRole("button", { name: "Render the strip, 2 pictures" }).click();
  await expect(page.getByRole("button", { name: "beauty at 8 samples" })).toBeVisible();
  await expect(page.getByRole("button", { name: "denoised at 2 samples" })).toBeVisible();
  const take = page.getByRole("button", { name: "Take" });
  await expect(take).toHaveCount(4);
  await take.last().click();
  await openBench(page, "Plan");
  await expect(page.getByText("Changed since revision 1: samples, passes.")).toBeVisible();
});

test("the first ten are frames of the run; it goes on from the eleventh", async ({ page }) => {
  const shot = await on.stage.addShot("PR030", { frames: "1-13" });
  await on.stage.startNode("quay-3");
  await page.goto(`${on.address}/p/test-film/shots/PR030?bench=prove`);
  await page.getByText("The first 10 in motion").click();
  await page.getByRole("button", { name: "Render 1-10" }).click();
  await expect(sentence(page)).toHaveText("10 of 13 good, 3 missing.");
  const tenth = await fs.stat(path.join(shot.folder, "PR030.0010.png"));
  await page.getByRole("button", { name: "Play 1-10 in a loop" }).click();
  await expect(page.getByTestId("look").getByTestId("play-state")).toContainText("plays 1 to 10");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Go on with the other 3" }).click();
  await expect(sentence(page)).toHaveText("All 13 good.");
  expect((await fs.stat(path.join(shot.folder, "PR030.0010.png"))).mtimeMs).toBe(tenth.mtimeMs);
});

test("wrong phrases and disks without room are told in place", async ({ page }) => {
  await on.stage.addShot("PR040", { frames: "1-8" });
  await page.goto(`${on.address}/p/test-film/shots/PR040?bench=prove`);
  await page.getByRole("textbox", { name: "Proof frames" }).fill("8-1");
  await expect(page.getByText('"8-1" runs backwards; write 1-8')).toBeVisible();
  await expect(page.getByRole("button", { name: /^Prove/ })).toBeDisabled();
  // A picture of 16,384 a side in float for a million frames fits on no disk here.
  await openBench(page, "Plan");
  await page.getByRole("tab", { name: /^Size/ }).click();
  await page.locator("input[name=width]").fill("16384");
  await page.locator("input[name=height]").fill("16384");
  await page.getByRole("tab", { name: /^Frames/ }).click();
  await page.locator("input[name=frames]").fill("1-1000000");
  await openBench(page, "Prove");
  await expect(page.getByText(/and only .* are free/)).toBeVisible();
});

test("the estimate says what comes before the frames: the gathered light that the scene asks for, timed by the proof itself", async ({
  page,
}) => {
  await writeScene(
    on.stage.projectFolder,
    { ...TEST_SCENE, lighting: { every: 8, points: 32, rays: 32 } },
    "lit.json",
  );
  await on.stage.addShot("PR050", { scene: "scenes/lit.json", frames: "1-16" });
  await page.goto(`${on.address}/p/test-film/shots/PR050?bench=prove`);
  await page.getByRole("textbox", { name: "Proof frames" }).fill("4");
  await page.getByRole("button", { name: "Prove 1 frame" }).click();
  await expect(page.getByTestId("lighting-part")).toHaveText(
    /^The gathered light at 3 frames comes first, [\d.]+ s each\.$/,
  );
  await expect(
    page.getByRole("img", { name: /^start-up .*, gathered light [\d.]+ s, render / }),
  ).toBeVisible();
  // Frames that lie on two of the three: the figure follows the draft.
  await openBench(page, "Plan");
  await page.getByRole("tab", { name: /^Frames/ }).click();
  await page.locator("input[name=frames]").fill("8,16");
  await openBench(page, "Prove");
  await expect(page.getByTestId("lighting-part")).toContainText("at 2 frames comes first");
});
