/** 1,000 frames of 2 MB checked by the browser alone, against the command line on the same folder. */
import { spawnSync } from "node:child_process";
import crypto from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { chromium } from "@playwright/test";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { imageTools } from "@/server/files/image-tools";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { type Measured, rounded } from "./measured";
import { until } from "./real-run";
import { withServer } from "./real-server";

const FRAMES = 1_000;
/** Grain, so that nothing is packed: 2 MB a file. */
const [WIDTH, HEIGHT] = [960, 700];

/** Each frame is another file with other bytes, as of a run: links to a few would stay in the caches of the processor. */
function fill(folder: string): void {
  const pixels = new Uint8Array(crypto.randomBytes(WIDTH * HEIGHT * 3));
  for (let i = 0; i < FRAMES; i++) {
    pixels.set(crypto.randomBytes(WIDTH), (i % HEIGHT) * WIDTH);
    fs.writeFileSync(
      path.join(folder, `quay.${String(i + 1).padStart(4, "0")}.png`),
      writePng(rgb8(WIDTH, HEIGHT, pixels), {}, imageTools),
    );
  }
}

/** Seconds that the page itself tells, from the first file to the last verdict. */
async function inBrowser(address: string, folder: string): Promise<number> {
  const browser = await chromium.launch(LAUNCH);
  try {
    const page = await browser.newPage();
    await page.goto(`${address}/check-folder`);
    await page.waitForSelector("html[data-alive]");
    await page.getByLabel("A folder to check").setInputFiles(folder);
    const sentence = page.getByTestId("folder-sentence");
    await until("every file is judged", async () =>
      ((await sentence.textContent()) ?? "").includes(`1,000 of 1,000 pictures looked at`),
    );
    await until("it says how long it took", async () =>
      /damaged\. \d/.test((await sentence.textContent()) ?? ""),
    );
    const text = (await sentence.textContent())!;
    if (!text.includes("0 damaged")) throw new Error(text);
    return Number(/damaged\. ([\d.]+) s/.exec(text)![1]);
  } finally {
    await browser.close();
  }
}

export async function browserCheck(home: string): Promise<Measured> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-bench-"));
  fill(folder);
  await migrate(pool(), path.join(home, "db"));
  return withServer(home, async ({ address }) => {
    try {
      const cli = (): number => {
        const began = performance.now();
        const ended = spawnSync(process.execPath, ["bin/plain-tally.mjs", "check", folder], { cwd: home });
        if (ended.status !== 0) throw new Error(String(ended.stderr));
        return (performance.now() - began) / 1000;
      };
      // Once for the files to be in memory.
      cli();
      const yardstick = cli();
      const value = await inBrowser(address, folder);
      return {
        name: "browser-check",
        value: rounded(FRAMES / value),
        unit: "frames/s",
        yardstick: rounded(FRAMES / yardstick),
        ratio: rounded(yardstick / value),
        goal: "frames of 2 MB in the browser at no less than half the speed of the command line",
        holds: yardstick / value >= 0.5,
      };
    } finally {
      fs.rmSync(folder, { recursive: true, force: true });
    }
  });
}
