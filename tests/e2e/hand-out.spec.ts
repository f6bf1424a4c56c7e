/** A fixed split over machines that are not connected, from the split to the frames that come back. */
import fs from "node:fs/promises";
import path from "node:path";
import { expect, test } from "./alive";
import { runCli } from "../support/stage";
import { onStage } from "./on-stage";
import { sentence, startRun } from "./pages";

const on = onStage();

test("frames are handed out by range; one machine brings its share back, the other's is taken back", async ({
  page,
}) => {
  await on.stage.addShot("HO010", { frames: "1-8" });
  await page.goto(`${on.address}/p/test-film/shots/HO010?bench=run`);
  await page.getByRole("button", { name: "Hand them out to machines that are not connected" }).click();
  const shares = page.getByRole("group", { name: "Shares" });
  await expect(shares.getByLabel("Frames of machine 1")).toHaveValue("1-4");
  await expect(shares.getByLabel("Frames of machine 2")).toHaveValue("5-8");
  await shares.getByLabel("Machine 1", { exact: true }).fill("desk-b");
  await shares.getByLabel("Machine 2", { exact: true }).fill("laptop");
  await shares.getByLabel("Frames of machine 1").fill("1-5");
  await expect(shares).toContainText("5 would go to two machines.");
  await expect(page.getByRole("button", { name: "Hand out 8 frames" })).toBeDisabled();
  // By markers: the stretch "start" is 1-4, the rest goes together.
  await shares.getByRole("button", { name: "Split by markers" }).click();
  await expect(shares.getByLabel("Frames of machine 1")).toHaveValue("1-4");
  await expect(shares.getByLabel("Machine 2", { exact: true })).toHaveValue("laptop");
  await startRun(page, "8 frames", "Hand out");
  const strip = page.getByTestId("run-strip");
  await expect(strip).toContainText("0 of 8 frames back");
  await expect(sentence(page)).toHaveText("0 of 8 good, 8 missing. 8 waiting.");

  const pane = page.getByTestId("hand-out");
  const desk = pane.locator('[data-machine="desk-b"]');
  const folder = (await fs.readdir(path.join(on.stage.projectFolder, "HO010/v001/.tally/hand-outs"))).map(
    (name) => path.join(on.stage.projectFolder, "HO010/v001/.tally/hand-outs", name),
  )[0]!;
  await expect(pane).toContainText(folder);
  const command = await desk.locator("text=/^npx plain-tally/").innerText();
  expect(command).toBe("npx plain-tally hand-out hand-out.json 1-4 --machine desk-b --out frames-of-desk-b");
  const out = path.join(on.stage.root, "stick");
  expect(
    (
      await runCli([
        "hand-out",
        path.join(folder, "hand-out.json"),
        "1-4",
        "--machine",
        "desk-b",
        "--out",
        out,
      ])
    ).code,
  ).toBe(0);
  await fs.cp(out, path.join(on.stage.projectFolder, "HO010/v001"), { recursive: true });
  await expect(desk).toContainText("all 4 are back");
  await expect(sentence(page)).toHaveText("4 of 8 good, 4 missing. 4 waiting.");
  await pane.locator('[data-machine="laptop"]').getByRole("button", { name: "Take back" }).click();
  await expect(sentence(page)).toHaveText("4 of 8 good, 4 missing.");
  await expect(strip).toHaveCount(0);
});
