/** Look: what plays is proved by pictures that carry their numbers, read back from the canvas at each refresh. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import type { FloatImage } from "@/core/image/pixels";
import { writeExr } from "@/core/image/exr";
import { median } from "@/core/many";
import { shownPixel } from "@/core/playback/shown-pixel";
import { imageTools } from "@/server/files/image-tools";
import { frameFile, layNumbered, numberedPicture, watchCanvas } from "../support/numbered-pictures";
import { PLAN } from "../support/plan";
import { expect, test } from "./alive";
import { middleColour, openLook, playAndSee, range, seeNumber } from "./look-stage";
import { onStage } from "./on-stage";
import { sentence } from "./pages";

const on = onStage();
const { width, height } = PLAN;
const RATE = 24;

test("forwards, backwards, in a loop and back and forth: order, rate and count are right, and what is dropped is told", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK010", { frames: "1-40" });
  await layNumbered(shot.folder, "LK010", range(1, 40));
  const look = await openLook(page, on, "LK010", "All 40 good.", 40);
  const dropped = async (): Promise<number> =>
    Number(/(\d+) dropped/.exec((await look.getByTestId("play-state").textContent())!)?.[1] ?? 0);

  for (const [key, way] of [
    ["l", 1],
    ["j", -1],
  ] as const) {
    const seen = await playAndSee(page, key, 60);
    // By the clock: so many frames on after so much time, whatever was dropped. A busy machine refreshes late
    // now and then, which delays single pictures; it moves no half of them, unless the clock itself is wrong.
    let skipped = 0;
    const ahead = [0];
    for (let i = 2; i < seen.length; i++) {
      const step = (((seen[i]!.number - seen[i - 1]!.number) * way) % 40) + 40;
      skipped += (step % 40) - 1;
      ahead.push(i - 1 + skipped - ((seen[i]!.at - seen[1]!.at) / 1000) * RATE);
    }
    const half = ahead.length >> 1;
    expect(Math.abs(median(ahead.slice(half)) - median(ahead.slice(0, half)))).toBeLessThan(2.5);
    // Nothing is skipped in silence: the page tells of at least as many as the canvas left out.
    await expect(look.getByTestId("play-state")).toContainText(/dropped/);
    expect(await dropped()).toBeGreaterThanOrEqual(skipped);
  }

  await look.getByRole("button", { name: /^Playing/ }).click();
  await look.getByLabel("At the ends", { exact: true }).selectOption("back-and-forth");
  await look.getByLabel("Which frames play").selectOption("2");
  await page.keyboard.press("Home");
  const seen = await playAndSee(page, "l", 30);
  const numbers = seen.slice(1).map(({ number }) => number);
  // Every second one, to the last and back again; each is odd.
  expect(numbers.every((number) => number % 2 === 1)).toBe(true);
  const top = numbers.indexOf(Math.max(...numbers));
  expect(numbers.slice(0, top + 1)).toEqual([...numbers.slice(0, top + 1)].sort((a, b) => a - b));
  expect(numbers.slice(top)).toEqual([...numbers.slice(top)].sort((a, b) => b - a));
});

test("missing frames: a card, the one before, or left out; each is told", async ({ page }) => {
  const shot = await on.stage.addShot("LK020", { frames: "1-6" });
  await layNumbered(shot.folder, "LK020", [1, 2, 4, 5, 6]);
  const look = await openLook(page, on, "LK020", "5 of 6 good, 1 missing.", 5);
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  await expect(look).toContainText("Frame 3 has no file.");
  await look.getByRole("button", { name: /^Playing/ }).click();
  await look.getByLabel("Where a frame is missing").selectOption("hold");
  await expect(look).toContainText("Frame 3 is missing: this is 2.");
  await watchCanvas(page, { width, height });
  await page.waitForFunction(() => window.seen.at(-1)?.number === 2);
  await page.evaluate(() => window.stopSeeing());
  await look.getByLabel("Where a frame is missing").selectOption("skip");
  const seen = await playAndSee(page, "l", 8);
  expect(seen.map(({ number }) => number)).not.toContain(3);
});

/** Frames of scene light: each grey of another light. */
async function layLight(folder: string, code: string, lights: readonly number[]): Promise<void> {
  await fs.mkdir(folder, { recursive: true });
  for (const [i, light] of lights.entries()) {
    const image: FloatImage = {
      width,
      height,
      channels: 3,
      data: new Float32Array(width * height * 3).fill(light),
    };
    const bytes = writeExr(image, {}, imageTools.deflate, {
      depth: "half",
      compression: "zip",
      pixelAspect: 1,
      names: ["R", "G", "B"],
    });
    await fs.writeFile(path.join(folder, frameFile(code, i + 1, "exr")), bytes);
  }
}

