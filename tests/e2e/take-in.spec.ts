/** Frames that something else renders, from the ledger's door to the frames that were asked for and came. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { expect, test } from "./alive";
import { onStage } from "./on-stage";

const on = onStage();
const padded = (frame: number): string => String(frame).padStart(4, "0");

/** A picture of one grey and some grain: another one for each shade. */
const picture = (shade: number): Promise<Buffer> =>
  sharp({
    create: {
      ...{ width: 96, height: 54, channels: 3 },
      background: { r: shade, g: shade, b: 120 },
      noise: { type: "gaussian", mean: shade, sigma: 12 },
    },
  })
    .png()
    .toBuffer();

test("a folder is pointed at, taken in, watched, asked for, and complete", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  const folder = path.join(on.stage.root, "from-farm/TK010");
  await fs.mkdir(path.join(folder, "z"), { recursive: true });
  const good = await picture(90);
  const file = (frame: number): string => path.join(folder, `quay.${padded(frame)}.png`);
  for (let frame = 1; frame <= 24; frame++) {
    if (frame !== 11 && frame !== 12) await fs.writeFile(file(frame), good);
    await fs.writeFile(path.join(folder, "z", `quay_z.${padded(frame)}.png`), good);
  }
  await fs.copyFile(file(7), path.join(folder, "quay.007.png"));
  await fs.writeFile(path.join(folder, "notes.txt"), "dark");

  // From the ledger's door, by its path.
  await page.goto(`${on.address}/p/test-film/add`);
  const door = page.getByRole("region", { name: "A folder of frames" });
  await door.getByLabel("Path of a folder of frames").fill(folder);
  await door.getByRole("button", { name: "Look", exact: true }).click();
  await expect(page.getByText("2 sequences, 46 frames,")).toBeVisible();
  const lines = page.getByTestId("found-sequence");
  await expect(lines.first()).toContainText(
    "2 missing: 11-12; numbers of 3 and 4 digits; 1 frame there twice",
  );
  await expect(page.getByText("Other files: notes.txt")).toBeVisible();
  await expect(page.getByLabel("Pass of z/quay_z.####.png")).toHaveValue("depth");
  // Two cannot be one.
  await page.getByLabel("Pass of z/quay_z.####.png").selectOption("beauty");
  await expect(page.getByText("Another one is main beauty already")).toBeVisible();
  const take = page.getByRole("button", { name: "Take in 46 frames" });
  await expect(take).toBeDisabled();
  await page.getByLabel("Pass of z/quay_z.####.png").selectOption("depth");
  await expect(page.getByLabel("As the shot")).toHaveValue("TK010");
  await take.click();

  await expect(page).toHaveURL(/shots\/TK010/);
  const sentence = page.getByTestId("sentence");
  await expect(sentence).toHaveText("22 of 24 good, 2 missing.");
  await expect(page.getByRole("button", { name: "Discard…" })).toHaveCount(0);

  // Somebody out there takes one on, and another one comes.
  await fs.writeFile(file(11), "");
  await expect(page.getByTestId("arrivals")).toContainText("11 claimed elsewhere since");
  await expect(sentence).toHaveText("22 of 24 good, 2 missing. 1 rendering.");
  await fs.writeFile(file(12), good);
  await expect(sentence).toHaveText("23 of 24 good, 1 missing. 1 rendering.");
  await fs.writeFile(file(11), good);
  await expect(sentence).toHaveText("All 24 good.");

  // A person rejects two, and asks for exactly those.
  const phrase = page.getByLabel("Frame phrase");
  await phrase.fill("5,9");
  await page.getByRole("button", { name: "Flag", exact: true }).click();
  await page.getByLabel("Reason").fill("too dark");
  await page.keyboard.press("Enter");
  await expect(sentence).toHaveText("22 of 24 good, 2 flagged.");
  await page.getByRole("tab", { name: "Patch" }).click();
  const asked = page.getByTestId("ask");
  await expect(asked.filter({ hasText: "Phrase" })).toContainText("5,9");
  await page.getByRole("button", { name: "Copy: Phrase" }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe("5,9");
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save 2 frames as a text to send" }).click();
  const text = await fs.readFile(await (await download).path(), "utf8");
  expect(text).toContain(`into:       ${folder}`);

  // What their log says of them.
  await page.getByRole("tab", { name: "Check" }).click();
  const log = [
    "[quay-1] frame 5 done 0:41",
    "[mole-1] frame 9 done 0:44",
    "Warning: frame 9: no texture",
    "noise",
  ];
  await page
    .getByTestId("log-pane")
    .getByLabel("A log")
    .setInputFiles({ name: "farm.log", mimeType: "text/plain", buffer: Buffer.from(log.join("\n")) });
  await expect(page.getByLabel("First lines of the log").locator("mark[title=node]")).toHaveText([
    "quay-1",
    "mole-1",
  ]);
  await page.getByLabel("A pattern of one's own").fill("(?P<frame>\\d+");
  await expect(page.getByText("The pattern cannot be read")).toBeVisible();
  await page.getByLabel("A pattern of one's own").fill("");
  await page.getByRole("button", { name: "Read all of it" }).click();
  await expect(page.getByTestId("log-read")).toContainText(
    "4 lines, 3 of them of 2 frames; quay-1 made 1, mole-1 made 1",
  );
  await page.getByRole("button", { name: "Fill in 2 frames" }).click();
  await expect(page.getByTestId("log-noted")).toHaveText("2 frames filled in.");
  await expect(page.getByLabel("What the log said")).toContainText("no texture");

  // They are rendered anew out there: good, with what was before at small size.
  const other = await picture(180);
  for (const frame of [5, 9]) await fs.writeFile(file(frame), other);
  await expect(sentence).toHaveText("All 24 good.");
  await phrase.fill("5");
  await page.getByRole("button", { name: "Look", exact: true }).click();
  await expect(page.getByTestId("frame-change")).toContainText("cannot be brought back");
});

test("the tree leads to a folder; what is known is told; what cannot be looked at says why", async ({
  page,
}) => {
  const folder = path.join(on.stage.root, "deep/er/TK020");
  await fs.mkdir(folder, { recursive: true });
  const good = await picture(60);
  for (let frame = 1; frame <= 3; frame++)
    await fs.writeFile(path.join(folder, `a_${padded(frame)}.png`), good);
  await page.goto(`${on.address}/p/test-film/take-in`);
  await page.getByLabel("Find a folder").fill("er tk020");
  await page.getByTestId("folder-line").getByRole("button", { name: "deep/er/TK020" }).click();
  await expect(page.getByText("1 sequence, 3 frames,")).toBeVisible();
  await page.getByRole("button", { name: "Take in 3 frames" }).click();
  await expect(page).toHaveURL(/shots\/TK020/);

  await page.goto(`${on.address}/p/test-film/take-in`);
  const look = async (at: string): Promise<void> => {
    await page.getByLabel("Path of a folder").fill(at);
    await page.getByRole("button", { name: "Look", exact: true }).click();
  };
  await look(folder);
  await expect(page.getByText("In the tally already, as test-film/TK020 v001 main beauty.")).toBeVisible();
  await expect(page.getByRole("button", { name: /^Take in \d/ })).toHaveCount(0);
  await look("/etc");
  await expect(page.getByRole("alert").filter({ hasText: "root add NAME /etc" })).toBeVisible();
  await look("/no/such/folder");
  await expect(
    page.getByRole("alert").filter({ hasText: "There is no folder /no/such/folder" }),
  ).toBeVisible();
});
