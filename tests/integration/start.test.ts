/** Starting: decided once more under the lock, so that what two people press at one moment is rendered once. */
import fs from "node:fs/promises";
import path from "node:path";
import { startRun } from "@/server/actions/start-run";
import { pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { TallyError } from "@/server/errors";
import { writeScene } from "../support/scene";
import { openStage, type Stage } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(() => stage.strike());

const wish = (sequenceId: number) =>
  ({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" }) as const;

const framesOf = async (sequenceId: number): Promise<number[]> =>
  (
    await rows<{ frame: number }>(pool(), "SELECT frame FROM task WHERE sequence_id = ? ORDER BY frame", [
      sequenceId,
    ])
  ).map((t) => t.frame);

test("equal starts at one moment: one queues the frames, the others are told that nothing is left", async () => {
  const shot = await stage.addShot("S1", { frames: "1-10" });
  const ends = await Promise.allSettled([1, 2, 3].map(() => startRun(wish(shot.sequenceId))));
  const refused = ends.flatMap((e) => (e.status === "rejected" ? [e.reason as unknown] : []));
  expect(refused.map((r) => (r instanceof TallyError ? r.code : r))).toEqual([
    "nothing-to-render",
    "nothing-to-render",
  ]);
  expect(await framesOf(shot.sequenceId)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
});

test("more starts of one sequence at one moment than there are connections: none waits for ever", async () => {
  const shot = await stage.addShot("S4", { frames: "1-4" });
  const many = Array.from({ length: 14 }, () =>
    startRun({ ...wish(shot.sequenceId), scope: "sequence" as const }),
  );
  const ends = await Promise.allSettled(many);
  expect(ends.filter((e) => e.status === "fulfilled")).toHaveLength(1);
  expect(await framesOf(shot.sequenceId)).toEqual([1, 2, 3, 4]);
});

test("starts that overlap at one moment: each frame is queued once", async () => {
  const shot = await stage.addShot("S2", { frames: "1-10" });
  await Promise.all(["1-6", "5-10"].map((phrase) => startRun({ ...wish(shot.sequenceId), phrase })));
  expect(await framesOf(shot.sequenceId)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
});

test("a red point of the preflight stops a start, whoever asks for it", async () => {
  await writeScene(stage.projectFolder, undefined, "gone.json");
  const shot = await stage.addShot("S3", { frames: "1-2", scene: "scenes/gone.json" });
  await fs.rm(path.join(stage.projectFolder, "scenes/gone.json"));
  await expect(startRun(wish(shot.sequenceId))).rejects.toMatchObject({
    code: "preflight-stops",
    faults: [{ field: "preflight", code: "scene-unreadable" }],
  });
  expect(await framesOf(shot.sequenceId)).toEqual([]);
  const told = await stage.cli("run", "S3");
  expect([told.code, told.stderr]).toEqual([2, expect.stringContaining("points that must be mended")]);
});
