/** A folder of the person's own computer, checked by the browser alone: the same report as the command line's. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { expect, test } from "./alive";
import { onStage } from "./on-stage";

const on = onStage();
const FILES = 2_000;

interface Report {
  readonly scan: {
    readonly sequences: readonly { readonly folder: string; readonly name: string }[];
    readonly others: readonly string[];
  };
  readonly check: readonly { readonly path: string; readonly verdict: string }[];
}

test("2,000 files are listed and judged without a byte sent, as scan and check print it", async ({
  page,
}) => {
  const folder = path.join(on.stage.root, "own/TK030");
  await fs.mkdir(path.join(folder, "depth"), { recursive: true });
  const noise = { type: "gaussian", mean: 90, sigma: 30 } as const;
  const create = { width: 64, height: 36, channels: 3, background: "black", noise } as const;
  const png = await sharp({ create }).png().toBuffer();
  const tiff = await sharp({ create }).tiff({ compression: "deflate" }).toBuffer();
  for (let i = 1; i <= FILES / 2; i++) {
    const number = String(i).padStart(4, "0");
    if (i !== 40) await fs.writeFile(path.join(folder, `quay.${number}.png`), png);
    await fs.writeFile(path.join(folder, "depth", `quay_z.${number}.tif`), tiff);
  }
  await fs.truncate(path.join(folder, "quay.0077.png"), Math.floor(png.length / 2));
  const flipped = Buffer.from(png);
  flipped[200] = flipped[200]! ^ 1;
  await fs.writeFile(path.join(folder, "quay.0300.png"), flipped);
  await fs.writeFile(path.join(folder, "notes.txt"), "dark");

  const sent: string[] = [];
  page.on("request", (request) => request.method() !== "GET" && sent.push(request.url()));
  await page.goto(`${on.address}/check-folder`);
  await page.getByLabel("A folder to check").setInputFiles(folder);
  const sentence = page.getByTestId("folder-sentence");
  await expect(sentence).toContainText("2 sequences, 1,999 of 1,999 pictures looked at");
  await expect(sentence).toContainText("2 damaged");
  const lines = page.getByTestId("checked-sequence");
  await expect(lines.filter({ hasText: "quay.####.png" })).toContainText(
    "997 of 1,000 good, 2 flagged, 1 missing.",
  );
  await expect(lines.filter({ hasText: "quay_z" })).toContainText("All 1,000 good.");
  await expect(page.getByText(/cut short: \d+ % of the picture is there|cut short/).first()).toBeVisible();

  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save the report" }).click();
  const report = JSON.parse(await fs.readFile(await (await download).path(), "utf8")) as Report;
  // In the browser paths begin with the folder's own name.
  const [scan, check] = [
    await on.stage.cli("scan", path.dirname(folder), "--below", "--json"),
    await on.stage.cli("check", folder, "--json"),
  ];
  const scanned = JSON.parse(scan.stdout) as Report["scan"];
  expect(report.scan.sequences).toEqual(scanned.sequences);
  expect(report.scan.others).toEqual(scanned.others);
  const byPath = (files: Report["check"]) => [...files].sort((a, b) => (a.path < b.path ? -1 : 1));
  expect(byPath(report.check)).toEqual(
    byPath(
      (JSON.parse(check.stdout) as Report["check"]).map((file) => ({
        ...file,
        path: path.relative(path.dirname(folder), file.path),
      })),
    ),
  );
  expect(sent).toEqual([]);
});

test("a folder without pictures says so, and another one can be checked after it", async ({ page }) => {
  const empty = path.join(on.stage.root, "own/empty");
  await fs.mkdir(empty, { recursive: true });
  await fs.writeFile(path.join(empty, "notes.txt"), "x");
  await page.goto(`${on.address}/check-folder`);
  await page.getByLabel("A folder to check").setInputFiles(empty);
  await expect(page.getByText("There are no numbered pictures in it")).toBeVisible();
  const one = path.join(on.stage.root, "own/one");
  await fs.mkdir(one);
  await fs.writeFile(path.join(one, "a.0001.png"), "no picture");
  await page.getByLabel("A folder to check").setInputFiles(one);
  await expect(page.getByTestId("folder-sentence")).toContainText("1 sequence, 1 of 1 pictures looked at");
  await expect(page.getByTestId("folder-sentence")).toContainText("1 damaged");
});
