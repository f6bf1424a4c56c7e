import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "var/test/e2e",
  timeout: 180_000,
  expect: { timeout: 60_000 },
  // Two cores: one story at a time.
  workers: 1,
  retries: 0,
  reporter: [["list"], ["json"]],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 45_000,
    trace: "off",
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"],
    },
  },
});
