/** A run as it goes: its order on the band, and changing it on the way. */
import { expect, test } from "./alive";
import { TEST_SCENE, writeScene } from "../support/scene";
import { onStage } from "./on-stage";
import { openBench, sentence, startRun } from "./pages";

const on = onStage();

test("coarse to fine is seen on the band; frames are trimmed and others put in while it goes", async ({
  page,
}) => {
  await on.stage.addShot("RN010", { frames: "1-40", width: 96, height: 54, samples: 24 });
  await page.goto(`${on.address}/p/test-film/shots/RN010?bench=run`);
  await page.getByRole("button", { name: "Change how it goes" }).click();
  // What is changed is looked at anew before it may start: an answer to what stood there before does not
  // count.
  const start = page.getByRole("button", { name: "Render 40 frames", exact: true });
  await expect(start).toBeEnabled();
  let answer = (): void => undefined;
  const held = new Promise<void>((resolve) => (answer = resolve));
  await page.route("**/preflight", async (route) => held.then(() => route.continue()));
  await page.getByLabel("In which order").filter({ visible: true }).selectOption("coarse-to-fine");
  expect(await start.isDisabled()).toBe(true);
  answer();
  await startRun(page, "40 frames");
  await on.stage.startNode("quay-1");
  // Every 16th and the last come first: the first good ones are 1, 17, 33, 40.
  const good = (): Promise<number[]> =>
    page
      .locator('[role=gridcell][data-result="good"]')
      .evaluateAll((cells) => cells.map((cell) => Number((cell as HTMLElement).dataset.frame)));
  await expect.poll(async () => (await good()).length, { intervals: [50] }).toBeGreaterThanOrEqual(4);
  const seen = await good();
  expect(seen).toEqual(expect.arrayContaining([1, 17, 33, 40]));
  expect(seen).not.toContain(2);

  await page.getByRole("button", { name: "Change run 1" }).click();
  const change = page.getByTestId("change-run");
  const frames = change.getByLabel("Frames of the run");
  await frames.fill("1-40,");
  await change.getByRole("button", { name: "Change run 1" }).click();
  await expect(change).toContainText("a term is missing");
  await expect(frames).toHaveValue("1-40,");
  await frames.fill("1-20");
  await change.getByRole("button", { name: "Change run 1" }).click();
  await expect(change).toContainText(/Changed: 0 put in, \d+ taken out\./);
  await expect(sentence(page)).toHaveText(/^\d+ of 40 good, \d+ missing\.$/);
  await expect(page.getByTestId("run-strip")).toHaveCount(0);
  const made = await good();
  expect(made.filter((frame) => frame <= 20)).toHaveLength(20);
  expect(made.length).toBeLessThan(40);
});

test("a run that begins later waits and says when; priority and times can be changed", async ({ page }) => {
  await on.stage.addShot("RN020", { frames: "1-2" });
  await on.stage.startNode("quay-2");
  await page.goto(`${on.address}/p/test-film/shots/RN020?bench=run`);
  const inAnHour = new Date(Date.now() + 3_600_000);
  const time = `${String(inAnHour.getHours()).padStart(2, "0")}:${String(inAnHour.getMinutes()).padStart(2, "0")}`;
  await page.getByRole("button", { name: "Change how it goes" }).click();
  await page.getByLabel("Begins at").filter({ visible: true }).fill(time);
  await startRun(page, "2 frames");
  const strip = page.getByTestId("run-strip");
  await expect(strip).toContainText("Begins ");
  await expect(sentence(page)).toHaveText("0 of 2 good, 2 missing. 2 waiting.");
  await openBench(page, "Run");
  await page.getByRole("button", { name: /^Change run \d+$/ }).click();
  const change = page.getByTestId("change-run");
  await expect(change.getByLabel("Begins at")).toHaveValue(time);
  await change.getByLabel("Begins at").fill("");
  await change.getByRole("button", { name: /^Change run/ }).click();
  await expect(sentence(page)).toHaveText("All 2 good.");
});

test("a scene that asks for gathered light: the preflight says what is made first, and the run makes it before its frames", async ({
  page,
}) => {
  await writeScene(
    on.stage.projectFolder,
    { ...TEST_SCENE, lighting: { every: 8, points: 96, rays: 64 } },
    "lit.json",
  );
  await on.stage.addShot("RN030", { scene: "scenes/lit.json", frames: "1-16" });
  await page.goto(`${on.address}/p/test-film/shots/RN030?bench=run`);
  await expect(page.getByTestId("preflight").filter({ visible: true })).toContainText(
    "the light is gathered first, at 3 frames",
  );
  await startRun(page, "16 frames");
  const strip = page.getByTestId("run-strip");
  await expect(strip).toContainText(/first its gathered light, [012] of 3/);
  await expect(sentence(page)).toHaveText("0 of 16 good, 16 missing. 16 waiting.");
  await expect(strip).toContainText(/quay-\d light of (0|8|16) /);
  await expect(sentence(page)).toHaveText("All 16 good.");
});
