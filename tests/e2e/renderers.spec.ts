/** A renderer of one's own, declared in the configuration file and chosen in the plan. */
import { expect, test } from "@playwright/test";
import { openStage, type Stage } from "../support/stage";
import { openBench, openGroup, sentence, startRun } from "./pages";

let stage: Stage;
let address: string;
test.beforeAll(async () => {
  stage = await openStage(undefined, { renderers: { drawn: { program: "convert", arguments: ["-size", "{width}x{height}", "gradient:navy-orange", "-fill", "white", "-draw", "line 0,0 {frame},20", "{output}"] } } });
  ({ address } = await stage.startServer());
});
test.afterAll(() => stage.strike());

test("the plan names its renderer; what that cannot do is said; its frames are rendered by it", async ({ page }) => {
  await stage.addShot("EX010", { frames: "1-2", checkpoints: { kind: "never" } });
  await page.goto(`${address}/shots/EX010?bench=plan`);
  await openGroup(page, "Scene");
  const renderer = page.getByLabel("Rendered by");
  await expect(renderer.locator("option")).toHaveText(["the stand-in renderer", "drawn"]);
  await renderer.selectOption("drawn");
  await expect(page.getByText("A program of its own, called as the configuration file says.")).toBeVisible();
  await page.getByRole("button", { name: /^Save/ }).filter({ visible: true }).click();
  await expect(page.getByText("plan revision 2")).toBeVisible();
  await openBench(page, "Run");
  await stage.startNode("quay-1");
  await startRun(page, "2 frames");
  await expect(sentence(page)).toHaveText("All 2 good.");
  await page.getByRole("button", { name: "Log of run 1" }).click();
  await expect(page.getByRole("log", { name: "Log of run 1" })).toContainText("convert called");
});
