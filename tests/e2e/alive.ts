/** Pages come with their data before they hear anything: a test, like a person, acts once they do. */
import { test as plain } from "@playwright/test";

export { expect, type Locator, type Page } from "@playwright/test";

export const test = plain.extend({
  page: async ({ page }, give) => {
    const goto = page.goto.bind(page);
    page.goto = async (...args) => {
      const response = await goto(...args);
      await page.locator("html[data-alive]").waitFor({ state: "attached" });
      return response;
    };
    await give(page);
  },
});
