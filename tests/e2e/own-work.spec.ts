/**
 * From an empty start to one's own shot: nothing is there, a scene is dropped with its texture, and its first
 * frames are rendered. And the other doors, and the demo that goes as it came.
 */
import { expect, type Page, test } from "./alive";
import fs from "node:fs/promises";
import path from "node:path";
import { createProject, removeProject } from "@/server/actions/projects";
import { bringInShots } from "@/server/actions/bring-in-shots";
import { startRun } from "@/server/actions/start-run";
import { stopRun } from "@/server/actions/stop-run";
import { BLANK_WISH } from "@/core/plan/shot-wish";
import { viewShot } from "@/server/views/shot";
import { pool } from "@/server/db/pool";
import { listAllProjects, projectBySlug } from "@/server/store/projects";
import { TEST_SCENE, writeScene } from "../support/scene";
import { openStage } from "../support/stage";
import { onStage } from "./on-stage";
import { openBench, openGroup, sentence, startRun as startOnPage } from "./pages";

const on = onStage(async () => {
  const stage = await openStage();
  // A house that holds nothing.
  await removeProject("test-film");
  return stage;
});

const FILM = {
  slug: "brass-lantern",
  title: "Brass & Lantern",
  rate: { numerator: 24, denominator: 1 },
  root: "frames",
  folder: "brass-lantern",
};
/** The project that the first story made, also where that one failed. */
async function haveFilm(): Promise<void> {
  if ((await projectBySlug(pool(), FILM.slug)) === null) await createProject(FILM);
  await writeScene(path.join(on.stage.root, FILM.folder), TEST_SCENE, "lamp.json");
}

const line = (page: Page, code: string) => page.getByRole("region", { name: `Shot ${code}` });
const follows = (page: Page) => page.getByRole("region", { name: "What follows" });

test("an empty start: a dropped scene with its texture makes project and shot, and its frames are rendered", async ({
  page,
}) => {
  const walk = path.join(on.stage.root, "desk");
  await writeScene(walk, { ...TEST_SCENE, timeLine: { first: 1, last: 3 } }, "lamp.json");
  await page.goto(`${on.address}/`);
  await expect(page.getByRole("heading", { name: "Nothing to tally yet" })).toBeVisible();
  await page.getByLabel("Project", { exact: true }).fill("Brass & Lantern");
  await expect(page.locator("input[name=slug]")).toHaveValue("brass-lantern");

  // Without its texture the scene cannot be planned, and the line says what to drop too.
  await page.getByLabel("Scene files", { exact: true }).setInputFiles(path.join(walk, "scenes/lamp.json"));
  const draft = page.getByRole("region", { name: "New shot LAMP" });
  await expect(draft.getByRole("alert")).toContainText("textures/check.png");
  await page
    .getByLabel("Scene files", { exact: true })
    .setInputFiles([path.join(walk, "scenes/lamp.json"), path.join(walk, "scenes/textures/check.png")]);
  await page.getByRole("button", { name: "Use the one there" }).click();
  await expect(draft.getByRole("alert")).toHaveCount(0);
  await expect(draft).toContainText("3 frames");
  await draft.getByLabel("Title").fill("the lamp");
  await follows(page).getByRole("button", { name: "Make 1 shot" }).click();

  await page.waitForURL(/shots\/LAMP\?bench=prove/);
  await expect(sentence(page)).toHaveText("0 of 3 good, 3 missing.");
  await on.stage.startNode("quay-1");
  await openBench(page, "Plan");
  await openGroup(page, "Size");
  await page.locator("input[name=width]").fill("96");
  await page.locator("input[name=height]").fill("54");
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await openBench(page, "Run");
  await startOnPage(page, "3 frames");
  await expect(sentence(page)).toHaveText("All 3 good.");
  expect(await fs.readdir(path.join(on.stage.root, "brass-lantern/LAMP/v001/main/beauty"))).toHaveLength(3);
});

test("a list shows line by line what comes of it; a shot is renamed, copied, archived, brought back and removed", async ({
  page,
}) => {
  await haveFilm();
  await page.goto(`${on.address}/p/brass-lantern/add`);
  await page
    .getByLabel("A table of shots")
    .fill(
      "code,title,first,last,scene\nBL020,the wick,1,48,scenes/lamp.json\nBL030,the harbour,1,x\nBL040,to come,1,24",
    );
  await page.getByRole("button", { name: "Read this table" }).click();
  await expect(follows(page)).toContainText("2 new, 0 changed, 0 as they are, 1 wrong.");
  await expect(follows(page).getByRole("alert")).toHaveText('Line 3: "x" in the column last is no frame.');
  await page.getByRole("button", { name: "Make 2 shots" }).click();
  await expect(line(page, "BL020")).toContainText("0 of 48 good");

  await page.getByRole("button", { name: "Change BL020" }).click();
  const change = page.getByRole("region", { name: "Change of BL020" });
  await change.getByLabel("Code").fill("BL040");
  await change.getByRole("button", { name: "Save" }).click();
  await expect(change).toContainText("BL040 is there already");
  await change.getByLabel("Code").fill("BL025");
  await change.getByLabel("Last frame").fill("60");
  await expect(change).toContainText("12 frames more to render");
  await change.getByRole("button", { name: "Save" }).click();
  await expect(line(page, "BL025")).toContainText("0 of 60 good");

  await page.getByRole("button", { name: "Change BL025" }).click();
  const again = page.getByRole("region", { name: "Change of BL025" });
  await again.getByLabel("Code").fill("BL026");
  await again.getByRole("button", { name: "Copy as BL026" }).click();
  await expect(line(page, "BL026")).toContainText("0 of 60 good");

  await page.getByRole("button", { name: "Change BL026" }).click();
  await page
    .getByRole("region", { name: "Change of BL026" })
    .getByRole("button", { name: "Archive" })
    .click();
  await expect(line(page, "BL026")).toHaveCount(0);
  await page.getByRole("button", { name: "Bring back BL026" }).click();
  await expect(line(page, "BL026")).toBeVisible();
  await page.getByRole("button", { name: "Change BL026" }).click();
  await page
    .getByRole("region", { name: "Change of BL026" })
    .getByRole("button", { name: "Remove", exact: true })
    .click();
  await page.getByRole("button", { name: "Remove BL026" }).click();
  await expect(line(page, "BL026")).toHaveCount(0);
});

