// npm run screenshots: one current picture of each main view, from the demo data at 1280x800, into
// docs/screenshots. `npm run screenshots -- look help` takes only those.
// The demo must be running and have rendered HL010: `npm run demo -- --fresh` first.
import fs from "node:fs";
import path from "node:path";
import { chromium } from "@playwright/test";
import { LAUNCH } from "./lib/browser.mjs";

const home = path.dirname(import.meta.dirname);
const folder = path.join(home, "docs/screenshots");
const { address } = JSON.parse(fs.readFileSync(path.join(home, "var/run/state.json"), "utf8"));

const HL010 = "/p/harbour-lights/shots/HL010";

/**
 * Frames of HL010 as another program would have left them: other names, a gap, one cut short, one there twice, notes.
 * @returns the folder
 */
function layFarmFolder() {
  const made = path.join(home, "var/frames/harbour-lights/HL010/v001/main/beauty");
  const farm = path.join(home, "var/frames/from-farm/HL050");
  fs.rmSync(farm, { recursive: true, force: true });
  fs.mkdirSync(farm, { recursive: true });
  const whole = fs.readdirSync(made).filter((name) => fs.statSync(path.join(made, name)).size > 1_000);
  for (const name of whole.slice(0, 48)) {
    const frame = /\.(\d+)\.png$/.exec(name)[1];
    fs.copyFileSync(path.join(made, name), path.join(farm, `barge_beauty.${frame}.png`));
  }
  const [first] = fs.readdirSync(farm);
  fs.copyFileSync(path.join(farm, first), path.join(farm, first.replace(/(\d+)\.png$/, "0$1.png")));
  fs.truncateSync(path.join(farm, fs.readdirSync(farm)[20]), 9_000);
  fs.writeFileSync(path.join(farm, "notes.txt"), "the lamp is dark in 1021");
  return farm;
}
const farm = layFarmFolder();

/** The proofs are there, with their pictures, and the estimate rests on them. */
async function settleProofs(page) {
  await page.getByTestId("estimate").waitFor();
  await page
    .getByRole("img", { name: /^Proof of frame/ })
    .nth(2)
    .evaluate((image) => image.decode());
}
/** Each view: its file, its address, day or night, and what a person does before the picture is taken. */
const VIEWS = [
  { name: "shots", path: "/" },
  {
    name: "shot-patch",
    path: `${HL010}?bench=patch`,
    async act(page) {
      await page.getByLabel("Frame phrase").fill("todo");
      await page
        .getByTestId("preflight")
        .filter({ visible: true })
        .getByText(/^Fine:/)
        .waitFor();
    },
  },
  {
    name: "patch-all",
    path: "/p/harbour-lights/patch",
    async act(page) {
      await page.getByText(/need rendering\.$/).waitFor();
    },
  },
  {
    name: "shot-night",
    path: `${HL010}?bench=check`,
    night: true,
    async act(page) {
      const pop = page.getByTestId("odd-line").filter({ hasText: "pop" });
      await pop.getByRole("button").first().click();
      await page.getByTestId("odd-strip").waitFor();
    },
  },
  {
    // A sequence with a mess in it: what is wrong is named, and a card stands for it.
    name: "hand-over",
    path: `${HL010}?bench=handover`,
    async act(page) {
      await page.getByText("A black card with the number").click();
      await page.getByText("frame number").click();
      const button = page.getByRole("button", { name: "Hand over", exact: true });
      await button.click();
      await page.locator("[data-testid=handover][data-state=done]").first().waitFor();
    },
  },
  {
    name: "plan",
    path: "/p/harbour-lights/shots/HL040?bench=plan",
    async act(page) {
      await page
        .getByRole("img", { name: /^mole camera at frame/ })
        .nth(2)
        .evaluate((image) => image.decode());
      await page.getByRole("tab", { name: /^Files/ }).click();
      await page.locator("input[name=digits]").fill("3");
      await page.getByRole("tab", { name: /^Scene/ }).click();
      await page
        .getByRole("img", { name: /^mole camera at frame/ })
        .nth(2)
        .evaluate((image) => image.decode());
    },
  },
  {
    name: "plan-night",
    path: "/p/harbour-lights/shots/HL010?bench=plan",
    night: true,
    act: (page) => page.getByRole("tab", { name: /^Frames/ }).click(),
  },
  { name: "prove", path: "/p/harbour-lights/shots/HL030?bench=prove", act: settleProofs },
  { name: "prove-night", path: "/p/harbour-lights/shots/HL030?bench=prove", night: true, act: settleProofs },
  {
    name: "run",
    path: "/p/harbour-lights/shots/HL030?bench=run",
    async act(page) {
      const go = page
        .getByRole("button", { name: /^(Render \d+ frames|Go on with)/ })
        .filter({ visible: true })
        .first();
      await go.click();
      const anyway = page.getByRole("button", { name: /all the same$/ }).filter({ visible: true });
      if (await anyway.isVisible()) await anyway.click();
      await page.getByRole("button", { name: /^Log of run/ }).click();
      await page
        .getByTestId("run-strip")
        .getByText(/[1-9]\d of 120 frames done/)
        .waitFor({ timeout: 120_000 });
      await page.locator("[data-activity=rendering]").nth(1).waitFor({ state: "attached", timeout: 60_000 });
    },
  },
  {
    // While the run before goes on.
    name: "nodes",
    path: "/nodes",
    act: (page) =>
      page
        .getByTestId("node")
        .nth(1)
        .getByText(/^renders/)
        .waitFor(),
  },
  {
    name: "runs",
    path: "/runs",
    act: (page) =>
      page
        .getByText(/in work on/)
        .first()
        .waitFor(),
    async after(page) {
      await page.goto(`${address}/p/harbour-lights/shots/HL030`);
      await page.getByRole("button", { name: /^Stop now/ }).click();
    },
  },
  {
    name: "settings",
    path: "/settings",
    act: (page) =>
      page
        .getByTestId("root-frames")
        .getByText(/can write/)
        .first()
        .waitFor(),
  },
  {
    name: "look",
    path: `${HL010}?bench=check`,
    async act(page) {
      await page.getByLabel("Frame phrase").fill("1062");
      await page.getByRole("button", { name: "Look", exact: true }).first().click();
      await page.locator("[data-testid=look] canvas[data-shown=true]").waitFor();
      await page.getByText(/ · (\d+) of \1 in memory/).waitFor();
    },
  },
  {
    name: "look-compare",
    path: "/p/harbour-lights/shots/HL030?bench=prove",
    async act(page) {
      await settleProofs(page);
      await page
        .getByRole("button", { name: /^See proof of frame/ })
        .first()
        .click();
      await page.locator("[data-testid=proof-look] canvas[data-shown=true]").waitFor();
      await page.getByRole("button", { name: /^Comparing/ }).click();
      await page.getByRole("button", { name: /^Strip/ }).click();
      await page.getByText(/ · (\d+) of \1 in memory/).waitFor();
    },
  },
  {
    name: "take-in",
    path: `/p/harbour-lights/take-in?${new URLSearchParams({ folder: farm })}`,
    act: (page) => page.getByTestId("found-sequence").first().waitFor(),
  },
  {
    name: "check-folder",
    path: "/check-folder",
    async act(page) {
      await page.getByLabel("A folder to check").setInputFiles(farm);
      await page.getByText(/damaged\. [\d.]+ s\./).waitFor();
    },
  },
  { name: "help", path: "/help" },
];

