/**
 * Look in headless Chromium: 240 frames at 24 a second out of memory, how soon playing begins, how soon a frame that is in
 * memory is shown, and whether memory stays inside its budget. The processors draw, decode and serve at once here; on a
 * desk the graphics do the first.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import { type Browser, chromium, type Page } from "@playwright/test";
import sharp from "sharp";
import { median } from "@/core/many";
import { PLAN_DEFAULTS } from "@/core/plan/plan";
import { PROJECT } from "@/demo/project";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { projectFolder } from "@/server/files/paths";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { changesOf, frameFile, numberedPixels, watchCanvas } from "../tests/support/numbered-pictures";
import { type Measured, rounded } from "./measured";
import { emptyRoot, until } from "./real-run";
import { withServer } from "./real-server";

const FRAMES = 240;
const RATE = 24;
/** Rounds of the sequence that are looked at by themselves: a host that is busy for a moment drops a picture of one. */
const ROUNDS = 5;
/** Pictures of full size: fewer are shown than are due. */
const SOME_WHOLE = 120;
const PATIENCE_MS = 300_000;
const BEGIN_LIMIT_MS = 1_000;
const SEEK_LIMIT_MS = 50;
const SEEKS = 20;
/** Room for some 60 of 1920 x 1080. */
const SMALL_BUDGET = 512e6;

const SIZES = { small: [960, 540], large: [1920, 1080] } as const;
type SizeName = keyof typeof SIZES;

const codeOf = (size: SizeName): string => (size === "small" ? "PB010" : "PB020");

/** Numbers above, and below noise that moves: no two files are alike, and none packs into nothing. */
async function layFrames(folder: string, size: SizeName): Promise<void> {
  const [width, height] = SIZES[size];
  const code = codeOf(size);
  const half = height >> 1;
  const noise = new Uint8Array(width * half * 3).map((_, i) => (i * 7) & 127);
  await fs.mkdir(folder, { recursive: true });
  for (let frame = 1; frame <= FRAMES; frame++) {
    const data = numberedPixels(frame, width, height);
    noise.set(crypto.randomBytes(width * 3), ((frame * 2) % half) * width * 3);
    data.set(noise, width * half * 3);
    await sharp(data, { raw: { width, height, channels: 3 } })
      .png({ compressionLevel: 1 })
      .toFile(path.join(folder, frameFile(code, frame)));
  }
}

async function makeShots(): Promise<void> {
  const project = { ...PROJECT, slug: "playback", title: "Playback", folder: "playback" };
  await createProject(project);
  const scenes = path.join(projectFolder(project), "scenes");
  await fs.cp(path.join(process.env.PLAIN_TALLY_HOME!, "src/demo/scenes"), scenes, { recursive: true });
  const rate = { numerator: RATE, denominator: 1 };
  for (const size of ["small", "large"] as const) {
    const [width, height] = SIZES[size];
    const code = codeOf(size);
    await makeShot(
      project.slug,
      { code, title: code, firstFrame: 1, lastFrame: FRAMES, markers: [] },
      {
        ...PLAN_DEFAULTS,
        scene: "scenes/hl020.json",
        cameras: ["main"],
        frames: `1-${FRAMES}`,
        timeLine: { first: 1, last: FRAMES, rate },
        rate,
        width,
        height,
        samples: 1,
        namePattern: "{shot}.{frame}",
      },
    );
    await layFrames(path.join(projectFolder(project), code, "v001/main/beauty"), size);
  }
}

const stateOf = async (page: Page): Promise<string> =>
  (await page.getByTestId("play-state").textContent()) ?? "";
const figure = (text: string, pattern: RegExp): number =>
  Number(pattern.exec(text)?.[1]?.replace(",", "") ?? 0);

