/**
 * From a plan to a patched sequence, as a person does it: real browser, server, database, nodes and files.
 */
import { expect, test } from "./alive";
import fs from "node:fs/promises";
import path from "node:path";
import { onStage } from "./on-stage";
import { cell, clickStroke, openBench, openGroup, sentence, startRun } from "./pages";

const on = onStage();

test("plan, run on two nodes, lose one, stop, resume, damage, check, patch", async ({ page }) => {
  const shot = await on.stage.addShot("TS010", { frames: "1-8", width: 160, height: 90, samples: 60 });
  const file = (frame: number): string =>
    path.join(shot.folder, `TS010.${String(frame).padStart(4, "0")}.png`);

  await page.goto(`${on.address}/`);
  const line = page.getByRole("region", { name: "Shot TS010" });
  await expect(line).toContainText("0 of 8 good, 8 missing");
  await line.getByRole("link", { name: "Run 8 frames" }).click();

  // Plan 24 frames: revision 2.
  await openBench(page, "Plan");
  await openGroup(page, "Frames");
  await page.locator("input[name=frames]").fill("1-24");
  await expect(page.getByTestId("name-2")).toHaveText("TS010.0024.png");
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await expect(sentence(page)).toHaveText("0 of 24 good, 24 missing.");
  await expect(page.getByText("plan revision 2")).toBeVisible();

  // What will be rendered and why, before the start.
  await openBench(page, "Run");
  await expect(page.getByTestId("decision").filter({ visible: true })).toContainText("24 missing");
  const first = await on.stage.startNode("quay-1");
  // Slow, so that there is something left to stop however slow the page is.
  await on.stage.startNode("quay-2", "--slow", "4");
  await startRun(page, "24 frames");
  const strip = page.getByTestId("run-strip");
  await expect(strip).toContainText("quay-1");
  await expect(strip).toContainText("quay-2");
  await expect(sentence(page)).toContainText("2 rendering");

  // kill -9 in the middle of a frame: it is taken over.
  const taken = await strip.getByText(/^quay-1 \d+/).textContent();
  const frame = Number(/^quay-1 (\d+)/.exec(taken!)![1]);
  first.kill("SIGKILL");
  await expect(page.locator(`[role=gridcell][data-frame="${frame}"][data-result="good"]`)).toBeAttached();

  // Stop after the running frame; the rest stays with the run.
  await strip.getByRole("button", { name: "Stop after these" }).click();
  await expect(strip).toContainText("Stopped.");
  const made = Number(/(\d+) of 24 frames done/.exec((await strip.textContent())!)![1]);
  await expect(sentence(page)).toContainText(`${made} of 24 good`);
  expect(made).toBeGreaterThan(0);
  expect(made).toBeLessThan(24);
  await on.stage.startNode("quay-1");
  await strip.getByRole("button", { name: `Go on with ${24 - made} frames` }).click();
  await expect(sentence(page)).toHaveText("All 24 good.");
  expect((await fs.readdir(shot.folder)).sort()).toEqual(
    Array.from({ length: 24 }, (_, i) => path.basename(file(i + 1))),
  );

  // Two files are damaged behind its back.
  const before = await Promise.all(
    Array.from({ length: 24 }, (_, i) => i + 1).map(async (n) => ({
      n,
      mtime: (await fs.stat(file(n))).mtimeMs,
      bytes: await fs.readFile(file(n)),
    })),
  );
  await fs.rm(file(7));
  await fs.truncate(file(19), Math.floor(before[18]!.bytes.length * 0.4));
  await openBench(page, "Check");
  await page.getByRole("button", { name: /^Check \d+ frames$/ }).click();
  await expect(sentence(page)).toHaveText("22 of 24 good, 1 flagged, 1 missing.");
  await expect(cell(page, 7)).toHaveAttribute("data-result", "missing");
  await expect(cell(page, 19)).toHaveAttribute("data-result", "flagged");
  await expect(page.getByTestId("finding")).toContainText("19The file is cut short after");
  await page.getByLabel("Frame phrase").fill("todo");
  await expect(page.getByTestId("selected-frames")).toHaveText("7,19");

  // Patch renders exactly those.
  await openBench(page, "Patch");
  await expect(page.getByTestId("to-render").filter({ visible: true })).toHaveText("2 frames");
  await startRun(page, "2 frames");
  await expect(sentence(page)).toHaveText("All 24 good.");
  for (const { n, mtime, bytes } of before) {
    const same = (await fs.readFile(file(n))).equals(bytes);
    if (n === 7 || n === 19) continue;
    expect([n, same, (await fs.stat(file(n))).mtimeMs]).toEqual([n, true, mtime]);
  }
  expect(await fs.readdir(path.join(shot.folder, "../../.tally/aside/main/beauty"))).toHaveLength(1);
  await openBench(page, "Check");
  await page.getByRole("button", { name: "Show 1 closed" }).click();
  await expect(page.getByTestId("finding")).toHaveAttribute("data-state", "fixed");
});

