import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "var/test/e2e",
  // Facts are waited for; how long a busy machine may take to make them true is far above what it takes alone.
  timeout: 900_000,
  expect: { timeout: 240_000 },
  // Two cores: one story at a time.
  workers: 1,
  retries: 0,
  reporter: [["list"], ["json"]],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 180_000,
    trace: "off",
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
      ],
    },
  },
});
