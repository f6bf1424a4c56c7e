/** A renderer of one's own, declared in the configuration file and chosen in the plan. */
import { expect, test } from "./alive";
import fs from "node:fs/promises";
import path from "node:path";
import { bringLamp, declaredInDocs } from "../support/lantern";
import { pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { listRendering } from "@/server/store/tasks";
import { openStage, until } from "../support/stage";
import { onStage } from "./on-stage";
import { openBench, openGroup, sentence, startRun } from "./pages";

const on = onStage(() =>
  openStage(undefined, {
    renderers: {
      ...declaredInDocs("lantern"),
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
  await expect(renderer.locator("option")).toHaveText(["the stand-in renderer", "drawn", "lantern"]);
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

test("the renderer of the docs: its options and passes, a stop inside a frame, on from there, and refined", async ({
  page,
}) => {
  bringLamp(on.stage.projectFolder);
  await on.stage.addShot("LA010", {
    frames: "1-2",
    renderer: "lantern",
    scene: "scenes/lamp.lantern",
    cameras: ["quay"],
    ...{ width: 96, height: 54, samples: 30 },
  });
  await page.goto(`${on.address}/p/test-film/shots/LA010?bench=plan`);
  // What it does not offer is not there to be set; its cameras are those that it tells.
  const groups = page.getByRole("tablist", { name: "Groups of the plan" });
  await expect(groups.getByRole("tab", { name: /^Camera move/ })).toHaveCount(0);
  await openGroup(page, "Scene");
  await expect(page.getByLabel("stairs")).toBeVisible();
  await openGroup(page, "Renderer");
  await page.getByLabel("Glass of the lamp").selectOption("amber");
  await page.locator("input[name=ease]").fill("20000");
  await expect(page.getByRole("group", { name: "Renderer" })).toContainText(
    "must be a whole number from 0 to 10000",
  );
  await page.locator("input[name=ease]").fill("100");
  await openGroup(page, "Passes");
  await page.getByText("metres from the camera").click();
  await openGroup(page, "Quality");
  await page.getByText("keep its samples").click();
  await page.getByRole("button", { name: /^Save/ }).filter({ visible: true }).click();
  await expect(page.getByText("plan revision 2")).toBeVisible();

  await openBench(page, "Run");
  await on.stage.startNode("quay-2");
  await startRun(page, "2 frames");
  const strip = page.getByTestId("run-strip");
  await until("some samples are taken", async () =>
    (await listRendering(pool())).some((frame) => (frame.progress ?? 0) > 0.1),
  );
  await strip.getByRole("button", { name: "Stop now" }).click();
  await expect(strip).toContainText("Stopped");
  await expect(sentence(page)).toContainText("partial");
  await strip.getByRole("button", { name: /^Go on with/ }).click();
  await expect(sentence(page)).toHaveText("All 2 good.");
  const log = async (text: RegExp): Promise<void> => {
    await page
      .getByRole("button", { name: /^Log of run/ })
      .first()
      .click();
    await expect(page.getByRole("log")).toContainText(text);
  };
  await log(/going on from sample \d/);
  const folder = path.join(on.stage.projectFolder, "LA010/v001/quay");
  expect(await fs.readdir(path.join(folder, "depth"))).toHaveLength(2);

  await openBench(page, "Plan");
  await openGroup(page, "Quality");
  await page.locator("input[name=samples]").fill("32");
  await page.getByRole("button", { name: /^Save/ }).filter({ visible: true }).click();
  await expect(page.getByText("plan revision 3")).toBeVisible();
  await openBench(page, "Run");
  await page.getByText("more samples for those that hold too few").click();
  await startRun(page, "2 frames");
  await until(
    "the frames hold what the plan asks for",
    async () =>
      (await rows<{ samples: number }>(pool(), "SELECT samples FROM frame_file WHERE samples = 32"))
        .length === 4,
  );
  const went = "SELECT COUNT(*) AS n FROM attempt_line WHERE text = 'going on from sample 30'";
  expect(await rows(pool(), went)).toEqual([{ n: 2 }]);
});