test("Resume goes on in the middle of an `all`: frames already made again are not made a third time", async ({
  page,
}) => {
  const shot = await on.stage.addShot("TS020", { frames: "1-12", width: 160, height: 90, samples: 40 });
  await on.stage.startNode("mole-1");
  expect((await on.stage.cli("run", "TS020", "--wait")).code).toBe(0);
  const first = new Map(
    await Promise.all(
      (await fs.readdir(shot.folder)).map(
        async (name) => [name, (await fs.stat(path.join(shot.folder, name))).ino] as const,
      ),
    ),
  );
  await page.goto(`${on.address}/p/test-film/shots/TS020?bench=run`);
  await expect(sentence(page)).toHaveText("All 12 good.");
  await expect(
    page.getByRole("button", { name: "Nothing to render" }).filter({ visible: true }),
  ).toBeDisabled();
  await page.getByText("Every frame again, also the good ones").click();
  await startRun(page, "12 frames");
  const strip = page.getByTestId("run-strip");
  await expect(strip).toContainText(/[1-9] of 12 frames done/);
  await strip.getByRole("button", { name: /^Stop now/ }).click();
  await expect(strip).toContainText("Stopped.");
  const done = Number(/(\d+) of 12 frames done/.exec((await strip.textContent())!)![1]);
  const afterStop = new Map(
    await Promise.all(
      (await fs.readdir(shot.folder)).map(
        async (name) => [name, (await fs.stat(path.join(shot.folder, name))).ino] as const,
      ),
    ),
  );
  expect([...afterStop].filter(([name, ino]) => first.get(name) !== ino)).toHaveLength(done);
  await strip.getByRole("button", { name: /^Go on with/ }).click();
  await expect(strip).toBeHidden();
  const end = new Map(
    await Promise.all(
      (await fs.readdir(shot.folder)).map(
        async (name) => [name, (await fs.stat(path.join(shot.folder, name))).ino] as const,
      ),
    ),
  );
  for (const [name, ino] of afterStop) {
    if (first.get(name) !== ino) expect(end.get(name)).toBe(ino);
    else expect(end.get(name)).not.toBe(ino);
  }
});

test("the folder watch sees damage by itself, a flag by hand joins the patch list, and Look shows and plays", async ({
  page,
}) => {
  const shot = await on.stage.addShot("TS030", { frames: "1-5" });
  await on.stage.startNode("mole-2");
  expect((await on.stage.cli("run", "TS030", "--wait")).code).toBe(0);
  await page.goto(`${on.address}/p/test-film/shots/TS030?bench=patch`);
  await expect(sentence(page)).toHaveText("All 5 good.");
  await fs.truncate(path.join(shot.folder, "TS030.0004.png"), 0);
  await expect(sentence(page)).toHaveText("4 of 5 good, 1 flagged.");

  await clickStroke(page, 2, 1, 5);
  await expect(page.getByLabel("Frame phrase")).toHaveValue("2");
  await clickStroke(page, 3, 1, 5, ["Shift"]);
  await expect(page.getByLabel("Frame phrase")).toHaveValue("2-3");
  await clickStroke(page, 5, 1, 5, ["Control"]);
  await expect(page.getByLabel("Frame phrase")).toHaveValue("2-3,5");
  await clickStroke(page, 3, 1, 5);
  await page.keyboard.press("f");
  await page.getByLabel("Reason").fill("the lamp is off");
  await page.getByRole("button", { name: "Flag", exact: true }).last().click();
  await expect(sentence(page)).toHaveText("3 of 5 good, 2 flagged.");
  await expect(page.getByTestId("decision").filter({ visible: true })).toContainText("3-4");

  await page.keyboard.press("v");
  const look = page.getByTestId("look");
  await expect(look.getByTestId("look-frame")).toHaveText("3");
  await expect(look).toContainText("the lamp is off");
  await expect(look.locator("canvas[role=img]")).toHaveAttribute("data-shown", "true");
  await page.keyboard.press("ArrowRight");
  await expect(look).toContainText("The file of frame 4 cannot be shown.");
  await page.keyboard.press("Home");
  await expect(look.getByTestId("look-frame")).toHaveText("1");
  await page.keyboard.press(" ");
  await expect(look.getByTestId("play-state")).toContainText("of 24 pictures a second shown");
  await page.keyboard.press("k");
  await page.keyboard.press("Escape");
  await expect(look).toBeHidden();

  // Nothing that decides frame 3 has changed: said before, and after it the flag is still there.
  await expect(page.getByTestId("preflight").filter({ visible: true })).toContainText(
    "rejected as “the lamp is off”",
  );
  await startRun(page, "2 frames");
  await expect(sentence(page)).toHaveText("4 of 5 good, 1 flagged.");
});
