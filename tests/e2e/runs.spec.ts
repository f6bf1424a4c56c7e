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

test("runs are put into another order by keys and by hand; everything that is left is looked at once and started", async ({
  page,
}) => {
  const codes = ["RO010", "RO020", "RO030"];
  const ids: number[] = [];
  for (const code of codes) {
    const { sequenceId } = await on.stage.addShot(code, { frames: "1-4" });
    const wish = { sequenceId, phrase: "1-2", policy: "fill", nodes: null, scope: "version" } as const;
    ids.push((await startRun({ ...wish, startAt: Date.now() + 3_600_000 })).runId);
  }
  const [first, second, third] = ids as [number, number, number];
  await page.goto(`${on.address}/runs`);
  const rows = page.getByRole("table", { name: "Runs that go on" }).getByRole("row", { name: /^Run \d/ });
  const order = async (): Promise<number[]> =>
    (await rows.all().then((all) => Promise.all(all.map((r) => r.getAttribute("aria-label")))))
      .map((name) => Number(name!.slice(4)))
      .filter((id) => ids.includes(id));
  await expect.poll(order).toEqual([first, second, third]);

  const handle = page.getByRole("button", { name: `Move run ${third}`, exact: true });
  await handle.focus();
  await page.keyboard.press("Space");
  await expect(page.getByText(`Run ${third} is over`)).toBeAttached();
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("ArrowUp");
  await expect(page.getByText(new RegExp(`Run ${third} is over place \\d`))).toBeAttached();
  await page.keyboard.press("Space");
  await expect.poll(async () => (await order())[0]).toBe(third);
  const before = await order();
  // By hand, down again; what the server knows is what the page shows when it is read anew.
  const from = (await handle.boundingBox())!;
  const to = (await page.getByRole("button", { name: `Move run ${before[2]!}`, exact: true }).boundingBox())!;
  await page.mouse.move(from.x + 5, from.y + 5);
  await page.mouse.down();
  await page.mouse.move(from.x + 5, from.y + 20, { steps: 4 });
  await page.mouse.move(to.x + 5, to.y + 10, { steps: 8 });
  await page.mouse.up();
  const after = [before[1], before[2], third];
  await expect.poll(order).toEqual(after);
  await page.reload();
  await expect.poll(order).toEqual(after);

  await page.getByRole("button", { name: "Everything that is left…" }).click();
  const pane = page.getByTestId("left-over");
  await pane.getByRole("button", { name: "Look what is left" }).click();
  const left = pane.getByRole("row", { name: /RO0/ });
  await expect(left).toHaveCount(3);
  await expect(left.first()).toContainText("2 frames");
  // Also while it is still being looked at.
  const withThird = pane.getByLabel("With RO030 of test-film");
  await withThird.uncheck({ force: true });
  await expect(withThird).not.toBeChecked();
  await pane.getByRole("button", { name: /^Start \d+ runs? with/ }).click();
  await expect(left.first()).toContainText(/started as run \d+/);
  await expect(pane.getByRole("row", { name: /RO030/ })).not.toContainText("started");
  await expect(pane.getByRole("status")).toContainText("started.");
});