test("scene light is recognised and shown bright without a click; exposure and curve act at once, without a fetch; graphics may go and come back", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK030", {
    frames: "1-2",
    file: { kind: "exr", depth: "half", compression: "zip" },
  });
  await layLight(shot.folder, "LK030", [0.18, 0.5]);
  const look = await openLook(page, on, "LK030", "All 2 good.", 2);
  await expect(look.getByTestId("reading")).toContainText("hold scene light");
  const greyOf = (light: number, stops: number, view: "film" | "srgb" | "plain"): number =>
    shownPixel(
      [light, light, light, 1],
      { stops, gamma: 1, channel: "colour", view, alpha: "none" },
      [0, 0, 0],
    )[0] * 255;
  const isNear = (wanted: number) =>
    expect
      .poll(async () => Math.abs((await middleColour(page))[0]! - wanted), { timeout: 20_000 })
      .toBeLessThan(1.6);
  await isNear(greyOf(0.18, 0, "film"));

  const fetched: string[] = [];
  page.on("request", (request) => {
    if (request.url().includes("as=pixels")) fetched.push(request.url());
  });
  await look.getByRole("button", { name: /^Seeing/ }).click();
  await look.getByLabel("Exposure in stops").fill("1");
  await isNear(greyOf(0.18, 1, "film"));
  await look.getByLabel("What the numbers are").selectOption("srgb");
  await isNear(greyOf(0.18, 1, "srgb"));
  await look.getByLabel("What the numbers are").selectOption("plain");
  await look.getByLabel("Exposure in stops").fill("0");
  await isNear(0.18 * 255);
  expect(fetched).toEqual([]);

  // What the file holds and what is shown of it, under the pointer.
  const canvas = look.locator("canvas[role=img]");
  const box = (await canvas.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await expect(look.getByTestId("pixel-values")).toContainText(
    "holds 0.1801 0.1801 0.1801 1.000, shown as 46 46 46",
  );

  await canvas.evaluate((element) => {
    const lose = (element as HTMLCanvasElement).getContext("webgl2")!.getExtension("WEBGL_lose_context")!;
    Object.assign(window, { bringBack: () => lose.restoreContext() });
    lose.loseContext();
  });
  await expect(look).toContainText("comes back by itself");
  await page.evaluate(() => (window as unknown as { bringBack: () => void }).bringBack());
  await expect(look).not.toContainText("comes back by itself");
  await isNear(0.18 * 255);
});

test("a frame that is replaced while one looks is seen anew; one that is damaged says so; another size is shown as it is", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK040", { frames: "1-3" });
  await layNumbered(shot.folder, "LK040", [1, 2, 3]);
  const look = await openLook(page, on, "LK040", "All 3 good.", 3);
  await watchCanvas(page, { width, height });
  await page.waitForFunction(() => window.seen.at(-1)?.number === 1);
  await fs.writeFile(path.join(shot.folder, frameFile("LK040", 1)), numberedPicture(513, width, height));
  await page.waitForFunction(() => window.seen.at(-1)?.number === 513);
  await page.evaluate(() => window.stopSeeing());
  const whole = numberedPicture(2, width, height);
  await fs.writeFile(path.join(shot.folder, frameFile("LK040", 2)), whole.subarray(0, whole.length - 40));
  await fs.writeFile(path.join(shot.folder, frameFile("LK040", 3)), numberedPicture(3, 96, 54));
  await page.keyboard.press("ArrowRight");
  await expect(look).toContainText("The file of frame 2 cannot be shown.");
  await page.keyboard.press("ArrowRight");
  await expect(look.getByTestId("picture-size")).toContainText("96 x 54");
});

test("a frame that vanishes while it plays becomes a gap, and the rest plays on", async ({ page }) => {
  const shot = await on.stage.addShot("LK100", { frames: "1-12" });
  await layNumbered(shot.folder, "LK100", range(1, 12));
  const look = await openLook(page, on, "LK100", "All 12 good.", 12);
  await watchCanvas(page, PLAN);
  await page.keyboard.press("l");
  await page.waitForFunction(() => window.seen.some(({ number }) => number === 12));
  await fs.unlink(path.join(shot.folder, frameFile("LK100", 5)));
  // The page hears of it while it plays.
  await expect(look.getByTestId("play-state")).toContainText("11 of 11 in memory");
  const heard = await page.evaluate(() => window.seen.length);
  await page.waitForFunction(
    (from) => window.seen.slice(from).filter(({ number }) => number === 12).length > 0,
    heard,
  );
  const after = await page.evaluate((from) => window.stopSeeing().slice(from), heard);
  await page.keyboard.press("k");
  // What was in its round when the news came may have been on show already.
  const rounds = after.slice(after.findIndex(({ number }) => number === 12));
  expect(rounds.map(({ number }) => number)).not.toContain(5);
  await page.keyboard.press("Home");
  for (let i = 0; i < 4; i++) await page.keyboard.press("ArrowRight");
  await expect(look).toContainText("Frame 5 has no file.");
});

