/** What a person sees and does when a machine fails. */
import { expect, test } from "./alive";
import { onStage } from "./on-stage";
import { cell, sentence, startRun } from "./pages";

const on = onStage();

test("a node that fails where others render is set aside with its evidence, and let back in by one click", async ({
  page,
}) => {
  await on.stage.addShot("FL010", { frames: "1-60", width: 960, height: 540, samples: 2 });
  await on.stage.startNode("mole-1");
  await page.goto(`${on.address}/nodes`);
  const line = page.locator('[data-testid="node"][data-node="mole-1"]');
  await line.getByLabel("Most memory a renderer of mole-1 may use").selectOption("2 GB");
  await expect(line.getByLabel("Most memory a renderer of mole-1 may use")).toHaveValue("2000");
  // Less than any choice of the page: every frame of this size is too much for it.
  expect(
    (
      await page.request.post(`${on.address}/api/nodes/mole-1`, {
        data: { memoryMb: 100 },
        headers: { origin: on.address },
      })
    ).status(),
  ).toBe(200);
  await on.stage.startNode("quay-1");
  await page.goto(`${on.address}/p/test-film/shots/FL010?bench=run`);
  await startRun(page, "60 frames");
  await page.goto(`${on.address}/nodes`);
  const aside = page.locator('[data-testid="aside"][data-node="mole-1"]');
  await expect(aside).toContainText(
    /Set aside from every run: it failed on [\d,-]+, which other nodes made\. Last: The renderer used \d+ MB of memory; this node allows 100 MB\./,
  );
  await expect(line).toContainText("set aside");
  await expect(page.locator("header")).toContainText("1 set aside");
  await line.getByLabel("Most memory a renderer of mole-1 may use").selectOption("no limit");
  await aside.getByRole("button", { name: "Let mole-1 back in" }).click();
  await expect(aside).toHaveCount(0);
  await expect(line).toContainText("renders");
  // What it renders now is made.
  await expect(line).toContainText(/[1-9]\d* made/);
  await page.goto(`${on.address}/p/test-film/shots/FL010`);
  // Many frames, so that some are left by now; fewer do from here on. Those that it failed on are good too.
  expect(
    (
      await page.request.post(`${on.address}/api/runs/1/change`, {
        data: { phrase: "1-16" },
        headers: { origin: on.address },
      })
    ).status(),
  ).toBe(200);
  await expect(sentence(page)).toHaveText(/^\d+ of 60 good, \d+ missing\.$/);
  for (let frame = 1; frame <= 16; frame++)
    await expect(cell(page, frame)).toHaveAttribute("data-result", "good");
});
