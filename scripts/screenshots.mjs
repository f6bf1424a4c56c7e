// npm run screenshots: one current picture of each main view, from the demo data at 1280x800, into docs/screenshots.
// The demo must be running and have rendered HL010: `npm run demo -- --fresh` first.
import fs from "node:fs";
import path from "node:path";
import { chromium } from "@playwright/test";

const home = path.dirname(import.meta.dirname);
const folder = path.join(home, "docs/screenshots");
const { address } = JSON.parse(fs.readFileSync(path.join(home, "var/run/state.json"), "utf8"));

const HL010 = "/shots/HL010";
/** Each view: its file, its address, day or night, and what a person does before the picture is taken. */
const VIEWS = [
  { name: "shots", path: "/" },
  { name: "shot-patch", path: `${HL010}?bench=patch`, act: (page) => page.getByLabel("Frame phrase").fill("todo") },
  { name: "shot-night", path: `${HL010}?bench=check`, night: true, act: (page) => page.getByLabel("Frame phrase").fill("flagged,missing") },
  {
    name: "plan", path: `${HL010}?bench=plan`,
    async act(page) {
      await page.locator("input[name=frames]").fill("1001-1120");
      await page.getByRole("button", { name: /Files and names/ }).click();
      await page.locator("input[name=digits]").fill("3");
    },
  },
  {
    name: "run", path: "/shots/HL030?bench=run",
    async act(page) {
      const go = page.getByRole("button", { name: /^(Render \d+ frames|Go on with)/ }).filter({ visible: true }).first();
      if (await go.isEnabled()) await go.click();
      await page.getByRole("button", { name: /^Log of run/ }).click();
      await page.getByTestId("run-strip").getByText(/[1-9]\d of 120 frames done/).waitFor({ timeout: 120_000 });
      await page.locator("[data-activity=rendering]").nth(1).waitFor({ state: "attached", timeout: 60_000 });
    },
    after: (page) => page.getByRole("button", { name: /^Stop now/ }).click(),
  },
  {
    name: "look", path: `${HL010}?bench=check`,
    async act(page) {
      await page.getByLabel("Frame phrase").fill("1062");
      await page.getByRole("button", { name: "Look", exact: true }).first().click();
      await page.locator("[data-testid=look] canvas[data-shown=true]").waitFor();
    },
  },
  { name: "help", path: "/help" },
];

fs.mkdirSync(folder, { recursive: true });
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"] });
try {
  for (const view of VIEWS) {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: view.night ? "dark" : "light" });
    await page.goto(address + view.path, { waitUntil: "load" });
    await page.locator("main").waitFor();
    // Pictures and live figures come after the page: wait until both are there.
    if (view.path !== "/help") await page.getByText(/nodes? · /).first().waitFor();
    await page.evaluate(() => Promise.all([...document.images].map((image) => image.decode().catch(() => undefined))));
    await view.act?.(page);
    await page.mouse.move(640, 795);
    await page.waitForFunction(() => [...document.querySelectorAll("canvas")].every((c) => c.width > 0 && c.getContext("2d").getImageData(0, 0, c.width, c.height).data.some((v) => v > 0)));
    await page.evaluate(() => document.fonts.ready.then(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)))));
    await page.screenshot({ path: path.join(folder, `${view.name}.png`) });
    await view.after?.(page);
    await page.close();
    process.stdout.write(`docs/screenshots/${view.name}.png\n`);
  }
} finally {
  await browser.close();
}
