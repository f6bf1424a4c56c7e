/** A renderer of one's own, declared in the configuration file and chosen in the plan. */
import { expect, test } from "./alive";
import { openStage } from "../support/stage";
import { onStage } from "./on-stage";
import { openBench, openGroup, sentence, startRun } from "./pages";

const on = onStage(() =>
  openStage(undefined, {
    renderers: {
      drawn: {
        program: "convert",
        arguments: [
          "-size",
          "{width}x{height}",
          "gradient:navy-orange",
          "-fill",
          "white",
          "-draw",
          "line 0,0 {frame},20",
          "{output}",
        ],
      },
    },
  }),
);

test("the plan names its renderer; what that cannot do is said; its frames are rendered by it", async ({
  page,
}) => {
  await on.stage.addShot("EX010", { frames: "1-2", checkpoints: { kind: "never" } });
  await page.goto(`${on.address}/p/test-film/shots/EX010?bench=plan`);
  await openGroup(page, "Scene");
  const renderer = page.getByLabel("Rendered by");
  await expect(renderer.locator("option")).toHaveText(["the stand-in renderer", "drawn"]);
  await renderer.selectOption("drawn");
  await expect(page.getByText("A program of its own, called as the configuration file says.")).toBeVisible();
  await page.getByRole("button", { name: /^Save/ }).filter({ visible: true }).click();
  await expect(page.getByText("plan revision 2")).toBeVisible();
  await openBench(page, "Run");
  await on.stage.startNode("quay-1");
  await startRun(page, "2 frames");
  await expect(sentence(page)).toHaveText("All 2 good.");
  await page.getByRole("button", { name: "Log of run 1" }).click();
  await expect(page.getByRole("log", { name: "Log of run 1" })).toContainText("convert called");
});
