/** Room on the page: the bench keeps its share whatever else is open, and what folds away says so. */
import { expect, test } from "./alive";
import { onStage } from "./on-stage";

const on = onStage();

/** Two passes, a run on, two lanes: what a night looks like. */
async function busyShot(code: string): Promise<void> {
  await on.stage.addShot(code, { frames: "1-40", passes: ["beauty", "depth"], samples: 200 });
  await on.stage.startNode(`node-of-${code}`);
  await on.stage.cli("run", code);
}

for (const [width, height, least] of [
  [1280, 800, 400],
  [1024, 700, 300],
] as const)
  test(`at ${width} x ${height} the bench keeps ${least} pixels with a run on, two passes and two lanes`, async ({
    page,
  }) => {
    const code = `RM${width}`;
    await page.setViewportSize({ width, height });
    await busyShot(code);
    await page.goto(`${on.address}/p/test-film/shots/${code}?bench=plan`);
    await expect(page.getByTestId("run-strip")).toBeVisible();
    await expect(page.getByText(/^2 of \d+ lanes$/)).toBeVisible();
    await expect(page.getByRole("group", { name: "Other sequences" })).toBeVisible();
    const box = await page.getByRole("tabpanel").filter({ visible: true }).first().boundingBox();
    test.info().annotations.push({ type: "bench", description: `${box!.height} px` });
    expect(box!.height).toBeGreaterThanOrEqual(least);
    // All of it is on the page: nothing scrolls but the bench itself.
    expect(await page.evaluate(() => document.documentElement.scrollHeight)).toBeLessThanOrEqual(height);
    expect((await page.getByTestId("run-strip").boundingBox())!.height).toBeLessThan(40);
    // The groups of Plan are whole.
    for (const name of ["Scene", "Versions"])
      await expect(page.getByRole("tab", { name: new RegExp(`^${name}`) })).toBeInViewport();
  });

test("on a phone nothing is wider than the window, and Look and Nodes are reached and left", async ({
  page,
}) => {
  const [width, height] = [390, 844];
  await page.setViewportSize({ width, height });
  await busyShot("RMPHONE");
  const widest = (): Promise<number> => page.evaluate(() => document.documentElement.scrollWidth);
  await page.goto(`${on.address}/p/test-film`);
  await expect(page.getByRole("link", { name: "RMPHONE" }).first()).toBeVisible();
  expect(await widest()).toBeLessThanOrEqual(width);
  await page.goto(`${on.address}/p/test-film/shots/RMPHONE`);
  await expect(page.getByTestId("run-strip")).toBeVisible();
  expect(await widest()).toBeLessThanOrEqual(width);
  await page.getByLabel("Frame phrase").fill("first");
  await page.getByRole("button", { name: "Look", exact: true }).click();
  const look = page.getByTestId("look");
  await expect(look).toBeVisible();
  for (const name of ["Play", "Flag", "Close"])
    await expect(look.getByRole("button", { name, exact: true })).toBeInViewport({ ratio: 1 });
  await look.getByRole("button", { name: "Close", exact: true }).click();
  await expect(look).toBeHidden();
  await page.goto(`${on.address}/nodes`);
  const node = page.getByTestId("node").filter({ hasText: "node-of-RMPHONE" });
  await expect(node.getByRole("button", { name: "Pause now" })).toBeVisible();
  expect(await widest()).toBeLessThanOrEqual(width);
  for (const control of await node.getByRole("combobox").all()) {
    const box = (await control.boundingBox())!;
    expect(box.x + box.width).toBeLessThanOrEqual(width);
  }
});