test("frames of other depths and channels among the others are shown as they are; one of another kind says so", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK110", { frames: "1-5" });
  await layNumbered(shot.folder, "LK110", [1]);
  const place = (frame: number): string => path.join(shot.folder, frameFile("LK110", frame));
  const picture = (number: number) => sharp(numberedPicture(number, width, height));
  await fs.writeFile(place(2), await picture(2).toColourspace("rgb16").png().toBuffer());
  await fs.writeFile(place(3), await picture(3).toColourspace("b-w").png().toBuffer());
  await fs.writeFile(place(4), await picture(4).ensureAlpha().png({ palette: true }).toBuffer());
  await fs.writeFile(place(5), await picture(5).jpeg().toBuffer());
  await page.goto(`${on.address}/p/test-film/shots/LK110?bench=check`);
  await expect(sentence(page)).toContainText("flagged");
  await page.keyboard.press("v");
  const look = page.getByTestId("look");
  for (const number of [1, 2, 3, 4]) {
    await expect(look.getByTestId("look-frame")).toHaveText(String(number));
    await seeNumber(page, number);
    await page.keyboard.press("ArrowRight");
  }
  await expect(look).toContainText("The file of frame 5 cannot be shown.");
  await page.keyboard.press("l");
  await expect(look.getByTestId("play-state")).toContainText("dropped");
  await page.keyboard.press("k");
});

test("a shot without a frame and one with a single one: nothing breaks, and it says what there is", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK050", { frames: "7" });
  await page.goto(`${on.address}/p/test-film/shots/LK050?bench=run`);
  await expect(sentence(page)).toHaveText("0 of 1 good, 1 missing.");
  await page.keyboard.press("v");
  const look = page.getByTestId("look");
  await expect(look).toContainText("Frame 7 has no file.");
  await page.keyboard.press("l");
  await page.keyboard.press("k");
  await layNumbered(shot.folder, "LK050", [7]);
  await expect(look.locator("canvas[role=img]")).toHaveAttribute("data-shown", "true");
  await page.keyboard.press("l");
  await expect(look.getByTestId("play-state")).toContainText("none dropped");
  await page.keyboard.press("k");
  await expect(look.getByTestId("look-frame")).toHaveText("7");
});

test("the edit plays as one: its shots in its order, with what it uses of them; holes and missing frames are told", async ({
  page,
}) => {
  const one = await on.stage.addShot("LK080", { frames: "1-8" });
  const two = await on.stage.addShot("LK090", { frames: "1-8" });
  await layNumbered(one.folder, "LK080", range(1, 8));
  // 4 is missing, and is in the cut.
  await layNumbered(two.folder, "LK090", [1, 2, 3, 5, 6, 7, 8]);
  for (const [code, all] of [
    ["LK080", "All 8 good."],
    ["LK090", "7 of 8 good"],
  ] as const) {
    await page.goto(`${on.address}/p/test-film/shots/${code}?bench=check`);
    await expect(sentence(page)).toContainText(all);
  }
  // Five frames of one, two of nothing, four of the other.
  const answer = await page.request.post(`${on.address}/api/projects/test-film/edits`, {
    data: {
      name: "cut.edl",
      text: [
        "TITLE: SMALL CUT",
        "FCM: NON-DROP FRAME",
        "",
        "001  LK080  V  C  00:00:00:03 00:00:00:08 01:00:00:00 01:00:00:05",
        "002  LK090  V  C  00:00:00:02 00:00:00:06 01:00:00:07 01:00:00:11",
        "",
      ].join("\n"),
    },
  });
  expect(await answer.json()).toMatchObject({ matched: 2, shots: 2 });
  await page.goto(`${on.address}/p/test-film`);
  await page.getByRole("link", { name: "Play the edit" }).click();
  const look = page.getByTestId("look");
  await expect(look.getByTestId("play-state")).toContainText("1 of 11 · 8 of 8 in memory");
  await expect(look.getByTestId("edit-frame")).toHaveText("LK080 3");
  await expect(look.getByTestId("stretch")).toHaveText(["LK080", "hole", "LK090"]);
  // Round and round: 3 to 7, the hole, 2 and 3, the gap of 4, and 5. A busy machine drops one now and then, and not the
  // same one each time.
  const round = new Set([3, 4, 5, 6, 7, 2]);
  const seen = new Set<number>();
  while (seen.size < round.size) for (const { number } of await playAndSee(page, "l", 16)) seen.add(number);
  expect(seen).toEqual(round);
  await page.keyboard.press("Home");
  for (let i = 0; i < 5; i++) await page.keyboard.press("ArrowRight");
  await expect(look).toContainText("Nothing is here in the edit.");
  await page.keyboard.press("End");
  await page.keyboard.press("ArrowLeft");
  await expect(look).toContainText("LK090 4 is missing.");
  // Offered is what does something here: clips have no neighbours that would shine through.
  await look.getByRole("button", { name: /^Seeing/ }).click();
  await look.getByText("Facts on the picture").click();
  await expect(look.getByTestId("facts-on-picture")).toContainText("LK090 4");
  await expect(look.getByText("Neighbours shine through")).toHaveCount(0);
  await page.keyboard.press("Escape");
  await expect(page.getByRole("link", { name: "Play the edit" })).toBeVisible();
});
