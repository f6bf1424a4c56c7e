/** What is done with pictures in Look, beside playing them: compared, measured, kept, heard, seen in other ways. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { openVersion } from "@/server/actions/save-plan";
import { frameFile, layNumbered, numberedPicture, watchCanvas } from "../support/numbered-pictures";
import { PLAN } from "../support/plan";
import { wavFile } from "../support/sound";
import { expect, type Page, test } from "./alive";
import { MIDDLE, middleColour, openLook, range, seeNumber } from "./look-stage";
import { onStage } from "./on-stage";
import { sentence } from "./pages";

const on = onStage();
const { width, height } = PLAN;

test("two versions beside one another, with a wipe, and their difference; passes of both play in step", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK060", { frames: "1-3" });
  await layNumbered(shot.folder, "LK060", [1, 2, 3]);
  const next = path.join(path.dirname(path.dirname(path.dirname(shot.folder))), "v002/main/beauty");
  await openVersion("test-film/LK060", { ...PLAN, frames: "1-3" });
  // The second version differs in every square of its second frame.
  await fs.mkdir(next, { recursive: true });
  for (const [frame, number] of [
    [1, 1],
    [2, 1021],
    [3, 3],
  ] as const)
    await fs.writeFile(path.join(next, frameFile("LK060", frame)), numberedPicture(number, width, height));
  await page.goto(`${on.address}/p/test-film/shots/LK060?version=v001&bench=check`);
  await expect(sentence(page)).toHaveText("All 3 good.");
  await page.keyboard.press("v");
  const look = page.getByTestId("look");
  await page.keyboard.press("ArrowRight");
  await look.getByRole("button", { name: /^Comparing/ }).click();
  await look.getByLabel("Compared with", { exact: true }).selectOption("v002/main/beauty");
  await look.getByLabel("How they are compared").selectOption("difference");
  // 2 against 1021: every bit but none is the same.
  await watchCanvas(page, { width, height });
  await page.waitForFunction(() => window.seen.at(-1)?.number === 1023);
  await look.getByLabel("How they are compared").selectOption("wipe");
  // The left half is of the first, the right half of the second: 2 in the low five bits, 1021 in the others.
  await page.waitForFunction(() => window.seen.at(-1)?.number === ((2 & 31) | (1021 & ~31)));
  await page.evaluate(() => window.stopSeeing());
  await look.getByLabel("How they are compared").selectOption("beside");
  await expect(look.getByTestId("layer-label")).toHaveText(["v001 beauty", "v002 beauty"]);
  // One of them is kept, with the reason.
  await look.getByRole("button", { name: "Keep v002…" }).click();
  await look.getByLabel("Why it is kept").fill("the swell is calmer");
  await look.getByLabel("Why it is kept").press("Enter");
  await expect(look.getByRole("group", { name: "Which version is kept" })).toContainText(
    /v002 chosen .*: the swell is calmer/,
  );
  await expect(look.getByTestId("picture-size")).toContainText(`${width} x ${height}`);
});

test("a rectangle is drawn, measured, and flagged with a note: a finding with its place", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LK070", { frames: "1-2" });
  await layNumbered(shot.folder, "LK070", [1, 2]);
  const look = await openLook(page, on, "LK070", "All 2 good.", 2);
  await look.getByRole("button", { name: "Rectangle" }).click();
  const box = (await look.locator("canvas[role=img]").boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x - 60, y + 30);
  await page.mouse.down();
  await page.mouse.move(x + 60, y + 90, { steps: 4 });
  await page.mouse.up();
  // The lower half is one grey: 90 of 255, and no grain.
  await expect(look.getByTestId("region")).toContainText("mean 0.353 0.353 0.353, grain 0.00 %");
  await look.getByRole("button", { name: "Flag it, with a note" }).click();
  await look.getByLabel("Reason").fill("the buoy is cut off");
  await look.getByLabel("Reason").press("Enter");
  await expect(look).toContainText("the buoy is cut off");
  await expect(look.getByTestId("rectangle")).toHaveCount(1);
  // It stays with the frame, and not with the next.
  await page.keyboard.press("ArrowRight");
  await expect(look.getByTestId("rectangle")).toHaveCount(0);
  await page.reload();
  await expect(sentence(page)).toHaveText("1 of 2 good, 1 flagged.");
  await page.keyboard.press("]");
  await page.keyboard.press("v");
  await expect(page.getByTestId("look").getByTestId("rectangle")).toHaveCount(1);
});

test("another shot is compared with, frame by frame of the same number", async ({ page }) => {
  const one = await on.stage.addShot("LT010", { frames: "1-3" });
  const other = await on.stage.addShot("LT020", { frames: "2-4" });
  await layNumbered(one.folder, "LT010", [1, 2, 3]);
  await layNumbered(other.folder, "LT020", [2, 3, 4]);
  await page.goto(`${on.address}/p/test-film/shots/LT020?bench=check`);
  await expect(sentence(page)).toHaveText("All 3 good.");
  const look = await openLook(page, on, "LT010", "All 3 good.", 3);
  await look.getByRole("button", { name: /^Comparing/ }).click();
  await look.getByLabel("Compared with", { exact: true }).selectOption("elsewhere");
  await look.getByLabel("Of which shot").selectOption("LT020");
  await look.getByLabel("What of that shot").selectOption("LT020/v001/main/beauty");
  await look.getByLabel("How they are compared").selectOption("difference");
  await expect(look.getByTestId("layer-label")).toHaveText("v001 beauty − LT020 v001 beauty");
  await page.keyboard.press("ArrowRight");
  await seeNumber(page, 0);
  // Frame 1 is not in the other: beside it there is nothing.
  await look.getByLabel("How they are compared").selectOption("beside");
  await page.keyboard.press("Home");
  await expect(look.getByTestId("look-frame")).toHaveText("1");
  // Versions of another shot are not chosen from here.
  await expect(look.getByRole("button", { name: /^Keep/ })).toHaveCount(0);
});

test("keys: exposure by a third, near and far, the whole of it, between marks, the whole screen", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LT030", { frames: "1-6" });
  await layNumbered(shot.folder, "LT030", range(1, 6));
  const look = await openLook(page, on, "LT030", "All 6 good.", 6);
  await look.getByRole("button", { name: /^Seeing/ }).click();
  const stops = look.getByLabel("Exposure in stops");
  const before = await middleColour(page);
  await page.keyboard.press(".");
  await page.keyboard.press(".");
  await expect(stops).not.toHaveValue("0");
  await expect.poll(async () => (await middleColour(page))[0]!).toBeGreaterThan(before[0]!);
  await page.keyboard.press(",");
  await page.keyboard.press(",");
  await expect(stops).toHaveValue("0");
  await expect.poll(() => middleColour(page)).toEqual(before);

  const size = look.getByTestId("picture-size");
  const fitted = (await size.textContent())!;
  await page.keyboard.press("+");
  await expect(size).not.toHaveText(fitted);
  await page.keyboard.press("-");
  await page.keyboard.press("-");
  await page.keyboard.press("0");
  await expect(size).toHaveText(fitted);

  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("i");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("o");
  await expect(look.getByTestId("play-state")).toContainText("plays 2 to 3");
  await page.keyboard.press("Home");
  await expect(look.getByTestId("look-frame")).toHaveText("2");
  await look.getByRole("button", { name: "Whole" }).click();
  await page.keyboard.press("Home");
  await expect(look.getByTestId("look-frame")).toHaveText("1");

  await page.keyboard.press("w");
  await page.waitForFunction(() => document.fullscreenElement !== null);
  await page.keyboard.press("w");
  await page.waitForFunction(() => document.fullscreenElement === null);
});

/** Saves by the line that is open. @returns name and bytes of what was saved */
async function saved(page: Page): Promise<{ readonly name: string; readonly bytes: Buffer }> {
  const [kept] = await Promise.all([
    page.waitForEvent("download"),
    page.getByTestId("look").getByRole("link", { name: "Save" }).click(),
  ]);
  return { name: kept.suggestedFilename(), bytes: await fs.readFile(await kept.path()) };
}

