/**
 * Wrong input and missing parts: a clear message where the person looks, nothing lost, and the page recovers
 * by itself.
 */
import { expect, test } from "./alive";
import fs from "node:fs/promises";
import { writeScene } from "../support/scene";
import { onStage } from "./on-stage";
import { openBench, openGroup, sentence } from "./pages";

const on = onStage();

test("the plan says at its field what is wrong, and offers mends for names", async ({ page }) => {
  await on.stage.addShot("IN010");
  await page.goto(`${on.address}/p/test-film/shots/IN010?bench=plan`);
  const frames = page.locator("input[name=frames]");
  await openGroup(page, "Frames");
  await frames.fill("10-1");
  await expect(page.getByText('column 1: "10-1" runs backwards; write 1-10').first()).toBeVisible();
  await expect(page.getByRole("button", { name: /^Save as revision/ })).toBeDisabled();
  await frames.fill("");
  await expect(page.getByText("the phrase is empty").first()).toBeVisible();
  await frames.fill("1-2000000");
  await expect(page.getByText("2,000,000 frames are more than a plan may ask for").first()).toBeVisible();
  await frames.fill("1-12000");
  await expect(page.getByText("4 digits are too few")).toBeVisible();
  await page.getByRole("button", { name: "Use 5 digits" }).click();
  await expect(page.getByTestId("name-2")).toHaveText("IN010.12000.png");
  await openGroup(page, "Files");
  await page.locator("input[name=namePattern]").fill("{shot}{frame}");
  await page.getByRole("button", { name: "Put a dot before the number" }).click();
  await expect(page.getByTestId("name-0")).toHaveText("IN010.00001.png");
  await page.locator("input[name=namePattern]").fill("{shot}");
  await expect(page.getByText("The name has no {frame}").first()).toBeVisible();
  await page.locator("input[name=namePattern]").fill("{shot}.{frame}");
  await openGroup(page, "Size");
  await page.locator("input[name=width]").fill("40000");
  await expect(
    page.getByText("The width must be a whole number from 1 to 16,384; it is 40000.").first(),
  ).toBeVisible();
  await page.locator("input[name=width]").fill("64");
  // Another bench and back: nothing of it is lost, and Run says that it is not saved.
  await openBench(page, "Run");
  await expect(
    page.getByText("The plan has edits that are not saved").filter({ visible: true }),
  ).toBeVisible();
  await openBench(page, "Plan");
  await openGroup(page, "Frames");
  await expect(frames).toHaveValue("1-12000");
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await expect(page.getByText("This is revision 2 of v001 as saved")).toBeVisible();
});

test("a scene that breaks is told at its field, and the field recovers when the scene is mended", async ({
  page,
}) => {
  await on.stage.addShot("IN020");
  await writeScene(on.stage.projectFolder, '{"format":', "broken.json");
  await page.goto(`${on.address}/p/test-film/shots/IN020?bench=plan`);
  await page.locator("select[name=scene]").selectOption("scenes/broken.json");
  const atField = page.getByRole("group", { name: "Scene" }).getByText("broken.json is not JSON");
  await expect(atField).toBeVisible();
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await expect(page.getByText("broken.json is not JSON")).toHaveCount(2);
  await writeScene(on.stage.projectFolder, undefined, "broken.json");
  await expect(atField).toBeHidden();
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await expect(page.getByText("This is revision 2 of v001 as saved")).toBeVisible();
});

test("what files have fixed offers v002 instead", async ({ page }) => {
  const shot = await on.stage.addShot("IN030", { frames: "1-2" });
  await on.stage.startNode("quay-1");
  await on.stage.cli("run", "IN030", "--wait");
  await page.goto(`${on.address}/p/test-film/shots/IN030?bench=plan`);
  await openGroup(page, "Files");
  await page.locator("input[name=namePattern]").fill("{shot}_v{version}.{frame}");
  await expect(page.getByText("v001 holds files, so its name cannot change any more")).toBeVisible();
  await page.getByRole("button", { name: "Open v002 with this plan" }).click();
  await expect(sentence(page)).toHaveText("0 of 2 good, 2 missing.");
  await expect(page).toHaveURL(/version=v002/);
  expect(await fs.readdir(shot.folder)).toHaveLength(2);
});

test("phrases select by name, and a wrong one names its column", async ({ page }) => {
  await on.stage.addShot("IN040", { frames: "1-300" });
  await page.goto(`${on.address}/p/test-film/shots/IN040?bench=run`);
  const field = page.getByLabel("Frame phrase");
  await expect(sentence(page)).toHaveText("0 of 300 good, 300 missing.");
  await page.keyboard.press("/");
  await expect(field).toBeFocused();
  await field.fill("marker(start),100-110/5");
  await expect(page.getByTestId("selected-count")).toHaveText("7 frames");
  await field.fill("1-5,nonsense");
  await expect(page.getByText('column 5: "nonsense" is not a name that this shot knows')).toBeVisible();
  // A long sequence: keys walk the band and the window follows.
  const band = page.getByRole("grid", { name: "Tally band" });
  await band.focus();
  await page.keyboard.press("End");
  await expect(page.locator('[role=gridcell][data-frame="300"]')).toBeAttached();
  await expect(page.locator('[role=gridcell][data-frame="1"]')).not.toBeAttached();
  await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Enter");
  await expect(field).toHaveValue("290");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Shift+Enter");
  await expect(field).toHaveValue("290-291");
});

test("a shot that is not there says so; other sites may not talk to the server", async ({
  page,
  request,
}) => {
  await page.goto(`${on.address}/p/test-film/shots/NOWHERE`);
  await expect(
    page.getByRole("alert").filter({ hasText: "There is no shot test-film/NOWHERE" }),
  ).toBeVisible();
  expect(
    (
      await request.get(`${on.address}/api/projects`, { headers: { origin: "http://elsewhere.example" } })
    ).status(),
  ).toBe(403);
  const wrong = await request.post(`${on.address}/api/sequences/1/runs`, {
    data: { phrase: "1", policy: "some", nodes: null, scope: "version" },
  });
  expect([wrong.status(), await wrong.json()]).toEqual([
    422,
    {
      error: expect.objectContaining({
        code: "body-wrong",
        faults: [expect.objectContaining({ field: "policy" })],
      }),
    },
  ]);
});