test("a shot in work keeps its code until its run is stopped; what was typed stays", async ({ page }) => {
  await haveFilm();
  await bringInShots(
    FILM.slug,
    [{ ...BLANK_WISH, code: "BL050", scene: "scenes/lamp.json", timeLine: { first: 1, last: 5 } }],
    { isDry: false },
  );
  const { sequence } = await viewShot(`${FILM.slug}/BL050`, { version: null, camera: null, pass: null });
  const { runId } = await startRun({
    ...{ sequenceId: sequence.id, phrase: "all", policy: "fill", scope: "version" },
    nodes: ["nobody-yet"],
  });
  await page.goto(`${on.address}/p/${FILM.slug}`);
  await page.getByRole("button", { name: "Change BL050" }).click();
  const change = page.getByRole("region", { name: "Change of BL050" });
  await change.getByLabel("Code").fill("BL055");
  await change.getByLabel("Title").fill("the lamp goes out");
  await change.getByRole("button", { name: "Save" }).click();
  await expect(change.getByRole("alert")).toHaveText(
    `${FILM.slug}/BL050 is in work: stop run ${runId} first. Nothing was changed.`,
  );
  await stopRun(runId, "now");
  await change.getByRole("button", { name: "Save" }).click();
  await expect(line(page, "BL055")).toContainText("the lamp goes out");
});

test("an edit makes its shots; read twice, the second time says that nothing is new", async ({ page }) => {
  await haveFilm();
  const file = path.join(on.stage.root, "cut.edl");
  await fs.writeFile(
    file,
    "TITLE: CUT\n001 AX V C 00:00:10:00 00:00:12:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: ED010_v001\n",
  );
  await page.goto(`${on.address}/p/brass-lantern/add`);
  await page.getByLabel("An edit file", { exact: true }).setInputFiles(file);
  await expect(follows(page)).toContainText("1 new, 0 changed, 0 as they are, 0 wrong.");
  await expect(follows(page).getByTestId("line-made")).toContainText("232-295");
  await follows(page).getByRole("button", { name: "Make 1 shot" }).click();
  await page.waitForURL(/shots\/ED010/);
  await page.goto(`${on.address}/p/brass-lantern/add`);
  await page.getByLabel("An edit file", { exact: true }).setInputFiles(file);
  await expect(follows(page)).toContainText("0 new, 0 changed, 1 as they are, 0 wrong.");
  await expect(follows(page).getByRole("button", { name: "Change 0 shots" })).toBeDisabled();
});

test("the demo comes with a click and goes with one; a second project is made, renamed and archived", async ({
  page,
}) => {
  for (const { slug } of await listAllProjects(pool())) await removeProject(slug, { stopsRuns: true });
  await page.goto(`${on.address}/`);
  await page.getByRole("button", { name: "Fill it with Harbour Lights" }).click();
  await page.waitForURL(/\/p\/harbour-lights/);
  await expect(line(page, "HL010")).toBeVisible();

  await page.goto(`${on.address}/projects`);
  await page.getByRole("button", { name: "New project" }).click();
  const fields = page.getByRole("region", { name: "A new project" });
  await fields.getByLabel("Project", { exact: true }).fill("Second Film");
  await fields.locator("input[name=folder]").fill("harbour-lights/inside");
  await fields.getByRole("button", { name: "Make the project" }).click();
  await expect(fields).toContainText("each project needs a folder of its own");
  await fields.locator("input[name=folder]").fill("second");
  await fields.getByRole("button", { name: "Make the project" }).click();
  await page.waitForURL(/\/p\/second-film/);
  await expect(page.getByRole("region", { name: "A scene" })).toBeVisible();

  await page.goto(`${on.address}/projects`);
  const second = page.getByRole("region", { name: "Project second-film" });
  await second.getByRole("button", { name: "Archive" }).click();
  await second.getByRole("button", { name: "Bring back" }).click();
  await expect(second.getByRole("link", { name: "Second Film" })).toBeVisible();

  // What plans of new shots begin with: a preset, and a size on top of it; a wrong one stays in its field.
  await second.getByRole("button", { name: "Change" }).click();
  await second.getByLabel("Plans of new shots begin with").selectOption("Moving rough");
  await second.getByLabel("Width").fill("0");
  await second.getByRole("button", { name: "Save" }).click();
  await expect(second).toContainText("The width must be a whole number from 1");
  await second.getByLabel("Width").fill("640");
  await second.getByRole("button", { name: "Save" }).click();
  await expect(second.getByLabel("Width")).toHaveCount(0);
  expect((await projectBySlug(pool(), "second-film"))!.defaults).toMatchObject({ width: 640, samples: 2 });

  const demo = page.getByRole("region", { name: "Project harbour-lights" });
  await demo.getByRole("button", { name: "Remove", exact: true }).click();
  await expect(demo.getByRole("alert")).toContainText("Every file stays");
  await demo.getByRole("button", { name: "Remove Harbour Lights" }).click();
  await expect(demo).toHaveCount(0);
  expect((await fs.readdir(path.join(on.stage.root, "harbour-lights"))).length).toBeGreaterThan(0);
});
