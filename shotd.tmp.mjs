import { chromium } from "@playwright/test";
const [url, out, theme, ...steps] = process.argv.slice(2);
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--enable-unsafe-swiftshader"] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: theme === "dark" ? "dark" : "light" });
page.on("pageerror", (e) => console.log("PAGEERROR", e.message));
page.on("console", (m) => { if (m.type() === "error") console.log("CONSOLE", m.text().slice(0, 300)); });
await page.goto(url, { waitUntil: "domcontentloaded" });
await page.waitForTimeout(3500);
for (const s of steps) {
  const [k, ...r] = s.split("="); const v = r.join("=");
  if (k === "click") await page.locator(v).first().click();
  if (k === "press") await page.keyboard.press(v);
  if (k === "fill") { const [a, b] = v.split("::"); await page.locator(a).first().fill(b); }
  if (k === "select") { const [a, b] = v.split("::"); await page.locator(a).first().selectOption(b); }
  if (k === "wait") await page.waitForTimeout(Number(v));
  await page.waitForTimeout(300);
}
await page.screenshot({ path: out, fullPage: theme === "full" });
await browser.close();
