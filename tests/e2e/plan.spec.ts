/** Plan: what is decided, and what follows from it before anything is rendered. */
import { expect, test } from "./alive";
import fs from "node:fs/promises";
import { TEST_SCENE, writeScene } from "../support/scene";
import { wavFile } from "../support/sound";
import { onStage } from "./on-stage";
import { openBench, openGroup, sentence } from "./pages";

const on = onStage();

const upload = (name: string, text: string) => ({ name, mimeType: "text/plain", buffer: Buffer.from(text) });

test("cameras are chosen by their pictures; each makes a sequence, and the names must tell them apart", async ({
  page,
}) => {
  await on.stage.addShot("PL010");
  await page.goto(`${on.address}/p/test-film/shots/PL010?bench=plan`);
  const pictures = page.getByRole("img", { name: /^side camera at frame/ });
  await expect(pictures).toHaveCount(3);
  await expect
    .poll(() => pictures.first().evaluate((image: HTMLImageElement) => image.complete && image.naturalWidth))
    .toBe(160);
  await page.getByText("side", { exact: true }).click();
  await expect(page.getByText("the cameras main, side of scenes/test.json")).toBeVisible();
  await expect(page.getByText("Cameras main, side would give files of one name")).toBeVisible();
  await page.getByRole("button", { name: "Put the camera into the name" }).click();
  await expect(page.getByTestId("name-0")).toHaveText("PL010_main.0001.png");
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await page.getByRole("button", { name: "Show side beauty" }).click();
  await expect(page).toHaveURL(/camera=side/);
  await expect(page.getByRole("button", { name: "Show main beauty" })).toBeVisible();
});

test("what does not move any more is trimmed by a click; another rate keeps the duration", async ({
  page,
}) => {
  const [ball, ...rest] = TEST_SCENE.bodies.filter(
    (b) => b.name === undefined && b.material === "ball" && b.shape === "sphere",
  );
  expect([ball !== undefined, rest]).toEqual([true, []]);
  const bodies = TEST_SCENE.bodies.map((b) =>
    b === ball
      ? {
          ...b,
          position: {
            keys: [
              { frame: 1, value: [-2, 1, 0] as const },
              { frame: 12, value: [2, 1, 0] as const },
            ],
          },
        }
      : b,
  );
  await writeScene(on.stage.projectFolder, { ...TEST_SCENE, bodies }, "rests.json");
  await on.stage.addShot("PL020", { scene: "scenes/rests.json", frames: "1-24" });
  await page.goto(`${on.address}/p/test-film/shots/PL020?bench=plan`);
  await openGroup(page, "Frames");
  await expect(page.getByText("Nothing moves after 12; frames 13-24 repeat one picture.")).toBeVisible();
  await page.getByRole("button", { name: "Trim to 12" }).click();
  const frames = page.locator("input[name=frames]");
  await expect(frames).toHaveValue("1-12");
  await page.getByRole("combobox", { name: "Frames a second" }).selectOption("another");
  await page.getByLabel("Another rate").fill("12");
  await expect(frames).toHaveValue(/^1-6$/);
  await expect(page.getByText("the duration stays, times between frames are rendered")).toBeVisible();
  await page.getByLabel("Another rate").fill("0");
  await expect(page.getByText('"0" is no frame rate').first()).toBeVisible();
  await expect(frames).toHaveValue("1-6");
});

