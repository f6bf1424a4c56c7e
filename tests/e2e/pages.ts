/** What the stories do again and again on the pages. */
import { expect, type Locator, type Page } from "./alive";

export const cell = (page: Page, frame: number): Locator =>
  page.locator(`[role=gridcell][data-frame="${frame}"]`);

export const sentence = (page: Page): Locator => page.getByTestId("sentence");

export async function openBench(
  page: Page,
  name: "Plan" | "Prove" | "Run" | "Check" | "Patch",
): Promise<void> {
  await page.getByRole("tab", { name, exact: true }).click();
  await expect(page.getByRole("tab", { name, exact: true })).toHaveAttribute("aria-selected", "true");
}

/** Opens a group of the plan. */
export async function openGroup(page: Page, name: string): Promise<void> {
  const tab = page
    .getByRole("tablist", { name: "Groups of the plan" })
    .getByRole("tab", { name: new RegExp(`^${name}`) });
  await tab.click();
  await expect(tab).toHaveAttribute("aria-selected", "true");
}

/**
 * Starts a run of so many frames. Plans of the tests are small and grainy, so that the preflight always has
 * something to ask.
 */
export async function startRun(
  page: Page,
  frames: string,
  verb: "Render" | "Hand out" = "Render",
): Promise<void> {
  await page
    .getByRole("button", { name: `${verb} ${frames}`, exact: true })
    .filter({ visible: true })
    .click();
  await page
    .getByRole("button", { name: `${verb} ${frames} all the same` })
    .filter({ visible: true })
    .click();
}

/** Clicks the middle of a frame's stroke on a band that shows all of `frames`. */
export async function clickStroke(
  page: Page,
  frame: number,
  first: number,
  count: number,
  modifiers: ("Shift" | "Control")[] = [],
): Promise<void> {
  const canvas = page.getByRole("grid", { name: "Tally band" }).locator("canvas");
  const box = (await canvas.boundingBox())!;
  const gaps = Math.floor((count - 1) / 10);
  const pitch = box.width / (count + gaps * 0.9);
  const i = frame - first;
  await canvas.click({ position: { x: (i + Math.floor(i / 10) * 0.9 + 0.5) * pitch, y: 50 }, modifiers });
}

export const results = (page: Page): Promise<Record<string, number>> =>
  page.locator("[role=gridcell]").evaluateAll((cells) => {
    const counts: Record<string, number> = {};
    for (const c of cells)
      counts[(c as HTMLElement).dataset.result!] = (counts[(c as HTMLElement).dataset.result!] ?? 0) + 1;
    return counts;
  });