test("the file is saved as it is, and the picture as it is shown, each under a name of one's own", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LT040", { frames: "1-2" });
  await layNumbered(shot.folder, "LT040", [1, 2]);
  const look = await openLook(page, on, "LT040", "All 2 good.", 2);
  await page.keyboard.press("s");
  await expect(look.getByLabel("Name of the file")).toHaveValue(/LT040.*0001\.png$/);
  const file = await saved(page);
  expect(file.bytes.equals(await fs.readFile(path.join(shot.folder, frameFile("LT040", 1))))).toBe(true);

  await page.keyboard.press(".");
  const shown = await middleColour(page);
  await page.keyboard.press("s");
  await look.getByLabel("What is saved").selectOption("shown");
  await look.getByLabel("Name of the file").fill("brighter.png");
  const picture = await saved(page);
  expect(picture.name).toBe("brighter.png");
  const { data, info } = await sharp(picture.bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const at = (Math.floor(info.height * MIDDLE) * info.width + (info.width >> 1)) * 3;
  expect([...data.subarray(at, at + 3)]).toEqual(shown);
});

test("a strip of small pictures follows, says what is missing, and is gone through by a click", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LT050", { frames: "1-4" });
  await layNumbered(shot.folder, "LT050", [1, 2, 4]);
  const look = await openLook(page, on, "LT050", "3 of 4 good, 1 missing.", 3);
  await look.getByRole("button", { name: /^Strip/ }).click();
  const strip = look.getByRole("group", { name: "Strip of pictures" });
  await expect(strip.getByRole("button")).toHaveText(["1", "2", "3, none", "4"]);
  await strip.getByRole("button", { name: "Go to 4" }).click();
  await expect(look.getByTestId("look-frame")).toHaveText("4");
  await expect(strip.getByRole("button", { name: "Go to 4" })).toHaveAttribute("aria-current", "true");
  await page.keyboard.press("ArrowLeft");
  await expect(strip.getByRole("button", { name: "Go to 3" })).toHaveAttribute("aria-current", "true");
  // The squares of each number, as they lie in its cell.
  const numberIn = (cell: number): Promise<number> =>
    look.getByTestId("strip").evaluate(
      (element, { at, share }) => {
        const shown = element.querySelector("canvas")!;
        const eye = document.createElement("canvas");
        [eye.width, eye.height] = [shown.width, shown.height];
        const context = eye.getContext("2d")!;
        context.drawImage(shown, 0, 0);
        const cellWidth = element.querySelector("button")!.getBoundingClientRect().width;
        // Fitted with some room around: ten squares over the middle of the cell.
        const wide = share * (shown.height - 16);
        let number = 0;
        for (let bit = 0; bit < 10; bit++) {
          const x = at * cellWidth + cellWidth / 2 - wide / 2 + ((bit + 0.5) * wide) / 10;
          if (context.getImageData(Math.round(x), Math.round(shown.height * 0.3), 1, 1).data[0]! > 128)
            number |= 1 << bit;
        }
        return number;
      },
      { at: cell, share: width / height },
    );
  for (const [cell, number] of [1, 2, 0, 4].entries())
    if (number > 0) await expect.poll(() => numberIn(cell)).toBe(number);
});

