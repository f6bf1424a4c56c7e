import { LAUNCH } from "./scripts/lib/browser.mjs";
import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "var/test/e2e",
  // Facts are waited for, each for five minutes: a machine whose host is busy has taken more than two. Then the
  // story fails.
  timeout: 1_800_000,
  expect: { timeout: 300_000 },
  // Two cores: one story at a time.
  workers: 1,
  retries: 0,
  reporter: [["list"], ["json"]],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 300_000,
    // A trace takes a copy of the page at each step, a twelfth of all the work; where a test fails, run it alone
    // with `--trace retain-on-failure`.
    trace: "off",
    launchOptions: LAUNCH,
  },
});
