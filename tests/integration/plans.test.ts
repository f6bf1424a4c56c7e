import fs from "node:fs/promises";
import path from "node:path";
import type { Plan } from "@/core/plan/plan";
import { closePool, makePool, pool } from "@/server/db/pool";
import { migrate } from "@/server/db/migrate";
import { saveUnlookedFile } from "@/server/store/frame-files";
import { latestRevision, revisionById } from "@/server/store/shots";
import { openVersion, saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { writeScene, TEST_SCENE } from "../support/scene";
import { PLAN } from "../support/plan";
import { HOME, openStage, type Stage } from "../support/stage";

let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;

beforeAll(async () => {
  stage = await openStage();
  shot = await stage.addShot("P1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const save = (change: Partial<Plan>, basedOn: number) =>
  saveRevision("P1", shot.versionId, { ...PLAN, ...change }, basedOn);

test("saving makes the next revision and never changes an earlier one", async () => {
  const first = (await latestRevision(pool(), shot.versionId))!;
  const saved = await save({ samples: 8 }, 1);
  expect(saved.revision.number).toBe(2);
  expect((await revisionById(pool(), first.id))!.plan).toEqual(PLAN);
});

test("a save on top of somebody else's, or without a change, is refused", async () => {
  await expect(save({ samples: 16 }, 1)).rejects.toMatchObject({ code: "plan-outdated" });
  await expect(save({ samples: 8 }, 2)).rejects.toMatchObject({ code: "plan-unchanged" });
});

test.each<[string, Partial<Plan>, string, string]>([
  ["a size of nought", { width: 0 }, "width", "plan-width"],
  ["a size of 40,000", { height: 40_000 }, "height", "plan-height"],
  ["a phrase that runs backwards", { frames: "10-1" }, "frames", "phrase-backwards"],
  ["more than a million frames", { frames: "1-1000001" }, "frames", "plan-too-many-frames"],
  ["a name without the frame", { namePattern: "{shot}" }, "namePattern", "pattern-no-frame"],
  ["a camera that is not there", { cameras: ["top"] }, "cameras", "unknown-camera"],
  ["a scene that is not there", { scene: "scenes/none.json" }, "scene", "scene-missing"],
  ["a scene above the root", { scene: "../../../etc/hostname" }, "scene", "path-outside-root"],
  ["a scene at an absolute path", { scene: "/etc/hostname" }, "scene", "path-outside-root"],
])("%s is told at its field", async (_name, change, field, code) => {
  await expect(save(change, 2)).rejects.toMatchObject({
    code: "plan-wrong",
    faults: expect.arrayContaining([expect.objectContaining({ field, code })]),
  });
});

test("a scene through a link that leaves the root is refused", async () => {
  await fs.symlink("/etc", path.join(stage.projectFolder, "scenes/out"));
  await expect(save({ scene: "scenes/out/hostname" }, 2)).rejects.toMatchObject({
    faults: [{ field: "scene", code: "path-outside-root" }],
  });
});

test.each<[string, unknown, string]>([
  ["is not JSON", '{"format": ', "scene-broken"],
  ["has an unknown key", { ...TEST_SCENE, fog: 1 }, "scene-broken"],
  [
    "needs a texture that is not there",
    {
      ...TEST_SCENE,
      materials: {
        ...TEST_SCENE.materials,
        floor: { kind: "diffuse", colour: [1, 1, 1], texture: "textures/gone.png" },
      },
    },
    "texture-missing",
  ],
])("a scene that %s is told at the scene's field, and nothing is saved", async (_name, scene, code) => {
  await writeScene(stage.projectFolder, scene, "bad.json");
  await expect(save({ scene: "scenes/bad.json" }, 2)).rejects.toMatchObject({
    faults: [{ field: "scene", code }],
  });
  expect((await latestRevision(pool(), shot.versionId))!.number).toBe(2);
});

test("once files exist the name is fixed, and the same plan opens v002", async () => {
  await saveUnlookedFile(pool(), shot.sequenceId, 1, { name: "P1.0001.png", bytes: 1, modifiedMs: 1 });
  await expect(save({ samples: 8, namePattern: "{shot}_{frame}" }, 2)).rejects.toMatchObject({
    code: "plan-fixed",
    faults: [{ field: "namePattern" }],
  });
  const opened = await openVersion("P1", { ...PLAN, namePattern: "{shot}_{frame}" });
  expect([opened.version, opened.revision.number]).toEqual([{ version: 2, purpose: "final" }, 1]);
});

test("a run with a wrong phrase, or with nothing to do, is refused with the reason", async () => {
  await expect(
    startRun({ sequenceId: shot.sequenceId, phrase: "9-1", policy: "fill", nodes: null, scope: "version" }),
  ).rejects.toMatchObject({ code: "phrase-wrong", faults: [{ field: "phrase", code: "phrase-backwards" }] });
  await expect(
    startRun({ sequenceId: shot.sequenceId, phrase: "100", policy: "all", nodes: null, scope: "version" }),
  ).rejects.toMatchObject({ code: "frames-not-planned" });
});

test("the schema is made once; a database of a newer program, or of an earlier schema, is refused", async () => {
  const own = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 1);
  const folder = path.join(HOME, "db");
  expect(await migrate(own, folder)).toEqual([]);
  await own.query("INSERT INTO schema_migration (name) VALUES ('999_from_the_future.sql')");
  await expect(migrate(own, folder)).rejects.toMatchObject({ code: "database-newer" });
  await own.query("DELETE FROM schema_migration WHERE name LIKE '999%'");
  // Of before 0.1: other columns, told in words instead of failing at one of them.
  await own.query("INSERT INTO schema_migration (name) VALUES ('001_project.sql')");
  await expect(migrate(own, folder)).rejects.toMatchObject({
    code: "database-earlier",
    message: expect.stringContaining("the frames stay"),
  });
  await own.query("DELETE FROM schema_migration WHERE name = '001_project.sql'");
  await own.end();
});
