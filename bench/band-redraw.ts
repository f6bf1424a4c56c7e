/** Redraws of the band in Debian's Chromium, without a window and in software. */
import { median } from "@/core/many";
import path from "node:path";
import { chromium } from "@playwright/test";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { type Measured, rounded } from "./measured";

const GOAL_MS = 8;

export async function bandRedraw(home: string): Promise<Measured> {
  const browser = await chromium.launch(LAUNCH);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addScriptTag({ path: path.join(home, "var/build/bench/band-page.js") });
    const { redraws, fills } = await page.evaluate(() =>
      (globalThis as { measureBand?: () => { redraws: number[]; fills: number[] } }).measureBand!(),
    );
    const [value, yardstick] = [median(redraws), median(fills)];
    return {
      name: "band-redraw",
      value: rounded(value),
      unit: "ms",
      yardstick: rounded(yardstick),
      ratio: rounded(value / yardstick),
      goal: `median under ${GOAL_MS} ms a redraw of 100,000 frames (yardstick: 1,000 plain boxes on the same canvas)`,
      holds: value < GOAL_MS,
    };
  } finally {
    await browser.close();
  }
}
