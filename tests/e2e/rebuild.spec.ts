/** The database is lost: the first page offers what lies near the roots, and one click brings it back. */
import fs from "node:fs/promises";
import path from "node:path";
import { flagFrames } from "../../src/server/actions/flags";
import { expect, test } from "./alive";
import { onStage } from "./on-stage";

const on = onStage();

test("shots, frames and flags come back from the first page on; a folder without a tally says so", async ({
  page,
}) => {
  const { stage } = on;
  const { sequenceId } = await stage.addShot("RB010", { frames: "1-3", samples: 4 });
  await stage.startNode("quay-1");
  expect((await stage.cli("run", "RB010", "--wait")).code).toBe(0);
  await flagFrames(sequenceId, "2", "a gull in the lens", "Ines");
  // A command at its end writes down what anybody decided.
  await stage.cli("shot", "rename", "RB010", "--title", "Gulls");
  await stage.loseDatabase();
  const { address } = await stage.startServer();

  await page.goto(address);
  await expect(
    page.getByText("A project lies near the roots whose tally is not in this house."),
  ).toBeVisible();
  await page.getByRole("link", { name: "Bring the tally back" }).click();
  await expect(page.getByText(stage.projectFolder)).toBeVisible();

  const other = page.getByLabel("Path of a folder");
  await fs.mkdir(path.join(stage.root, "empty"));
  await other.fill(path.join(stage.root, "empty"));
  await other.press("Enter");
  await expect(page.getByText("No project lies in")).toBeVisible();
  await other.fill("/");
  await other.press("Enter");
  await expect(page.getByText("lies below no root")).toBeVisible();

  await page.getByRole("listitem").getByRole("button", { name: "Bring back" }).click();
  const rebuilt = page.getByTestId("rebuilt");
  await expect(rebuilt).toContainText(
    "1 project back: 1 shot, 1 version, 3 frames, 3 attempts, 1 open flag.",
  );
  await expect(
    page.getByText("Every project that lies near a root of this machine is in the tally."),
  ).toBeVisible();
  await rebuilt.getByRole("link", { name: "To the projects" }).click();
  await page.goto(`${address}/p/test-film`);
  await page.getByRole("link", { name: "RB010" }).first().click();
  await expect(page.getByTestId("sentence")).toContainText("2 of 3 good");
});
