/** The demo project in an empty database: four shots whose plans hold, and nothing done twice. */
import fs from "node:fs/promises";
import path from "node:path";
import { SHOTS } from "@/demo/project";
import { seed } from "@/demo/seed";
import { closePool, pool } from "@/server/db/pool";
import { listProjects } from "@/server/store/projects";
import { openStage, type Stage } from "../support/stage";
import { viewShots } from "@/server/views/shots";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
  await pool().query("DELETE FROM project");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

test("seeding makes the film with its scenes, its shots, and the runs that begin at once", async () => {
  expect(await seed({ hasItsNodes: true })).toBe(true);
  const { project, shots } = await viewShots("harbour-lights");
  expect([project.title, shots.map((s) => s.code)]).toEqual([
    "Harbour Lights",
    ["HL010", "HL020", "HL030", "HL040"],
  ]);
  expect(shots.map((s) => s.run?.left ?? 0)).toEqual([96, 72, 0, 0]);
  const scenes = await fs.readdir(path.join(stage.root, "harbour-lights/scenes"));
  for (const shot of SHOTS) expect(scenes).toContain(path.basename(shot.plan.scene));
});

test("seeding again changes nothing", async () => {
  const before = await viewShots("harbour-lights");
  expect(await seed({ hasItsNodes: true })).toBe(false);
  const after = await viewShots("harbour-lights");
  expect(after.shots.map((s) => [s.sequenceId, s.run?.id])).toEqual(
    before.shots.map((s) => [s.sequenceId, s.run?.id]),
  );
  expect(await listProjects(pool())).toHaveLength(1);
});

test("a start that was interrupted is made whole by the next", async () => {
  const [{ id }] = (await pool().query("SELECT id FROM shot WHERE code = 'HL040'"))[0] as {
    id: number;
  }[] as [{ id: number }];
  for (const sql of [
    "DELETE q FROM sequence q JOIN version v ON v.id = q.version_id WHERE v.shot_id = ?",
    `DELETE e
      FROM plan_revision e
      JOIN version v ON v.id = e.version_id
      WHERE v.shot_id = ?`,
    "DELETE FROM version WHERE shot_id = ?",
    "DELETE FROM shot WHERE id = ?",
  ])
    await pool().query(sql, [id]);
  expect((await viewShots("harbour-lights")).shots).toHaveLength(3);
  await seed({ hasItsNodes: true });
  expect((await viewShots("harbour-lights")).shots).toHaveLength(4);
});