test("transparent frames stand before a picture of one's own; a file that is none is told", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LT060", { frames: "1", alpha: "straight" });
  await fs.mkdir(shot.folder, { recursive: true });
  const half = Buffer.alloc(width * height * 4).fill(Buffer.from([255, 0, 0, 0]));
  await sharp(half, { raw: { width, height, channels: 4 } })
    .png()
    .toFile(path.join(shot.folder, frameFile("LT060", 1)));
  const look = await openLook(page, on, "LT060", "All 1 good.", 1);
  await look.getByRole("button", { name: /^Seeing/ }).click();
  await look.getByLabel("Background").selectOption("picture");
  const choose = look.getByLabel("Picture of the background");
  await choose.setInputFiles({ name: "sky.png", mimeType: "image/png", buffer: Buffer.from("no picture") });
  await expect(look.getByRole("alert")).toHaveText("sky.png is no picture that this browser can read.");
  const sky = await sharp({ create: { width: 60, height: 20, channels: 3, background: "#2468ac" } })
    .png()
    .toBuffer();
  await choose.setInputFiles({ name: "sky.png", mimeType: "image/png", buffer: sky });
  await expect(look.getByRole("alert")).toHaveCount(0);
  await expect.poll(() => middleColour(page)).toEqual([0x24, 0x68, 0xac]);
  const box = (await look.locator("canvas[role=img]").boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await expect(look.getByTestId("pixel-values")).toContainText("holds 255 0 0 0, shown as 36 104 172");
});

