/**
 * Starting: decided once more under the lock, so that what two people press at one moment is rendered once.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { resumeAtNewest } from "@/server/actions/resume-newest";
import { openVersion, saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { stopRun } from "@/server/actions/stop-run";
import { pool, transact } from "@/server/db/pool";
import { row, rows } from "@/server/db/rows";
import { TallyError } from "@/server/errors";
import { versionsOfRun } from "@/server/store/run-versions";
import { lockVersions } from "@/server/store/shots";
import { tasksOfRun } from "@/server/store/tasks";
import { PLAN } from "../support/plan";
import { writeScene } from "../support/scene";
import { openStage, type Stage, until } from "../support/stage";

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

test("what a stopped run has left goes on with the newest plan, in a run of its own", async () => {
  const shot = await stage.addShot("S9", { frames: "1-6" });
  const { runId } = await startRun({ ...wish(shot.sequenceId), phrase: "2-5", nodes: ["nobody"] });
  await expect(resumeAtNewest(runId)).rejects.toMatchObject({ code: "run-not-stopped" });
  await stopRun(runId, "now");
  const saved = await saveRevision(
    "test-film/S9",
    shot.versionId,
    { ...PLAN, frames: "1-6", samples: 24 },
    1,
  );
  expect((await versionsOfRun(pool(), runId)).map((v) => [v.revision, v.newestRevision])).toEqual([[1, 2]]);
  const anew = await resumeAtNewest(runId);
  expect((await versionsOfRun(pool(), anew.runId)).map((v) => v.revisionId)).toEqual([saved.revision.id]);
  const left = async (id: number) =>
    (await tasksOfRun(pool(), id)).filter((t) => t.state === "waiting").map((t) => t.frame);
  expect(await left(anew.runId)).toEqual([2, 3, 4, 5]);
  expect(await left(runId)).toEqual([]);
  await expect(resumeAtNewest(runId)).rejects.toMatchObject({ code: "run-finished" });
});

test("starts that overlap at one moment: each frame is queued once", async () => {
  const shot = await stage.addShot("S2", { frames: "1-10" });
  await Promise.all(["1-6", "5-10"].map((phrase) => startRun({ ...wish(shot.sequenceId), phrase })));
  expect(await framesOf(shot.sequenceId)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
});

test("a version that had nothing to render when its scene was frozen stays out, also if its frames come free meanwhile", async () => {
  const shot = await stage.addShot("S5", { frames: "1-2" });
  const other = await openVersion("S5", { ...PLAN, frames: "3-4" });
  const { runId: earlier } = await startRun({ ...wish(other.sequenceId), nodes: ["nobody"] });
  let started: ReturnType<typeof startRun> | undefined;
  await transact(async (tx) => {
    await lockVersions(tx, [shot.versionId]);
    started = startRun({ ...wish(shot.sequenceId), nodes: ["nobody"], also: ["v002"] });
    await until("the start waits for the versions", () =>
      row(
        pool(),
        `SELECT id
          FROM information_schema.processlist
          WHERE info LIKE '%version%FOR UPDATE' AND id <> CONNECTION_ID()`,
        [],
      ),
    );
    await stopRun(earlier, "now");
  });
  const { runId } = await started!;
  expect((await tasksOfRun(pool(), runId)).map((t) => t.frame)).toEqual([1, 2]);
  expect((await versionsOfRun(pool(), runId)).map((v) => v.versionId)).toEqual([shot.versionId]);
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

test("frames that the plan does not ask for are told as such, and not as fine", async () => {
  const shot = await stage.addShot("ST9", { frames: "1-4" });
  const start = (phrase: string) =>
    startRun({ sequenceId: shot.sequenceId, phrase, policy: "fill", nodes: null, scope: "version" });
  await expect(start("5000")).rejects.toMatchObject({
    code: "frames-not-planned",
    message: expect.stringMatching(/does not ask for 5000: it asks for 1-4\./) as string,
  });
  expect((await start("4,5000")).tasks).toBe(1);
});