test("a change that makes good frames stale says so first; it can be put back, or opens a version", async ({
  page,
}) => {
  await on.stage.addShot("PL030", {
    frames: "1-2",
    passes: ["beauty", "depth"],
    namePattern: "{shot}_{pass}.{frame}",
  });
  await on.stage.startNode("quay-1");
  expect((await on.stage.cli("run", "PL030", "--wait")).code).toBe(0);
  await page.goto(`${on.address}/p/test-film/shots/PL030?bench=plan`);
  await expect(sentence(page)).toHaveText("All 2 good.");
  await expect(page.getByRole("button", { name: "Show main depth" })).toContainText("All 2 good");
  await openGroup(page, "Picture");
  await page.getByLabel("Shading").selectOption("direct");
  await expect(
    page.getByText("2 frames that are good would be out of date; depth is not affected."),
  ).toBeVisible();
  await page.getByRole("button", { name: "Put the change back" }).click();
  await expect(page.getByText("This is revision 1 of v001 as saved")).toBeVisible();
  // More samples are refining, not staleness.
  await openGroup(page, "Quality");
  await page.locator("input[name=samples]").fill("9");
  await expect(page.getByRole("button", { name: "Save as revision 2" })).toBeEnabled();
  await openGroup(page, "Picture");
  await page.getByLabel("Shading").selectOption("direct");
  await page.getByRole("button", { name: "Keep v001, mark them stale" }).click();
  await expect(sentence(page)).toHaveText("0 of 2 good, 2 stale.");
  await expect(page.getByRole("button", { name: "Show main depth" })).toContainText("All 2 good");
  await openGroup(page, "Versions");
  const differences = page.getByRole("table", { name: "What differs" });
  await expect(differences.getByRole("row")).toHaveCount(2);
  await expect(differences).toContainText("shading");
  await expect(differences).toContainText("samples");
});

test("a rough version is quick and apart; making it final puts everything back and says what", async ({
  page,
}) => {
  await on.stage.addShot("PL040", { frames: "1-24", samples: 64 });
  await page.goto(`${on.address}/p/test-film/shots/PL040?bench=plan`);
  await openGroup(page, "Versions");
  await page.getByLabel("Rate of the rough version").selectOption("12");
  await page.getByRole("button", { name: "Open a rough version" }).click();
  await expect(page).toHaveURL(/version=rough001/);
  await expect(sentence(page)).toHaveText("0 of 12 good, 12 missing.");
  // What is decided here, beside the rough settings, goes along.
  await openGroup(page, "Picture");
  await page.locator("input[name=seed]").fill("7");
  await openGroup(page, "Versions");
  await expect(page.getByText(/Goes back to v001: .*shading \(direct to full\)/)).toBeVisible();
  await expect(page.getByText("Taken over from here: seed.")).toBeVisible();
  await page.getByRole("button", { name: "Make it final, in v001" }).click();
  await expect(page).toHaveURL(/version=v001/);
  await expect(sentence(page)).toHaveText("0 of 24 good, 24 missing.");
  await expect(page.getByText("Changed since revision 1: seed.")).toBeVisible();
  // On the home page, what is rough is no work to do.
  await page.goto(`${on.address}/`);
  await expect(page.getByRole("region", { name: "Shot PL040" })).toContainText("0 of 24 good, 24 missing");
});

test("presets are saved, written to a file, renamed, deleted, read back and applied; a broken file says why", async ({
  page,
}) => {
  await on.stage.addShot("PL050");
  await page.goto(`${on.address}/p/test-film/shots/PL050?bench=plan`);
  await openGroup(page, "Presets");
  await page.getByRole("button", { name: "Moving rough" }).click();
  await expect(page.getByText(/Moving rough set .*shading/)).toBeVisible();
  await page.getByLabel("Name of the preset").fill("ours");
  await page.getByRole("button", { name: "Save these settings" }).click();
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Write a file" }).click();
  const file = await fs.readFile((await (await download).path())!, "utf8");
  expect(JSON.parse(file)).toMatchObject({
    format: "plain-tally-preset/1",
    name: "ours",
    settings: { shading: "direct", scale: 50 },
  });
  await page.getByRole("button", { name: "Rename" }).click();
  await page.getByLabel("New name of ours").fill("theirs");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "theirs", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Delete" }).click();
  await expect(page.getByRole("button", { name: "theirs", exact: true })).toBeHidden();
  await page.getByRole("button", { name: "Drop the change" }).click();
  await page.getByLabel("Preset file").setInputFiles(upload("ours.preset.json", file));
  await page.getByRole("button", { name: "ours", exact: true }).click();
  await expect(page.getByText(/^Changed since revision 1: .*shading/)).toBeVisible();
  await page
    .getByLabel("Preset file")
    .setInputFiles(upload("broken.json", '{\n "format": "plain-tally-preset/1",\n "name": }'));
  await expect(page.getByText("Line 3: this is no JSON")).toBeVisible();
  await page
    .getByLabel("Preset file")
    .setInputFiles(
      upload(
        "wrong.json",
        JSON.stringify({ ...(JSON.parse(file) as object), settings: { samples: "many" } }),
      ),
    );
  await expect(page.getByText("/settings/samples: must be a number")).toBeVisible();
});

