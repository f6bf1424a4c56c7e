/** Inside a frame: stopped now and gone on with, refined and compared, and what may not change meanwhile. */
import path from "node:path";
import { expect, type Page, test } from "./alive";
import { onStage } from "./on-stage";
import { cell, openBench, openGroup, sentence, startRun } from "./pages";

const on = onStage();
test.beforeAll(() => on.stage.startNode("quay-1"));

/** Seconds of work, so that it can be stopped in the middle. */
const LONG = { frames: "1", width: 160, height: 90, samples: 240 };

const field = (page: Page, name: string) => page.locator(`input[name="${name}"]:visible`);

async function stopInTheMiddle(page: Page): Promise<void> {
  await expect
    .poll(
      async () =>
        Number(/rendering (\d+) %/.exec((await page.getByRole("main").textContent()) ?? "")?.[1] ?? 0),
      { intervals: [100] },
    )
    .toBeGreaterThan(10);
  await page.getByRole("button", { name: "Stop now" }).click();
  await expect(page.getByTestId("run-strip")).toContainText("Stopped.");
  await expect(cell(page, 1)).toHaveAttribute("data-result", "partial");
}

/** Focuses the only frame, so that the page tells its progress. */
async function focusFrame(page: Page): Promise<void> {
  await page.getByRole("grid", { name: "Tally band" }).focus();
  await page.keyboard.press("Home");
}

test("stop now leaves part of a stroke and its picture; going on makes it whole", async ({ page }) => {
  await on.stage.addShot("RS010", LONG);
  await page.goto(`${on.address}/p/test-film/shots/RS010?bench=run`);
  await startRun(page, "1 frame");
  await focusFrame(page);
  await stopInTheMiddle(page);
  await expect(sentence(page)).toHaveText("0 of 1 good, 1 partial.");
  await expect(page.getByTestId("so-far")).toBeVisible();
  expect(
    await page
      .getByTestId("so-far")
      .evaluate((image) =>
        (image as HTMLImageElement).decode().then(() => (image as HTMLImageElement).naturalWidth),
      ),
  ).toBe(160);
  await expect(page.getByRole("log")).toContainText(/stopped at \d+ of 240 samples; that much is saved/);
  await page.getByRole("button", { name: "Go on with 1 frame" }).click();
  await expect(sentence(page)).toHaveText("All 1 good.");
  // Done: what came of it is shown by itself, and the log is one click away.
  const summary = page.getByTestId("run-summary");
  await expect(summary).toContainText("1 frame");
  await expect(summary).toContainText(path.join("RS010", "v001", "main", "beauty"));
  await page.getByRole("button", { name: /^Log of run/ }).click();
  await expect(page.getByRole("log")).toContainText(/goes on from \d+ of 240 samples, as saved on quay-1/);
  await page.getByLabel("Search the log").fill("nothing says this");
  await expect(page.getByRole("log")).toHaveText("No line holds this.");
  await page.getByLabel("Search the log").fill("GOES ON");
  await expect(page.getByRole("log")).toContainText("goes on from");
  // Of one frame, over all its runs.
  await page.getByRole("log").getByRole("button", { name: "1", exact: true }).first().click();
  await page.getByLabel("Lines of which node").selectOption("frame 1, all runs");
  await expect(page.getByRole("log", { name: "Log of frame 1" })).toContainText(/run 1goes on from/);
});

