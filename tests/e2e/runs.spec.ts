/** Runs over all shots: what goes and waits, in its order, and the same done to several at once. */
import { expect, test } from "./alive";
import { startRun } from "@/server/actions/start-run";
import { onStage } from "./on-stage";

const on = onStage();

test("runs of two shots are told, put before one another, stopped together with a name, and let go on", async ({
  page,
}) => {
  const ids: number[] = [];
  for (const code of ["RU010", "RU020"]) {
    const { sequenceId } = await on.stage.addShot(code, { frames: "1-8" });
    const wish = { sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" } as const;
    ids.push((await startRun(wish)).runId);
  }
  const [first, second] = ids as [number, number];
  await page.goto(`${on.address}/runs`);
  await expect(page.getByTestId("runs-sentence")).toHaveText(
    "2 runs go on with 16 frames left; when they are done cannot be told yet.",
  );
  const open = page.getByRole("table", { name: "Runs that go on" });
  const rows = open.getByRole("row", { name: /^Run \d/ });
  await expect(rows).toHaveCount(2);
  await expect(rows.first()).toContainText("RU010");
  await expect(rows.first()).toContainText("0 of 8 frames");

  const choose = (run: number) => page.getByLabel(`Choose run ${run}`).check({ force: true });
  await choose(second);
  await page.getByLabel("Priority of the chosen runs").selectOption("1");
  await expect(rows.first()).toContainText("RU020");

  await page.getByTestId("who").click();
  await page.getByLabel("Your name").fill("Mara");
  await page.keyboard.press("Enter");
  await choose(first);
  await choose(second);
  const deeds = page.getByRole("toolbar", { name: "What is done to the chosen runs" });
  await expect(deeds).toContainText("2 chosen");
  await deeds.getByRole("button", { name: "Stop now" }).click();
  const ended = page.getByRole("table", { name: "Runs that ended" });
  await expect(ended.getByRole("row", { name: `Run ${first}` })).toContainText("stopped at once by Mara");
  await expect(page.getByTestId("runs-sentence")).toHaveText("Nothing goes on.");

  // What is done already is refused for the one, and done for the other.
  await choose(first);
  await deeds.getByRole("button", { name: "Go on" }).click();
  await expect(rows).toHaveCount(1);
  await choose(first);
  await choose(second);
  await deeds.getByRole("button", { name: "Go on" }).click();
  await expect(rows).toHaveCount(2);
  await expect(page.getByText(`Run ${first}: This run goes on already.`)).toBeVisible();
});