test("on a phone: two fingers enlarge, a button makes it fit again, it plays, and what folds out stays inside the window", async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const shot = await on.stage.addShot("LT080", { frames: "1-6" });
  await layNumbered(shot.folder, "LT080", range(1, 6));
  const look = await openLook(page, on, "LT080", "All 6 good.", 6);
  const size = look.getByTestId("picture-size");
  const fitted = (await size.textContent())!;
  const canvas = look.locator("canvas[role=img]");
  const box = (await canvas.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const touch = await page.context().newCDPSession(page);
  const fingers = (type: "touchStart" | "touchMove" | "touchEnd", apart: number) =>
    touch.send("Input.dispatchTouchEvent", {
      type,
      touchPoints: type === "touchEnd" ? [] : [-apart, apart].map((by, id) => ({ x: x + by, y, id })),
    });
  await fingers("touchStart", 20);
  await fingers("touchMove", 60);
  await fingers("touchEnd", 0);
  await expect(size).not.toHaveText(fitted);
  await look.getByRole("button", { name: "Fit", exact: true }).click();
  await expect(size).toHaveText(fitted);
  await look.getByRole("button", { name: "Play", exact: true }).click();
  await expect(look.getByRole("button", { name: "Stop", exact: true })).toBeVisible();
  await expect(look.getByTestId("play-state")).toContainText("dropped");
  await look.getByRole("button", { name: "Stop", exact: true }).click();
  for (const fold of ["Playing", "Seeing", "Comparing", "Strip"])
    await look.getByRole("button", { name: new RegExp(`^${fold}`) }).click();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect((await canvas.boundingBox())!.height).toBeGreaterThan(100);
});

interface Begun {
  readonly at: number;
  readonly offset: number;
  readonly length: number | null;
  /** Number of the picture on show. */
  readonly frame: number;
}

test("the sound of the shot goes with the pictures, begins anew with the loop, and is heard at a step; a sound that is none is told", async ({
  page,
}) => {
  const shot = await on.stage.addShot("LT070", { frames: "1-24" });
  await layNumbered(shot.folder, "LT070", range(1, 24));
  const sounds = path.join(on.stage.projectFolder, "scenes/sound");
  await fs.mkdir(sounds, { recursive: true });
  await fs.writeFile(path.join(sounds, "bell.wav"), wavFile(3, [0.5]));
  await fs.writeFile(path.join(sounds, "none.wav"), "this is no sound");
  const give = (file: string) =>
    page.request.patch(`${on.address}/api/projects/test-film/shots/LT070`, {
      data: { sound: { path: `scenes/sound/${file}`, offset: 0.25 } },
    });
  expect((await give("none.wav")).ok()).toBe(true);
  let look = await openLook(page, on, "LT070", "All 24 good.", 24);
  await expect(look).toContainText("The sound is not heard: this browser cannot read such a file.");
  await page.keyboard.press("l");
  await expect(look.getByTestId("play-state")).toContainText("dropped");
  await page.keyboard.press("k");

  expect((await give("bell.wav")).ok()).toBe(true);
  await page.addInitScript(() => {
    const begun: Begun[] = [];
    const start = AudioBufferSourceNode.prototype.start;
    AudioBufferSourceNode.prototype.start = function (when = 0, offset = 0, length) {
      const frame = Number(document.querySelector('[data-testid="look-frame"]')?.textContent);
      begun.push({ at: performance.now(), offset, length: length ?? null, frame });
      if (length === undefined) start.call(this, when, offset);
      else start.call(this, when, offset, length);
    };
    Object.assign(window, { begun });
  });
  const heard = (): Promise<Begun[]> => page.evaluate(() => (window as unknown as { begun: Begun[] }).begun);
  look = await openLook(page, on, "LT070", "All 24 good.", 24);
  await expect(look).not.toContainText("not heard");
  // Frame 13 is half a second on, and the sound begins a quarter of a second late: a frame's time of it.
  for (let i = 0; i < 12; i++) await page.keyboard.press("ArrowRight");
  await expect(look.getByTestId("look-frame")).toHaveText("13");
  await expect.poll(async () => (await heard()).length).toBe(12);
  const step = (await heard()).at(-1)!;
  expect(step.offset).toBeCloseTo(0.25, 6);
  expect(step.length).toBeCloseTo(0.06, 6);

  await page.keyboard.press("Home");
  const steps = (await heard()).length;
  await page.keyboard.press("l");
  // Twice round: a second each.
  await expect.poll(async () => (await heard()).length - steps).toBeGreaterThan(2);
  const playing = (await heard()).slice(steps);
  expect(playing.every(({ length }) => length === null)).toBe(true);
  // Where it begins is within the second that the shot lasts, less the quarter by which it is late.
  expect(playing.every(({ offset }) => offset >= 0 && offset < 0.8)).toBe(true);
  await page.keyboard.press("k");
  await look.getByRole("button", { name: /^Playing/ }).click();
  await look.getByText("Sound", { exact: true }).click();
  const silent = (await heard()).length;
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  expect((await heard()).length).toBe(silent);
});