async function openLook(page: Page, address: string, size: SizeName): Promise<void> {
  await page.goto(`${address}/p/playback/shots/${codeOf(size)}?bench=check`);
  await page.waitForSelector("html[data-alive]");
  await until("every frame is good", async () =>
    ((await page.getByTestId("sentence").textContent()) ?? "").includes(`All ${FRAMES} good`),
  );
}

interface Played {
  /** Pictures that came on show, as the canvas held them. */
  readonly shown: number;
  /** Numbers between those that never did. */
  readonly leftOut: number;
  /** That the page tells. */
  readonly told: number;
  /** Share of the processors that the host gave to others meanwhile. */
  readonly stolen: number;
}

/** Ticks of all processors since the machine began, and those that the host took for others. */
async function ticks(): Promise<{ readonly all: number; readonly stolen: number }> {
  const [line] = (await fs.readFile("/proc/stat", "utf8")).split("\n");
  const parts = line!.split(/\s+/).slice(1, 9).map(Number);
  return { all: parts.reduce((sum, part) => sum + part, 0), stolen: parts[7] ?? 0 };
}

/** From where it stands, until so many pictures were seen. */
async function play(page: Page, size: SizeName, pictures: number): Promise<Played> {
  const [width, height] = SIZES[size];
  await watchCanvas(page, { width, height });
  const before = await ticks();
  await page.keyboard.press("l");
  await page.waitForFunction(
    (most) => window.seen.filter((one, i) => one.number !== window.seen[i - 1]?.number).length > most,
    pictures,
    { timeout: PATIENCE_MS },
  );
  const seen = changesOf(await page.evaluate(() => window.stopSeeing()));
  const after = await ticks();
  await page.keyboard.press("k");
  const told = figure(await stateOf(page), /([\d,]+) dropped/);
  // What stood there before is none that was played.
  const played = seen.slice(1);
  const leftOut = played
    .slice(1)
    .reduce((sum, { number }, i) => sum + ((number - played[i]!.number + FRAMES) % FRAMES) - 1, 0);
  const stolen = (after.stolen - before.stolen) / (after.all - before.all);
  return { shown: played.length, leftOut, told, stolen };
}

const played = async (page: Page, size: SizeName): Promise<readonly Played[]> => {
  const rounds: Played[] = [];
  for (let i = 0; i < ROUNDS; i++) rounds.push(await play(page, size, FRAMES));
  return rounds.sort((a, b) => a.leftOut - b.leftOut);
};

/**
 * Bytes of the processes that run pages, where decoded pictures lie, each page of memory counted once. The files
 * themselves lie in the browser's own store, which a window without a history keeps in memory, too.
 */
async function memoryOf(browser: Browser): Promise<number> {
  const session = await browser.newBrowserCDPSession();
  const { processInfo } = await session.send("SystemInfo.getProcessInfo");
  await session.detach();
  const sizes = await Promise.all(
    processInfo.map(async ({ id, type }) => {
      if (type !== "renderer") return 0;
      const text = await fs.readFile(`/proc/${id}/smaps_rollup`, "utf8").catch(() => "");
      return Number(/^Pss:\s+(\d+) kB/m.exec(text)?.[1] ?? 0) * 1024;
    }),
  );
  return sizes.reduce((sum, size) => sum + size, 0);
}

/** Milliseconds from the key until the canvas shows another picture. */
const timeOf = (page: Page, key: string): Promise<number> =>
  page.evaluate(async (pressed) => {
    const eye = document.createElement("canvas");
    [eye.width, eye.height] = [16, 16];
    const context = eye.getContext("2d", { willReadFrequently: true })!;
    const look = (): string => {
      const shown = document.querySelector<HTMLCanvasElement>('[data-testid="look"] canvas[role=img]')!;
      context.drawImage(shown, 0, 0, 16, 16);
      return context.getImageData(0, 0, 16, 16).data.join();
    };
    const before = look();
    const began = performance.now();
    document.dispatchEvent(new KeyboardEvent("keydown", { key: pressed, bubbles: true }));
    while (look() === before) await new Promise((next) => requestAnimationFrame(next));
    return performance.now() - began;
  }, key);

