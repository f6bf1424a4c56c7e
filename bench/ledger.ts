/**
 * The ledger of 500 shots of 4,000 frames against that of four: the first HTML, how long until every line is there,
 * and a keystroke in its filter, in a real browser. The frames are rows of the tally; the folder of the project is
 * out of sight meanwhile, so that the watch does not look for two million files.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { median } from "@/core/many";
import { makeScale } from "@/demo/scale";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { type Measured, rounded } from "./measured";
import { emptyRoot } from "./real-run";
import { withServer } from "./real-server";

const SHOTS = { few: 4, many: 500 } as const;
/** Of each: the ledger alone is measured. */
const SIZE = { frames: 4_000, nodes: 0, runs: 0 };
const TIMES = 25;
const HTML_RATIO = 1.5;
const KEY_LIMIT_MS = 50;
const WHOLE_LIMIT_MS = 120_000;
const TYPED = "sea 0420 missing";

async function timeHtml(address: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const began = performance.now();
    const text = await (await fetch(address)).text();
    times.push(performance.now() - began);
    if (!text.includes("0010")) throw new Error(`${address} does not hold its first shot.`);
  }
  return median(times);
}

/** From a key until the browser has drawn what the field holds, for each key; and until the lines have followed. */
async function timeKeys(page: Page): Promise<{ readonly key: number; readonly lines: number }> {
  await page.evaluate(() => {
    const told = globalThis as unknown as { drawn: number[] };
    told.drawn = [];
    addEventListener(
      "input",
      () => {
        const began = performance.now();
        requestAnimationFrame(() => setTimeout(() => told.drawn.push(performance.now() - began)));
      },
      { capture: true },
    );
  });
  const lines: number[] = [];
  await page.getByLabel("Find shots").focus();
  for (const letter of TYPED) {
    const began = performance.now();
    await page.keyboard.type(letter);
    // Two tasks of the page's own main thread: they run when what the key began is over.
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve))));
    lines.push(performance.now() - began);
  }
  const keys = await page.evaluate(() => (globalThis as unknown as { drawn: number[] }).drawn);
  if (keys.length !== TYPED.length) throw new Error(`${TYPED.length} keys, ${keys.length} drawn.`);
  return { key: median(keys), lines: median(lines) };
}

export async function ledger(home: string): Promise<Measured> {
  const root = await emptyRoot(home);
  await migrate(pool(), path.join(home, "db"));
  await makeScale("few", "FW", { ...SIZE, shots: SHOTS.few });
  await makeScale("many", "MN", { ...SIZE, shots: SHOTS.many });
  return withServer(home, async ({ address }) => {
    const browser = await chromium.launch(LAUNCH);
    try {
      // Once each: what a server does for its first page is none of the ledger's.
      await Promise.all([fetch(`${address}/p/few`), fetch(`${address}/p/many`)]);
      const few = await timeHtml(`${address}/p/few`);
      const many = await timeHtml(`${address}/p/many`);
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      const began = performance.now();
      await page.goto(`${address}/p/many`);
      await page.getByText(/of 500 shots done/).waitFor({ timeout: WHOLE_LIMIT_MS });
      const whole = (performance.now() - began) / 1000;
      const { key, lines } = await timeKeys(page);
      return {
        name: "ledger",
        value: rounded(many),
        unit: "ms",
        yardstick: rounded(few),
        ratio: rounded(many / few),
        goal: `the first HTML of 500 shots of 4,000 frames in at most ${HTML_RATIO} times that of 4 (the yardstick); a key in the filter is drawn in under ${KEY_LIMIT_MS} ms (measured ${rounded(key)}; the lines have followed after ${rounded(lines)}); all 500 lines are there after ${rounded(whole)} s`,
        holds: many <= HTML_RATIO * few && key < KEY_LIMIT_MS,
      };
    } finally {
      await browser.close();
      await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
    }
  });
}
