/**
 * Pages come with their data before they hear anything: a test, like a person, acts once they do. Whatever a
 * story is about, nothing in it may be stopped by the pages' own content policy, and no chart may complain of its
 * size.
 */
import { expect, test as plain } from "@playwright/test";

export { expect, type Locator, type Page } from "@playwright/test";

export const test = plain.extend({
  page: async ({ page }, give) => {
    const goto = page.goto.bind(page);
    page.goto = async (...args) => {
      const response = await goto(...args);
      await page.locator("html[data-alive]").waitFor({ state: "attached" });
      return response;
    };
    const said: string[] = [];
    page.on("console", (message) => {
      if (/content security policy|of chart/i.test(message.text())) said.push(message.text());
    });
    await give(page);
    expect(said).toEqual([]);
  },
});