fs.mkdirSync(folder, { recursive: true });
const browser = await chromium.launch(LAUNCH);
try {
  const named = process.argv.slice(2);
  for (const name of named)
    if (!VIEWS.some((view) => view.name === name)) throw new Error(`There is no view "${name}".`);
  for (const view of VIEWS.filter(({ name }) => named.length === 0 || named.includes(name))) {
    const page = await browser.newPage({
      viewport: { width: 1280, height: 800 },
      colorScheme: view.night ? "dark" : "light",
    });
    await page.goto(address + view.path, { waitUntil: "load" });
    await page.locator("main").waitFor();
    // Pictures and live figures come after the page: wait until both are there.
    if (view.path !== "/help")
      await page
        .getByText(/nodes? · /)
        .first()
        .waitFor();
    await page.evaluate(() =>
      Promise.all([...document.images].map((image) => image.decode().catch(() => undefined))),
    );
    await view.act?.(page);
    await page.mouse.move(640, 795);
    await page.waitForFunction(() =>
      [...document.querySelectorAll("canvas")].every((c) => {
        // Of the viewer's two the one that is on show.
        if (getComputedStyle(c).visibility === "hidden") return true;
        if (c.width === 0 || c.height === 0) return false;
        const eye = new OffscreenCanvas(c.width, c.height).getContext("2d");
        eye.drawImage(c, 0, 0);
        return eye.getImageData(0, 0, c.width, c.height).data.some((v) => v > 0);
      }),
    );
    await page.evaluate(() =>
      document.fonts.ready.then(
        () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
      ),
    );
    await page.screenshot({ path: path.join(folder, `${view.name}.png`) });
    await view.after?.(page);
    await page.close();
    process.stdout.write(`docs/screenshots/${view.name}.png\n`);
  }
} finally {
  fs.rmSync(path.dirname(farm), { recursive: true, force: true });
  await browser.close();
}
