/** A project's folder that cannot be seen is no empty folder: nothing is forgotten, and all is as before after it. */
import fs from "node:fs/promises";
import { execFileSync } from "node:child_process";
import path from "node:path";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { flagFrames } from "@/server/actions/flags";
import { preflightRun } from "@/server/actions/preflight";
import { startRun } from "@/server/actions/start-run";
import { imageTools } from "@/server/files/image-tools";
import { projectMark } from "@/server/files/layout";
import { catchUp, checkSequence } from "@/server/folder/check";
import { projectsOutOfSight } from "@/server/folder/project-sight";
import { pictureOf } from "@/server/http/picture";
import { respond } from "@/server/http/respond";
import { sequenceById } from "@/server/store/shots";
import { viewSequence } from "@/server/views/sequence";
import { PLAN } from "../support/plan";
import { openStage, type Stage } from "../support/stage";

let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;
let hidden: string;

const file = (frame: number): string => path.join(shot.folder, `W1.${String(frame).padStart(4, "0")}.png`);
const sequence = async () => (await sequenceById(pool(), shot.sequenceId))!;
/** All that the house knows of the frames. */
const known = async () => ({
  files: await rows<object>(pool(), "SELECT * FROM frame_file ORDER BY frame"),
  findings: await rows<object>(pool(), "SELECT * FROM finding ORDER BY id"),
  saved: await rows<object>(pool(), "SELECT * FROM checkpoint ORDER BY frame"),
  page: (await viewSequence(shot.sequenceId)).tally,
});

beforeEach(async () => {
  stage = await openStage();
  shot = await stage.addShot("W1", { frames: "1-4" });
  hidden = `${stage.projectFolder}-elsewhere`;
  await fs.mkdir(shot.folder, { recursive: true });
  for (let frame = 1; frame <= 3; frame++)
    await fs.writeFile(
      file(frame),
      writePng(
        rgb8(PLAN.width, PLAN.height, new Uint8Array(PLAN.width * PLAN.height * 3).fill(frame)),
        {},
        imageTools,
      ),
    );
  await catchUp(await sequence());
  await flagFrames(shot.sequenceId, "2", "too dark");
});
afterEach(async () => {
  await stage.strike();
  await closePool();
});

describe.each([
  ["is missing", async () => undefined, "ENOENT"],
  ["is the empty place of a share", (place: string) => fs.mkdir(place), "the project's mark is not in it"],
  ["answers with an error", (place: string) => fs.symlink(place, place), "ELOOP"],
])("a project's folder that %s", (_what, take: (place: string) => Promise<unknown>, why) => {
  test("loses no file, finding or count, says since when, and is as before when it is back", async () => {
    const before = await known();
    const from = Date.now();
    await fs.rename(stage.projectFolder, hidden);
    await take(stage.projectFolder);
    const refused = { code: "project-out-of-sight", message: expect.stringContaining(why) as string };
    await expect(catchUp(await sequence())).rejects.toMatchObject(refused);
    await expect(checkSequence(await sequence())).rejects.toMatchObject(refused);
    expect(await known()).toEqual(before);
    const [told] = projectsOutOfSight();
    expect(told).toMatchObject({ project: "test-film", folder: stage.projectFolder, why });
    expect(told!.since).toBeGreaterThanOrEqual(from);
    // Later looks do not make it younger.
    await expect(catchUp(await sequence())).rejects.toMatchObject(refused);
    expect(projectsOutOfSight()).toEqual([told]);

    await fs.rm(stage.projectFolder, { recursive: true, force: true });
    await fs.rename(hidden, stage.projectFolder);
    await catchUp(await sequence());
    expect(await known()).toEqual(before);
    expect(projectsOutOfSight()).toEqual([]);
  });

  test("refuses starts and pictures in words: no answer is a fault of the server", async () => {
    await fs.rename(stage.projectFolder, hidden);
    await take(stage.projectFolder);
    const wish = {
      sequenceId: shot.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
    } as const;
    const answers = await Promise.all([
      respond(() => startRun(wish)),
      respond(() => preflightRun(wish)),
      respond(() => pictureOf(shot.sequenceId, 1, null, { as: "shown" })),
    ]);
    const said = await Promise.all(
      answers.map(async (a) => ((await a.json()) as { error: { code: string; message: string } }).error),
    );
    expect(answers.map((a) => a.status)).not.toContain(500);
    expect(said.slice(0, 2).map((e) => e.code)).toEqual(["project-out-of-sight", "project-out-of-sight"]);
    for (const { message } of said) expect(message).toMatch(/seen|read|gone/);
    await fs.rm(stage.projectFolder, { recursive: true, force: true });
    await fs.rename(hidden, stage.projectFolder);
  });
});

test("a file that was deleted is still gone, and so is one that a folder took the place of", async () => {
  await fs.rm(file(1));
  await fs.rm(file(3));
  await fs.mkdir(file(3));
  await catchUp(await sequence());
  expect((await known()).files.map((f) => (f as { frame: number }).frame)).toEqual([2]);
});

test("a pipe under a frame's name is a stranger: nobody waits for it, and a check comes to its end", async () => {
  await fs.rm(file(3));
  execFileSync("mkfifo", [file(3)]);
  await catchUp(await sequence());
  await checkSequence(await sequence());
  expect((await known()).files.map((f) => (f as { frame: number }).frame)).toEqual([1, 2]);
  const answer = await respond(() => pictureOf(shot.sequenceId, 3, null, { as: "shown" }));
  expect(answer.status).toBe(404);
});

test("a folder without a mark is known again by a file that lies in it, and gets its mark", async () => {
  const mark = projectMark(stage.projectFolder);
  await fs.rm(mark);
  await catchUp(await sequence());
  expect((await fs.readFile(mark, "utf8")).length).toBeGreaterThan(0);
});
