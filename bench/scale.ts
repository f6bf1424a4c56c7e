/**
 * Pages of a house with 500 shots, two million frames, 40 nodes and 40 runs that wait, against those of one of the demo's size:
 * what a browser first paints, in the same server.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { type Browser, chromium } from "@playwright/test";
import { largest, median } from "@/core/many";
import { makeScale, SCALES, showNodes } from "@/demo/scale";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { type Measured, rounded } from "./measured";
import { emptyRoot } from "./real-run";
import { withServer } from "./real-server";

const TIMES = 9;
const RATIO = 1.5;
/** By what it is called: its address in a project. */
const PAGES = {
  projects: () => "/projects",
  ledger: (slug: string) => `/p/${slug}`,
  shot: (slug: string, prefix: string) => `/p/${slug}/shots/${prefix}0010`,
  runs: () => "/runs",
  nodes: () => "/nodes",
  settings: () => "/settings",
} as const;
type PageName = keyof typeof PAGES;
const NAMES = Object.keys(PAGES) as PageName[];

/** Milliseconds from the navigation to the first paint with something in it, as the browser tells it. */
async function firstPaint(browser: Browser, address: string): Promise<number> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  try {
    await page.goto(address, { waitUntil: "domcontentloaded" });
    return await page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          new PerformanceObserver((list) => {
            const found = list.getEntriesByName("first-contentful-paint")[0];
            if (found !== undefined) resolve(found.startTime);
          }).observe({ type: "paint", buffered: true });
        }),
    );
  } finally {
    await page.close();
  }
}

/** Median of each page, turn and turn about, so that a busy moment hits all of them. */
async function paintAll(
  browser: Browser,
  address: string,
  slug: string,
  prefix: string,
): Promise<Record<PageName, number>> {
  const times = Object.fromEntries(NAMES.map((name) => [name, [] as number[]])) as Record<PageName, number[]>;
  // What a server does for its first page is none of the page's.
  for (const name of NAMES) await firstPaint(browser, `${address}${PAGES[name](slug, prefix)}`);
  for (let i = 0; i < TIMES; i++)
    for (const name of NAMES)
      times[name].push(await firstPaint(browser, `${address}${PAGES[name](slug, prefix)}`));
  return Object.fromEntries(NAMES.map((name) => [name, median(times[name])])) as Record<PageName, number>;
}

export async function scale(home: string): Promise<Measured> {
  const root = await emptyRoot(home);
  await migrate(pool(), path.join(home, "db"));
  await makeScale("small", "SM", SCALES.small);
  return withServer(home, async ({ address }) => {
    const browser = await chromium.launch(LAUNCH);
    try {
      const few = await paintAll(browser, address, "small", "SM");
      await makeScale("large", "LG", SCALES.large);
      await showNodes("large", SCALES.large.nodes);
      const many = await paintAll(browser, address, "large", "LG");
      const ratios = NAMES.map((name) => many[name] / few[name]);
      const worst = NAMES[ratios.indexOf(largest(ratios))]!;
      return {
        name: "scale",
        value: rounded(many[worst]),
        unit: "ms",
        yardstick: rounded(few[worst]),
        ratio: rounded(largest(ratios)),
        goal: `with 500 shots, 2 million frames, 40 nodes and 40 runs the first paint of each page takes at most ${RATIO} times as long as with 4 shots (the yardstick, of the worst page): ${NAMES.map((name) => `${name} ${rounded(many[name])} and ${rounded(few[name])}`).join(", ")}`,
        holds: largest(ratios) <= RATIO,
      };
    } finally {
      await browser.close();
      await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
    }
  });
}
