/** How tests, benchmarks and screenshots start Debian's browser: without a window, in software, and calling nobody. */
export const LAUNCH = {
  executablePath: "/usr/bin/chromium",
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
  ],
};