test("an edit shows what it uses, plans it with handles, and a later one what is new", async ({ page }) => {
  await on.stage.addShot("PL060", { frames: "1-24" });
  await page.goto(`${on.address}/p/test-film/shots/PL060?bench=plan`);
  await openGroup(page, "Frames");
  const field = page.locator("input[type=file][accept^='.edl']");
  await field.setInputFiles(
    upload("cut1.edl", "TITLE: CUT 1\n001 PL060 V C 00:00:00:05 00:00:00:13 01:00:00:00 01:00:00:08\n"),
  );
  await expect(page.getByText("1 clip of 1 shot found.")).toBeVisible();
  await expect(page.getByText("CUT 1")).toBeVisible();
  await page.getByLabel("Handles around the edit").fill("2");
  await page.getByRole("button", { name: "Plan used +" }).click();
  await expect(page.locator("input[name=frames]")).toHaveValue("3-14");
  const clip = {
    OTIO_SCHEMA: "Clip.2",
    name: "PL060",
    source_range: {
      OTIO_SCHEMA: "TimeRange.1",
      start_time: { OTIO_SCHEMA: "RationalTime.1", value: 5, rate: 24 },
      duration: { OTIO_SCHEMA: "RationalTime.1", value: 11, rate: 24 },
    },
  };
  const timeline = {
    OTIO_SCHEMA: "Timeline.1",
    name: "CUT 2",
    tracks: {
      OTIO_SCHEMA: "Stack.1",
      children: [{ OTIO_SCHEMA: "Track.1", kind: "Video", children: [clip] }],
    },
  };
  await field.setInputFiles(upload("cut2.otio", JSON.stringify(timeline)));
  await expect(page.getByText("New in this edit: 13-15, none of it there yet.")).toBeVisible();
  await field.setInputFiles(
    upload("broken.edl", "TITLE: X\n001 PL060 V C 00:00:00:99 00:00:00:13 01:00:00:00 01:00:00:08\n"),
  );
  await expect(
    page.getByText('broken.edl: Line 2: "00:00:00:99" is no time code at 24 frames a second.'),
  ).toBeVisible();
  await expect(page.locator("input[name=frames]")).toHaveValue("3-14");
});

test("a node without the texture stops the start, until it is left out", async ({ page }) => {
  await on.stage.addShot("PL070", { frames: "1-2", samples: 300, width: 64, height: 36 });
  await on.stage.startNode("mole-1", "--unproven", "--hide", "textures/check.png");
  await on.stage.startNode("quay-2");
  await page.goto(`${on.address}/p/test-film/shots/PL070?bench=run`);
  const preflight = page.getByTestId("preflight").filter({ visible: true });
  await expect(preflight).toContainText("mole-1 does not see textures/check.png: its frames would be wrong.");
  const start = page.getByRole("button", { name: "Render 2 frames" }).filter({ visible: true });
  await expect(start).toBeDisabled();
  await preflight.getByRole("button", { name: "Leave mole-1 out" }).click();
  await expect(preflight).not.toContainText("does not see");
  await expect(preflight).toContainText(/quay-2 can write and sees? 2 files with the same bytes/);
  await start.click();
  await expect(sentence(page)).toHaveText("All 2 good.");
  // The server looks again by itself, whatever a page says.
  const id = (
    (await (await page.request.get(`${on.address}/api/projects/test-film/shots/PL070`)).json()) as {
      sequence: { id: number };
    }
  ).sequence.id;
  const refused = await page.request.post(`${on.address}/api/sequences/${id}/runs`, {
    data: { phrase: "all", policy: "all", nodes: ["mole-1"], scope: "version" },
  });
  expect([refused.status(), await refused.json()]).toEqual([
    422,
    { error: expect.objectContaining({ code: "preflight-stops" }) },
  ]);
});

