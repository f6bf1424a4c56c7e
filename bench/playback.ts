/**
 * Look in headless Chromium: 240 frames at 24 a second out of memory, how soon playing begins, how soon a frame that is in
 * memory is shown, and whether memory stays inside its budget. The processors draw, decode and serve at once here; on a
 * desk the graphics do the first.
 */
import { spawn } from "node:child_process";
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { PLAN_DEFAULTS } from "@/core/plan/plan";
import { PROJECT } from "@/demo/project";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";
import { migrate } from "@/server/db/migrate";
import { closePool, pool } from "@/server/db/pool";
import { imageTools } from "@/server/files/image-tools";
import { projectFolder } from "@/server/files/paths";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { type Measured, rounded } from "./measured";
import { until } from "./real-run";

const FRAMES = 240;
const RATE = 24;
const PORT = 4396;
/** Two rounds of the sequence. */
const PLAY_MS = 20_000;
const BEGIN_LIMIT_MS = 1_000;
const SEEK_LIMIT_MS = 50;
const SEEKS = 20;
/** Room for some 60 of 1920 x 1080. */
const SMALL_BUDGET = 512e6;

const SIZES = { small: [960, 540], large: [1920, 1080] } as const;
type SizeName = keyof typeof SIZES;

const codeOf = (size: SizeName): string => (size === "small" ? "PB010" : "PB020");

/** Noise that moves: no two files are alike, and none packs into nothing. */
async function layFrames(folder: string, size: SizeName): Promise<void> {
  const [width, height] = SIZES[size];
  const pixels = new Uint8Array(width * height * 3).map((_, i) => (i * 7) & 127);
  const code = codeOf(size);
  await fs.mkdir(folder, { recursive: true });
  for (let frame = 1; frame <= FRAMES; frame++) {
    pixels.set(crypto.randomBytes(width * 3), ((frame * 2) % height) * width * 3);
    const bytes = writePng(rgb8(width, height, pixels), {}, imageTools, { level: 1, isColour: true });
    await fs.writeFile(path.join(folder, `${code}.${String(frame).padStart(4, "0")}.png`), bytes);
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
  readonly shown: number;
  readonly dropped: number;
}

/** From where it stands, for two rounds. */
async function play(page: Page): Promise<Played> {
  await page.keyboard.press("l");
  await page.waitForTimeout(PLAY_MS);
  await page.keyboard.press("k");
  const text = await stateOf(page);
  const dropped = figure(text, /([\d,]+) dropped/);
  return { dropped, shown: (PLAY_MS / 1000) * RATE - dropped };
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

async function measure(browser: Awaited<ReturnType<typeof chromium.launch>>, address: string) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const inMemory = async (): Promise<void> =>
    until("all of it is in memory", async () =>
      (await stateOf(page)).includes(`${FRAMES} of ${FRAMES} in memory`),
    );

  await openLook(page, address, "small");
  await page.keyboard.press("v");
  await inMemory();
  const small = await play(page);
  const seeks: number[] = [];
  for (let i = 0; i < SEEKS; i++) seeks.push(await timeOf(page, "ArrowRight"));
  await page.keyboard.press("Escape");

  await openLook(page, address, "large");
  await page.keyboard.press("v");
  await inMemory();
  const large = await play(page);
  await page.getByRole("button", { name: /^Playing/ }).click();
  await page.getByLabel("Size of pictures in motion").selectOption("1");
  await page.getByLabel("Memory").selectOption(String(SMALL_BUDGET));
  const whole = await play(page);
  const bytes = figure(await stateOf(page), /in memory, ([\d.]+) MB/) * 1e6;
  await page.getByLabel("Size of pictures in motion").selectOption("2");
  await page.reload();
  await openLook(page, address, "large");
  await page.keyboard.press("v");
  const begin = await timeOf(page, "l");
  await page.close();
  return { small, large, whole, bytes, begin, seek: seeks.sort((a, b) => a - b)[SEEKS >> 1]! };
}

export async function playback(home: string): Promise<Measured> {
  await migrate(pool(), path.join(home, "db"));
  await makeShots();
  const server = spawn(
    process.execPath,
    ["node_modules/next/dist/bin/next", "start", "-H", "127.0.0.1", "-p", String(PORT)],
    { cwd: home, env: { ...process.env, NODE_ENV: "production" }, stdio: "ignore" },
  );
  const address = `http://127.0.0.1:${PORT}`;
  const browser = await chromium.launch(LAUNCH);
  try {
    await until(
      "the server answers",
      async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok === true,
    );
    const { small, large, whole, bytes, begin, seek } = await measure(browser, address);
    const due = (PLAY_MS / 1000) * RATE;
    return {
      name: "playback",
      value: small.shown,
      unit: "pictures",
      yardstick: due,
      ratio: rounded(small.shown / due),
      goal: `every one of ${due} pictures of 960 x 540 that were due (the yardstick) is shown; 1920 x 1080 at the window's size likewise (dropped ${large.dropped}; whole ${whole.dropped}, told); playing begins within ${BEGIN_LIMIT_MS} ms at half size (${Math.round(begin)}), a picture in memory is shown within ${SEEK_LIMIT_MS} ms (${Math.round(seek)}), and ${Math.round(bytes / 1e6)} MB stay inside a budget of ${SMALL_BUDGET / 1e6}`,
      holds:
        small.dropped === 0 &&
        large.dropped === 0 &&
        begin <= BEGIN_LIMIT_MS &&
        seek <= SEEK_LIMIT_MS &&
        bytes <= SMALL_BUDGET * 1.1,
    };
  } finally {
    await browser.close();
    server.kill();
    await closePool();
  }
}
