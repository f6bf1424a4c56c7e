/** The viewer's shader against its reference, in the real browser. */
import path from "node:path";
import { expect, test } from "@playwright/test";
import { build } from "esbuild";

test("what the shader paints is what the reference computes, within 1 of 255: curves, exposure, channels, alpha, wipe, difference", async ({
  page,
}) => {
  const home = path.resolve(__dirname, "../..");
  const { outputFiles } = await build({
    entryPoints: [path.join(home, "tests/support/shader-page.ts")],
    bundle: true,
    write: false,
    format: "iife",
    target: "es2022",
    tsconfig: path.join(home, "tsconfig.json"),
  });
  await page.goto("about:blank");
  await page.addScriptTag({ content: outputFiles[0]!.text });
  const gaps = await page.evaluate(() => window.shaderGaps);
  expect(Object.keys(gaps).length).toBeGreaterThan(60);
  expect(Object.entries(gaps).filter(([, gap]) => gap > 1)).toEqual([]);
});
