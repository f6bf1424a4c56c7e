/** Several looks overnight: one run over them, then one is chosen and the others are retired. */
import { expect, test } from "./alive";
import { openVersion } from "@/server/actions/save-plan";
import { PLAN } from "../support/plan";
import { onStage } from "./on-stage";
import { openBench, openGroup, sentence, startRun } from "./pages";

const on = onStage();

test("three looks in one run; the pace is told; one is chosen while it goes, and the others are rendered no more", async ({
  page,
}) => {
  const plan = { frames: "1-12", width: 96, height: 54, samples: 24 };
  await on.stage.addShot("VR010", plan);
  for (const seed of [5, 6]) await openVersion("VR010", { ...PLAN, ...plan, seed });
  await page.goto(`${on.address}/p/test-film/shots/VR010?version=v001&bench=run`);
  const also = page.getByRole("group", { name: "Also these versions" });
  await also.getByText("v002").click();
  await also.getByText("v003").click();
  await expect(page.getByTestId("decision").filter({ visible: true })).toContainText("v003: 12");
  await startRun(page, "36 frames");
  const strip = page.getByTestId("run-strip");
  await expect(strip).toContainText("Run 1, what was missing v001, v002 and v003");
  await on.stage.startNode("quay-1");
  await expect(strip).toContainText(/a frame, [\d.]+ a minute/);
  await expect(strip).toContainText(/likely .*late /);
  await expect(strip).toContainText(/quay-1 \d+ 0:\d\d of about 0:\d\d/);

  // The same run is seen from every look.
  await page.getByLabel("Version", { exact: true }).selectOption("v002");
  await expect(strip).toContainText("Run 1");
  await expect(page.locator('[role=gridcell][data-result="good"]')).not.toHaveCount(0);
  await page.getByRole("button", { name: /^Keep v002, retire / }).click();
  await expect(page.getByLabel("Version", { exact: true }).locator("option")).toHaveText([
    "v001, retired",
    "v002, chosen",
    "v003, retired",
  ]);
  await expect(sentence(page)).toHaveText("All 12 good.");
  await expect(strip).toHaveCount(0);

  await page.getByLabel("Version", { exact: true }).selectOption("v003, retired");
  await expect(sentence(page)).toContainText("missing");
  await openBench(page, "Run");
  await expect(
    page.getByText("v003 is retired since v002 was chosen: open it again, or run v002."),
  ).toBeVisible();
  await page.getByRole("button", { name: "Open v003 again" }).click();
  await expect(page.getByLabel("Version", { exact: true }).locator("option")).toHaveText([
    "v001, retired",
    "v002, chosen",
    "v003",
  ]);
  await expect(page.getByRole("button", { name: /^Render \d+ frames$/ })).toBeEnabled();
});

test("the next version with the same plan: opened, compared, taken out again, and opened by a run of its own", async ({
  page,
}) => {
  await on.stage.addShot("VR020", { frames: "1-6" });
  await page.goto(`${on.address}/p/test-film/shots/VR020?bench=plan`);
  await openGroup(page, "Picture");
  await page.locator("input[name=seed]").fill("9");
  await openGroup(page, "Versions");
  await page.getByRole("button", { name: "Open v002 with these settings" }).click();
  await expect(page).toHaveURL(/version=v002/);
  await openGroup(page, "Versions");
  const differs = page.getByRole("table", { name: "What differs" });
  await expect(differs.getByRole("row")).toHaveCount(1);
  await expect(differs).toContainText("seed");
  await page.getByRole("button", { name: "Take v002 out again" }).click();
  await expect(page).toHaveURL(/version=v001/);
  await openBench(page, "Run");
  await page.getByText("In a version of its own, v002, with the same plan").click();
  await startRun(page, "6 frames");
  await expect(page).toHaveURL(/version=v002/);
  await expect(page.getByLabel("Version", { exact: true })).toHaveValue("v002");
  await on.stage.startNode("quay-2");
  await expect(sentence(page)).toHaveText("All 6 good.");
});
