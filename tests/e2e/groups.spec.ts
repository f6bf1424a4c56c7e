/** Groups of nodes and licences of a renderer, as a person says them on Nodes and Settings and uses them on Run. */
import { expect, test } from "./alive";
import { startRun } from "@/server/actions/start-run";
import { onStage } from "./on-stage";
import { startRun as startOnPage } from "./pages";
import { until } from "../support/stage";
import { loadSequence } from "@/server/views/tally";

const on = onStage();

test("nodes are put into a group, a run is for all of it, and a renderer has two licences", async ({
  page,
}) => {
  await on.stage.startNode("quay-1");
  await on.stage.startNode("desk-1");
  const { sequenceId } = await on.stage.addShot("GR010", { frames: "1-3" });

  await page.goto(`${on.address}/nodes`);
  const quay = page.locator('[data-testid="node"][data-node="quay-1"]');
  await quay.getByRole("button", { name: "Groups…" }).click();
  const field = page.getByLabel("Groups of quay-1");
  await field.fill("farm, of the night");
  await expect(page.getByText("“of the night” cannot be the name of a group")).toBeVisible();
  await expect(page.getByRole("button", { name: "Save" })).toBeDisabled();
  await field.fill("farm, night");
  await page.keyboard.press("Enter");
  await expect(quay).toContainText("in farm, night");
  await expect(field).toBeHidden();

  await page.goto(`${on.address}/settings`);
  const licences = page.getByLabel("Frames of stand-in at once");
  await licences.selectOption("2");
  await page.reload();
  await expect(licences).toHaveValue("2");

  await page.goto(`${on.address}/p/test-film/shots/GR010?bench=run`);
  const nodes = page.getByRole("group", { name: "Nodes" });
  await nodes.getByRole("checkbox", { name: /^desk-1/ }).uncheck({ force: true });
  await nodes.getByRole("checkbox", { name: "all of farm" }).check({ force: true });
  await expect(nodes.getByRole("checkbox", { name: /^quay-1/ })).toBeDisabled();
  await startOnPage(page, "3 frames");
  await expect(page.getByText(/has begun with 3 frames/)).toBeVisible();
  await until(
    "all three are made",
    async () => (await loadSequence(sequenceId)).tally.results.good.count === 3,
  );
  const made = (await loadSequence(sequenceId)).files.map(({ node }) => node);
  expect(new Set(made)).toEqual(new Set(["quay-1"]));
});

test("a run whose renderer is at its limit says so, and goes on when there is room", async ({ page }) => {
  await on.stage.startNode("mole-1");
  await on.stage.startNode("mole-2");
  const wish = { phrase: "all", policy: "fill", nodes: null, scope: "version" } as const;
  const slow = { width: 320, height: 180, samples: 400 };
  const first = await on.stage.addShot("GR020", { frames: "1-2", ...slow });
  const second = await on.stage.addShot("GR030", { frames: "1-2" });
  await page.goto(`${on.address}/settings`);
  await page.getByLabel("Frames of stand-in at once").selectOption("1");
  await expect(page.getByLabel("Frames of stand-in at once")).toHaveValue("1");
  await startRun({ ...wish, sequenceId: first.sequenceId, priority: 1 });
  await startRun({ ...wish, sequenceId: second.sequenceId });
  await page.goto(`${on.address}/runs`);
  const waits = page.getByText("Waits: 1 frame of stand-in may be in work at once");
  await expect(waits).toBeVisible({ timeout: 30_000 });
  await page.goto(`${on.address}/settings`);
  await page.getByLabel("Frames of stand-in at once").selectOption("");
  await until(
    "the other run's frames are made beside the slow ones",
    async () => (await loadSequence(second.sequenceId)).tally.results.good.count === 2,
  );
});