test("a scene that changes while it is being planned is seen, and nothing that was typed is lost", async ({
  page,
}) => {
  await writeScene(on.stage.projectFolder, TEST_SCENE, "changes.json");
  await on.stage.addShot("PL080", { scene: "scenes/changes.json" });
  await page.goto(`${on.address}/p/test-film/shots/PL080?bench=plan`);
  const scene = page.getByRole("group", { name: "Scene" });
  await expect(scene.getByText("side", { exact: true })).toBeVisible();
  await openGroup(page, "Quality");
  await page.locator("input[name=samples]").fill("12");
  await openGroup(page, "Scene");
  await writeScene(
    on.stage.projectFolder,
    { ...TEST_SCENE, cameras: [TEST_SCENE.cameras[1]!] },
    "changes.json",
  );
  await expect(scene.getByRole("img", { name: /^main camera/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Save as revision 2" }).click();
  await expect(page.getByText('The scene has no camera "main"; it has side.').first()).toBeVisible();
  await openGroup(page, "Quality");
  await expect(page.locator("input[name=samples]")).toHaveValue("12");
  await openBench(page, "Run");
  await expect(page.getByTestId("preflight").filter({ visible: true })).toContainText(
    "The scene has no camera main any more; it has side.",
  );
});

test("a stretch is named from the band, saved for the shot, asked for alone, and undone; a table brings others", async ({
  page,
}) => {
  await on.stage.addShot("PM010", { frames: "1-24" });
  await page.goto(`${on.address}/p/test-film/shots/PM010?bench=plan`);
  await openGroup(page, "Frames");
  await page.getByRole("button", { name: /^Change (the )?time line/ }).click();
  const editor = page.getByRole("group", { name: "Time line and stretches" });
  await page.getByLabel("Frame phrase").fill("5-8");
  await editor.getByLabel("Name of a stretch").fill("dusk");
  await editor.getByRole("button", { name: "for 5-8, as selected on the band" }).click();
  const text = editor.getByLabel("Stretches, a line each");
  await expect(text).toHaveValue("start 1-4\ndusk 5-8");
  await editor.getByLabel("Name of a stretch").fill("start");
  await editor.getByRole("button", { name: "moves to 5-8, as selected on the band" }).click();
  await expect(text).toHaveValue("start 5-8\ndusk 5-8");
  await editor.getByRole("button", { name: "Undo" }).click();
  await expect(text).toHaveValue("start 1-4\ndusk 5-8");
  await text.fill("start 1-4\ndusk 5-8\nnoon 9-7");
  await expect(editor.getByRole("alert")).toHaveText(
    "Line 3: The marker noon ends before it begins: 9 to 8.",
  );
  await text.fill("start 1-4\ndusk 5-8");
  await editor.getByLabel("Last frame").fill("30");
  await expect(editor).toContainText("new: dusk; 6 frames more to render, where the plan asks for all");
  await editor.getByRole("button", { name: "Save the stretches" }).click();
  await expect(page.getByText("plan revision 2")).toBeVisible();
  await expect(sentence(page)).toHaveText("0 of 30 good, 30 missing.");
  await page.getByRole("button", { name: "only" }).last().click();
  const asked = page.locator("input[name=frames]");
  await expect(asked).toHaveValue("5-8");
  await asked.fill("marker(dusk), 20");
  await page.getByTestId("meant").getByRole("button", { name: "5-8,20" }).click();
  await expect(asked).toHaveValue("5-8,20");

  await editor.getByLabel("A table of stretches").setInputFiles({
    name: "stretches.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("name,first,last\nlamp,2,3\n"),
  });
  await expect(text).toHaveValue("lamp 2-3");
  await expect(editor).toContainText("new: lamp; gone: start and dusk");
  await editor.getByRole("button", { name: "Undo" }).click();
  await expect(text).toHaveValue("start 1-4\ndusk 5-8");
  await editor.getByRole("button", { name: "Undo" }).click();
  await expect(text).toHaveValue("start 1-4");
  await expect(editor).toContainText("gone: dusk");
});

test("a shot gets its sound from a file: it stands on the band, is moved, and taken away", async ({
  page,
}) => {
  await on.stage.addShot("PS010", { frames: "1-48" });
  await page.goto(`${on.address}/p/test-film/shots/PS010?bench=plan`);
  await openGroup(page, "Frames");
  const sound = page.getByTestId("sound");
  const choose = (name: string, buffer: Buffer) =>
    sound
      .getByLabel("Choose a sound", { exact: true })
      .setInputFiles({ name, mimeType: "audio/wav", buffer });
  await choose("gulls.txt", Buffer.from("no sound"));
  await expect(sound.getByRole("alert")).toContainText("A sound ends in .wav");
  await choose("gulls.wav", wavFile(1.5, [0.5]));
  await expect(sound).toContainText("scenes/sound/gulls.wav");
  await expect(sound).toContainText("1.5 s");
  await expect(page.getByRole("button", { name: /^sound gulls\.wav/ })).toBeVisible();
  const seconds = sound.getByLabel("Seconds from the beginning of the shot to that of its sound");
  await seconds.fill("soon");
  await expect(sound).toContainText("seconds, such as 0.5 or -2");
  await seconds.fill("0,5");
  await expect(sound).toContainText("on frame 13");
  await sound.getByRole("button", { name: "Move it there" }).click();
  await expect(sound.getByRole("button", { name: "Move it there" })).toHaveCount(0);
  await page.reload();
  await openGroup(page, "Frames");
  await expect(seconds).toHaveValue("0.5");
  await sound.getByRole("button", { name: "Take it away" }).click();
  await expect(sound).toContainText("No sound.");
  // What was brought is there to be chosen again.
  await sound.getByLabel("Choose a sound of the project").selectOption("scenes/sound/gulls.wav");
  await expect(sound).toContainText("1.5 s");
});

test("a path is picked on the scene seen from above, moved by keys, and may look along a line of its own", async ({
  page,
}) => {
  await on.stage.addShot("PV010", { frames: "1-24" });
  await page.goto(`${on.address}/p/test-film/shots/PV010?bench=plan`);
  await openGroup(page, "Camera move");
  await page.getByLabel("The camera").selectOption("path");
  const view = page.getByTestId("plan-view");
  const first = view.getByRole("button", { name: /^Point 1, / });
  await expect(first).toHaveAccessibleName("Point 1, x -4, z 6: arrows move it");
  await first.focus();
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("ArrowUp");
  await expect(page.getByLabel("Point 1 x")).toHaveValue("-3");
  await expect(page.getByLabel("Point 1 z")).toHaveValue("5.9");
  await page.getByLabel("What the camera looks at").selectOption("line");
  await view.getByRole("button", { name: /^Looked at, point 2, / }).click();
  const before = await page.getByLabel("Looked at, point 2 x").inputValue();
  const box = (await view.boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.9, box.y + box.height * 0.1);
  await expect(page.getByLabel("Looked at, point 2 x")).not.toHaveValue(before);
  await page.getByRole("button", { name: /^Save/ }).first().click();
  await expect(page.getByText("plan revision 2")).toBeVisible();
});
