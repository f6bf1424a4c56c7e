/** What the stories of the viewer do again and again. */
import { changesOf, watchCanvas } from "../support/numbered-pictures";
import { PLAN } from "../support/plan";
import { expect, type Locator, type Page } from "./alive";
import type { OnStage } from "./on-stage";
import { sentence } from "./pages";

export const range = (first: number, last: number): number[] =>
  Array.from({ length: last - first + 1 }, (_, i) => first + i);

/** Opens Look on a shot, and waits until every picture is in memory. */
export async function openLook(
  page: Page,
  on: OnStage,
  code: string,
  said: string,
  inMemory: number,
): Promise<Locator> {
  await page.goto(`${on.address}/p/test-film/shots/${code}?bench=run`);
  await expect(sentence(page)).toHaveText(said);
  await page.keyboard.press("v");
  const look = page.getByTestId("look");
  await expect(look.getByTestId("play-state")).toContainText(`${inMemory} of ${inMemory} in memory`);
  return look;
}

/** Plays until so many changes were seen. */
export async function playAndSee(page: Page, key: string, changes: number) {
  await watchCanvas(page, PLAN);
  await page.keyboard.press(key);
  await page.waitForFunction(
    (most) => window.seen.filter((one, i) => one.number !== window.seen[i - 1]?.number).length > most,
    changes,
  );
  const seen = changesOf(await page.evaluate(() => window.stopSeeing()));
  await page.keyboard.press("k");
  return seen;
}

/** Until the picture on show is the one with this number. */
export async function seeNumber(page: Page, number: number): Promise<void> {
  await watchCanvas(page, PLAN);
  await page.waitForFunction((wanted) => window.seen.at(-1)?.number === wanted, number);
  await page.evaluate(() => window.stopSeeing());
}

/** Part of the height: below the middle, where numbered pictures are grey. */
export const MIDDLE = 0.55;

/** Red, green and blue near the middle of what is shown. */
export const middleColour = (page: Page): Promise<number[]> =>
  page.evaluate((down) => {
    const shown = document.querySelector<HTMLCanvasElement>('[data-testid="look"] canvas[role=img]')!;
    const eye = document.createElement("canvas");
    eye.width = eye.height = 1;
    const context = eye.getContext("2d")!;
    context.drawImage(shown, shown.width >> 1, Math.floor(shown.height * down), 1, 1, 0, 0, 1, 1);
    return [...context.getImageData(0, 0, 1, 1).data.slice(0, 3)];
  }, MIDDLE);
