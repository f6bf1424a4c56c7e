/** A ledger of 500 shots: one sentence for all of them, and the one that is looked for as fast as one types. */
import { expect, type Page, test } from "./alive";
import { flagFrames } from "@/server/actions/flags";
import { makeShot } from "@/server/actions/shots";
import { pool } from "@/server/db/pool";
import { rows, write } from "@/server/db/rows";
import { PLAN } from "../support/plan";
import { onStage } from "./on-stage";

const on = onStage();
const SHOTS = 500;

const lines = (page: Page) => page.getByRole("region", { name: /^Shot / });

test("500 shots: found by code, state and node, put in groups, and counted in one sentence", async ({
  page,
}) => {
  for (let i = 1; i <= SHOTS; i++) {
    const code = `SH${String(i).padStart(3, "0")}`;
    const facts = {
      code,
      title: i === 250 ? "the tide mill" : code,
      firstFrame: 1,
      lastFrame: 4,
      markers: [],
    };
    await makeShot("test-film", facts, { ...PLAN, frames: "1-4", width: 16, height: 9, samples: 1 });
  }
  // Three shots are rendered, as far as the tally knows, and one of them is not as it should be.
  const sequences = await rows<{ id: number; code: string }>(
    pool(),
    "SELECT q.id, s.code FROM sequence q JOIN version v ON v.id = q.version_id JOIN shot s ON s.id = v.shot_id WHERE s.code IN ('SH007', 'SH008', 'SH009') ORDER BY s.code",
  );
  for (const { id } of sequences)
    for (let frame = 1; frame <= 4; frame++)
      await write(
        pool(),
        "INSERT INTO frame_file (sequence_id, frame, name, bytes, modified_ms, content, verdict, node) VALUES (?, ?, ?, 1, 0, REPEAT('a', 64), 'good', 'mole-1')",
        [id, frame, `f.${frame}.png`],
      );
  await flagFrames(sequences[0]!.id, "2-3", "too dark");

  await page.goto(`${on.address}/p/test-film`);
  await expect(page.getByTestId("project-sentence")).toHaveText(
    "2 of 500 shots done, 2 frames to patch in 1 shot, 1,988 frames to render in 497 shots.",
  );
  await expect(lines(page)).toHaveCount(SHOTS);

  await page.keyboard.press("/");
  const find = page.getByLabel("Find shots");
  await expect(find).toBeFocused();
  await page.keyboard.type("tide");
  await expect(lines(page)).toHaveCount(1);
  await expect(lines(page)).toContainText("SH250");
  await expect(page.getByRole("search")).toContainText("1 of 500");
  await find.fill("mole-1 -flagged");
  await expect(lines(page)).toHaveCount(2);
  await find.fill("nothing of the kind");
  await expect(page.getByText("No shot is called so")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(lines(page)).toHaveCount(SHOTS);

  await find.fill("SH00");
  await page.getByText("grouped by what is to be done next").click();
  const groups = page.getByRole("heading", { level: 2 }).filter({ hasNotText: /^Since/ });
  await expect(groups).toHaveText(["To patch 1 shot, 2 frames", "To run 6 shots, 24 frames", "Done 2 shots"]);
  await expect(page.getByRole("region", { name: "To patch" })).toContainText("SH007");

  // Several at once: what is refused for one is done for the others.
  await page.getByRole("button", { name: "Choose several" }).click();
  const several = page.getByRole("toolbar", { name: "What is done to the chosen shots" });
  await page.getByLabel("Choose SH001").check({ force: true });
  await page.getByLabel("Choose SH002").check({ force: true });
  await expect(several).toContainText("2 chosen");
  await several.getByRole("button", { name: "Archive them" }).click();
  await expect(page.getByRole("button", { name: "Bring back SH001" })).toBeVisible();
  await expect(lines(page)).toHaveCount(7);
  await page.getByLabel("Choose SH003").check({ force: true });
  await several.getByRole("button", { name: "Remove them" }).click();
  await page.getByRole("button", { name: "Remove 1 shot" }).click();
  await expect(lines(page)).toHaveCount(6);
});