test("a good frame is refined, and looked at before and after", async ({ page }) => {
  await on.stage.addShot("RS020", { frames: "1-2", samples: 4, keepSamples: true });
  await page.goto(`${on.address}/p/test-film/shots/RS020?bench=run`);
  await startRun(page, "2 frames");
  await expect(sentence(page)).toHaveText("All 2 good.");
  await openBench(page, "Plan");
  await openGroup(page, "Quality");
  await expect(page.getByRole("checkbox", { name: "keep its samples" })).toBeChecked();
  await field(page, "samples").fill("64");
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await openBench(page, "Run");
  await page
    .getByText("What is missing, and more samples for those that hold too few")
    .filter({ visible: true })
    .click();
  await expect(page.getByTestId("decision").filter({ visible: true })).toContainText(
    "2 good, refined; the old file is there until the new one is whole",
  );
  await expect(page.getByTestId("preflight").filter({ visible: true })).toContainText(
    "2 frames go on from saved samples",
  );
  await startRun(page, "2 frames");
  const begun = await page
    .getByText(/Run \d+ has begun with 2 frames/)
    .filter({ visible: true })
    .innerText();
  // Once it has ended, what is shown changes by itself no more.
  await expect(page.getByRole("button", { name: `What run ${/\d+/.exec(begun)![0]} made` })).toBeVisible();
  await page.getByRole("button", { name: /^Log of run/ }).click();
  await expect(page.getByRole("log")).toContainText("goes on from 4 of 64 samples, as saved on quay-1");
  await expect(page.getByTestId("run-strip")).toHaveCount(0);
  await expect(sentence(page)).toHaveText("All 2 good.");
  await page.getByRole("grid", { name: "Tally band" }).dblclick({ position: { x: 5, y: 50 } });
  const look = page.getByTestId("look");
  await expect(look.getByTestId("frame-change")).toContainText(
    /before: 4 samples, grain [\d.]+ %.* now: 64 samples, grain [\d.]+ %/,
  );
  const [, before, now] = /grain ([\d.]+) %.*grain ([\d.]+) %/.exec(
    (await look.getByTestId("frame-change").textContent())!,
  )!;
  expect(Number(now)).toBeLessThan(Number(before));
  const shown = look.locator("canvas[role=img]");
  const picture = (): Promise<string> =>
    shown.evaluate((canvas) => (canvas as HTMLCanvasElement).toDataURL());
  await expect(shown).toHaveAttribute("data-shown", "true");
  const after = await picture();
  await page.keyboard.press("b");
  await expect(look.getByRole("button", { name: "Now", exact: true })).toBeVisible();
  await expect.poll(picture).not.toBe(after);
  await page.keyboard.press("b");
  await expect.poll(picture).toBe(after);
});

test("a change that keeps a begun frame from going on is explained, and can be put back", async ({
  page,
}) => {
  await on.stage.addShot("RS030", LONG);
  await page.goto(`${on.address}/p/test-film/shots/RS030?bench=run`);
  await startRun(page, "1 frame");
  await focusFrame(page);
  await stopInTheMiddle(page);
  await openBench(page, "Plan");
  await openGroup(page, "Picture");
  await field(page, "seed").fill("9");
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await openBench(page, "Run");
  await page.getByRole("button", { name: "What follows" }).click();
  const preflight = page.getByTestId("preflight").filter({ visible: true });
  await expect(preflight).toContainText(
    "1 frame (1) has samples saved that cannot be used: seed was 1 and is 9 now. It starts over.",
  );
  await preflight.getByRole("button", { name: "Put it back" }).click();
  await expect(page.getByRole("tab", { name: "Plan", exact: true })).toHaveAttribute("aria-selected", "true");
  await page.getByRole("button", { name: "Save as revision 3" }).click();
  await openBench(page, "Run");
  await expect(preflight).toContainText("1 frame goes on from saved samples");
});

test("a node is paused in the middle of its frame and goes on from there; hours and cores are kept", async ({
  page,
}) => {
  await on.stage.addShot("RS040", { frames: "1", width: 160, height: 90, samples: 160 });
  await page.goto(`${on.address}/p/test-film/shots/RS040?bench=run`);
  await startRun(page, "1 frame");
  await page.getByRole("link", { name: /1 node/ }).click();
  const node = page.getByTestId("node");
  await expect(node).toContainText("renders RS040 v001 1");
  await expect(node).toContainText(/\d+ %, \d:\d\d/);
  await expect(node.getByRole("link", { name: "RS040 v001" })).toHaveAttribute(
    "href",
    "/p/test-film/shots/RS040?version=v001&bench=run",
  );
  await node.getByRole("button", { name: "Pause now" }).click();
  await expect(node).toContainText("paused");
  await node.getByLabel("Cores of quay-1").selectOption("2");
  await node.getByText("only when I am away").click();
  await expect(node.getByLabel("From, quay-1")).toHaveValue("19:00");
  await page.reload();
  await expect(node.getByLabel("Cores of quay-1")).toHaveValue("2");
  await expect(node.getByLabel("To, quay-1")).toHaveValue("08:00");
  await node.getByText("only when I am away").click();
  await node.getByRole("button", { name: "Go on" }).click();
  await page.goto(`${on.address}/p/test-film/shots/RS040?bench=run`);
  await expect(sentence(page)).toHaveText("All 1 good.");
  await page.getByRole("button", { name: /^Log of run/ }).click();
  await expect(page.getByRole("log")).toContainText(/goes on from \d+ of 160 samples, as saved on quay-1/);
});