async function measure(browser: Browser, address: string) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const inMemory = async (): Promise<void> =>
    until("all of it is in memory", async () =>
      (await stateOf(page)).includes(`${FRAMES} of ${FRAMES} in memory`),
    );

  // The watch has looked at both: what it does is none of the player's.
  await openLook(page, address, "large");
  await openLook(page, address, "small");
  await page.keyboard.press("v");
  await inMemory();
  const small = await played(page, "small");
  const seeks: number[] = [];
  for (let i = 0; i < SEEKS; i++) seeks.push(await timeOf(page, "ArrowRight"));
  await page.keyboard.press("Escape");

  await openLook(page, address, "large");
  const before = await memoryOf(browser);
  await page.keyboard.press("v");
  await inMemory();
  const large = await played(page, "large");
  await page.getByRole("button", { name: /^Playing/ }).click();
  await page.getByLabel("Memory").selectOption(String(SMALL_BUDGET));
  await page.getByLabel("Size of pictures in motion").selectOption("1");
  await until("there is no room for more", async () => /they do not all fit/.test(await stateOf(page)));
  const whole = await play(page, "large", SOME_WHOLE);
  const told = figure(await stateOf(page), /in memory, ([\d.]+) MB/) * 1e6;
  const held = (await memoryOf(browser)) - before;
  await page.getByLabel("Size of pictures in motion").selectOption("2");
  await openLook(page, address, "large");
  await page.keyboard.press("v");
  const begin = await timeOf(page, "l");
  await page.close();
  return { small, large, whole, told, held, begin, seek: median(seeks) };
}

export async function playback(home: string): Promise<Measured> {
  const root = await emptyRoot(home);
  await migrate(pool(), path.join(home, "db"));
  await makeShots();
  return withServer(home, async ({ address }) => {
    const browser = await chromium.launch(LAUNCH);
    try {
      const { small, large, whole, told, held, begin, seek } = await measure(browser, address);
      const [best, bestLarge] = [small[0]!, large[0]!];
      const due = best.shown + best.leftOut;
      const asText = (rounds: readonly Played[]): string =>
        `left out ${rounds.map(({ leftOut }) => leftOut).join(", ")} in ${rounds.length} rounds, told ${rounds.map((one) => one.told).join(", ")}, while the host took ${rounds.map(({ stolen }) => `${(stolen * 100).toFixed(1)} %`).join(", ")} of the processors`;
      const isTold = [...small, ...large, whole].every((one) => one.told >= one.leftOut);
      return {
        name: "playback",
        value: best.shown,
        unit: "pictures",
        yardstick: due,
        ratio: rounded(best.shown / due),
        goal:
          `every one of ${due} pictures of 960 x 540 that were due (the yardstick) is seen on the canvas in the best of ${ROUNDS} rounds (${asText(small)}); 1920 x 1080 at the window's size likewise (${asText(large)}); of whole ones ${whole.shown} of ${whole.shown + whole.leftOut} are shown and ${whole.told} told as dropped; ` +
          `playing begins within ${BEGIN_LIMIT_MS} ms at half size (${Math.round(begin)}), a picture in memory is shown within ${SEEK_LIMIT_MS} ms (${Math.round(seek)}); ${Math.round(told / 1e6)} MB of pictures stay inside a budget of ${SMALL_BUDGET / 1e6}, and the page grew by ${Math.round(held / 1e6)}`,
        holds:
          best.leftOut === 0 &&
          bestLarge.leftOut === 0 &&
          isTold &&
          begin <= BEGIN_LIMIT_MS &&
          seek <= SEEK_LIMIT_MS &&
          told <= SMALL_BUDGET * 1.1,
      };
    } finally {
      await browser.close();
      await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
    }
  });
}
