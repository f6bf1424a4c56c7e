/** The database is lost: what lies beside the frames brings the tally back. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import type { ProjectCounts, RebuiltView } from "@/contract/rebuild";
import { decideOnVersion } from "@/server/actions/decide-version";
import { clearFlags, flagFrames } from "@/server/actions/flags";
import { bringInEdit } from "@/server/actions/bring-in-edit";
import { pauseAll } from "@/server/actions/nodes";
import { setThresholds } from "@/server/actions/judge-odd";
import { USUAL_MOVIE } from "@/core/handover/wish";
import { USUAL_THRESHOLDS } from "@/core/odd/odd";
import { keepMoviePreset } from "@/server/handover/movie-presets";
import { savePreset } from "@/server/actions/presets";
import { createProject } from "@/server/actions/projects";
import { startProofs } from "@/server/actions/proofs";
import { openVersion } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { stopRun } from "@/server/actions/stop-run";
import { RECORD_TABLES, NOT_IN_RECORDS } from "@/server/db/record-tables";
import { pool, transact } from "@/server/db/pool";
import { row, rows, write } from "@/server/db/rows";
import { manifestFolder } from "@/server/files/layout";
import { readManifests } from "@/server/record/read-manifests";
import { readRecords } from "@/server/record/read-records";
import { catchUp } from "@/server/folder/check";
import { setNodeAside } from "@/server/store/asides";
import { insertOddVerdict } from "@/server/store/findings";
import { fileOfFrame } from "@/server/store/frame-files";
import { listRendering } from "@/server/store/tasks";
import { requireSequence } from "@/server/store/shots";
import { writeRecords } from "@/server/record/recorder";
import { PLAN } from "../support/plan";
import { viewLostTallies } from "@/server/views/lost-tallies";
import { killAndWait, openStage, type Stage, until } from "../support/stage";
import { differencesOf, dumpTables } from "../support/tables";

let stage: Stage;
let folder: string;
beforeAll(async () => {
  stage = await openStage();
  folder = stage.projectFolder;
});
afterAll(() => stage.strike());

/** What the command line prints. */
type Counts = ProjectCounts & Pick<RebuiltView, "projects">;
const rebuild = async (place = folder): Promise<Counts> => {
  const { stdout, stderr } = await stage.cli("rebuild", place, "--json");
  if (stdout === "") throw new Error(stderr);
  return JSON.parse(stdout) as Counts;
};
const countOf = async (table: string): Promise<number> =>
  (await row<{ n: number }>(pool(), `SELECT COUNT(*) AS n FROM \`${table}\``))!.n;
const records = async (): Promise<string[]> =>
  (await fs.readdir(manifestFolder(folder))).filter((name) => name.endsWith(".jsonl"));
const openTasks = async (): Promise<number> =>
  (await row<{ n: number }>(
    pool(),
    "SELECT COUNT(*) AS n FROM task t JOIN run r ON r.id = t.run_id WHERE r.state = 'active' AND r.handout IS NULL AND t.state IN ('waiting', 'leased')",
  ))!.n;

/** Pictures that say nothing of who made them. */
async function foreignFrames(place: string, frames: readonly number[]): Promise<void> {
  await fs.mkdir(place, { recursive: true });
  for (const frame of frames)
    await sharp({ create: { width: 48, height: 27, channels: 3, background: { r: frame, g: 90, b: 120 } } })
      .png()
      .toFile(path.join(place, `barge.${String(frame).padStart(4, "0")}.png`));
}

const wish = (sequenceId: number): Parameters<typeof startRun>[0] => ({
  ...{ sequenceId, phrase: "all", policy: "fill", scope: "version", nodes: null },
});

async function fileOf(sequenceId: number, frame: number): Promise<string> {
  const found = await row<{ name: string }>(
    pool(),
    "SELECT name FROM frame_file WHERE sequence_id = ? AND frame = ?",
    [sequenceId, frame],
  );
  return path.join(folder, "QA010/v001/main/beauty", found!.name);
}

const SLOW = { frames: "1", width: 160, height: 90, samples: 160 };
const EDL = "TITLE: Harbour\n001 QA020 V C 00:00:00:00 00:00:00:04 01:00:00:00 01:00:00:04\n";

/** Runs of which a node died, people who judge, and files that others bring: what a night leaves. */
async function messyRun(): Promise<void> {
  const quay = await stage.addShot("QA010", { frames: "1-12", samples: 8 });
  const mole = await stage.addShot("QA020", { frames: "1-4", samples: 8 });
  const dying = await stage.startNode("quay-1");
  await startRun(wish(quay.sequenceId), "Ines");
  await until("some frames are there", async () => (await countOf("frame_file")) >= 3);
  await killAndWait(dying);
  const node = await stage.startNode("quay-2");
  await until("the run is over", async () => (await openTasks()) === 0);
  await startProofs(mole.sequenceId, {
    ...{ phrase: "first,last", plan: { ...PLAN, frames: "1-4", samples: 4 }, nodes: null, strip: null },
  });
  await until("the proofs are there", async () => (await openTasks()) === 0);
  const slow = await stage.addShot("QA040", { ...SLOW, checkpoints: { kind: "on-stop" } });
  const stopped = await startRun(wish(slow.sequenceId), "Ines");
  await until("a frame is in the middle", async () =>
    (await listRendering(pool())).find((r) => (r.progress ?? 0) > 0.1),
  );
  await stopRun(stopped.runId, "now", "Ines");
  await until("its samples are saved", async () => (await countOf("checkpoint")) === 1);
  await until("the run has stopped", async () => (await openTasks()) === 0);
  await killAndWait(node);
  await startRun({ ...wish(mole.sequenceId), shares: [{ machine: "barge", phrase: "3-4" }] }, "Ines");
  await setNodeAside(pool(), 1, stopped.runId, {
    code: "fails-alone",
    frames: [1],
    error: "renderer-crashed",
    message: "It ended.",
  });
  await pauseAll("after-frame", "Ines");

  await flagFrames(quay.sequenceId, "3-5", "a crane jumps", "Ines");
  await flagFrames(quay.sequenceId, "7", "too dark", "Bruno");
  await clearFlags(quay.sequenceId, "4", "Bruno");
  const { content } = (await fileOfFrame(pool(), quay.sequenceId, 6))!;
  await transact((tx) =>
    insertOddVerdict(tx, quay.sequenceId, {
      ...{ frame: 6, code: "pop", content: content!, sentence: "It pops.", place: null },
      ...{ isAccepted: false, who: "Ines", why: "lightning" },
    }),
  );
  await setThresholds(quay.sequenceId, { ...USUAL_THRESHOLDS, hot: 3 });
  await openVersion("QA010", { ...PLAN, frames: "1-12", samples: 16 }, "final", null, "Ines");
  await decideOnVersion(quay.versionId, "choose", "Ines");
  await savePreset("Mist", { samples: 9 }, "Ines");
  await keepMoviePreset("for the client", USUAL_MOVIE, "Ines");
  await stage.cli("export", "QA010", "--as", "csv");
  await bringInEdit("test-film", { name: "cut.edl", text: EDL, handles: 0, isDry: false }, "Ines");
  await stage.cli("project", "rename", "test-film", "--title", "The Film");

  const barge = path.join(stage.root, "farm/barge");
  await foreignFrames(barge, [1, 2, 4, 5]);
  await stage.cli("take-in", barge, "--project", "test-film", "--shot", "QA030");
  // A frame without a word of its maker, as a person puts one in the place of a bad one; and one that is broken.
  await fs.copyFile(path.join(barge, "barge.0002.png"), await fileOf(quay.sequenceId, 2));
  await fs.truncate(await fileOf(quay.sequenceId, 9), 200);
  await catchUp(await requireSequence(quay.sequenceId));
}

test("every table goes to the records or is left out by name, and every number of another row is known as one", async () => {
  const tables = await rows<{ name: string }>(
    pool(),
    "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()",
  );
  expect(tables.map((t) => t.name).sort()).toEqual(
    [...RECORD_TABLES.map((t) => t.name), ...NOT_IN_RECORDS].sort(),
  );
  const keys = await rows<{ name: string; column: string; parent: string }>(
    pool(),
    `SELECT TABLE_NAME AS name, COLUMN_NAME AS \`column\`, REFERENCED_TABLE_NAME AS parent
      FROM information_schema.KEY_COLUMN_USAGE
      WHERE TABLE_SCHEMA = DATABASE() AND REFERENCED_TABLE_NAME IS NOT NULL`,
  );
  const wrong = keys.filter(({ name, column, parent }) => {
    const table = RECORD_TABLES.find((t) => t.name === name);
    return table !== undefined && table.parents[column] !== parent;
  });
  expect(keys.length).toBeGreaterThan(25);
  expect(wrong).toEqual([]);
});

test("after a messy run every table comes back as it was", async () => {
  await messyRun();
  expect(await countOf("finding")).toBeGreaterThan(3);
  await writeRecords(pool());
  const before = await dumpTables();
  const empty = RECORD_TABLES.map(({ name }) => name).filter((name) => before.get(name)!.length === 0);
  expect(empty).toEqual([]);
  await stage.loseDatabase();
  const counts = await rebuild();
  expect(differencesOf(before, await dumpTables())).toEqual([]);
  // What is measured of pictures is in no record, and is measured again.
  expect(await countOf("measure_task")).toBeGreaterThan(10);
  expect(counts).toEqual({
    projects: 1,
    shots: 4,
    versions: 5,
    frames: before.get("frame_file")!.length,
    attempts: before.get("attempt")!.length,
    flags: 3,
  });
});

/** Lost and brought back. @returns what was known before and is not now, and the other way round */
async function loseAndRebuild(): Promise<readonly string[]> {
  await writeRecords(pool());
  const before = await dumpTables();
  await stage.loseDatabase();
  await rebuild();
  return differencesOf(before, await dumpTables());
}

test("a project that is in the tally stays as it is, and nothing is there twice", async () => {
  const before = await dumpTables();
  expect(await rebuild()).toMatchObject({ projects: 0, frames: 0 });
  expect(differencesOf(before, await dumpTables())).toEqual([]);
});

test("frames that came and went after the last line are as the files say", async () => {
  const { sequenceId } = await stage.addShot("QB010", { frames: "1-4" });
  await pauseAll("no", "Ines");
  const node = await stage.startNode("quay-3");
  await startRun(wish(sequenceId));
  await until("the run is over", async () => (await openTasks()) === 0);
  // A node writes it down once the frame is done.
  await until(
    "the node has written down all of them",
    async () => (await readManifests(path.join(folder, "QB010/v001"))).length === 4,
  );
  await killAndWait(node);
  await writeRecords(pool());
  const before = await filesOf(sequenceId);
  expect(before).toHaveLength(4);
  await stage.loseDatabase();
  // While no database was there: one gone, and one that something else has made.
  const [gone, other] = before.map(({ name }) => path.join(folder, "QB010/v001/main/beauty", name));
  await fs.rm(gone!);
  await fs.copyFile(path.join(stage.root, "farm/barge/barge.0001.png"), other!);
  await rebuild();
  const after = await filesOf(sequenceId);
  expect(after.map((f) => f.frame)).toEqual([2, 3, 4]);
  expect(after[0]).toMatchObject({ frame: 2, attempt: null });
  expect(after.slice(1)).toEqual(before.slice(2));
});

interface FileFacts {
  readonly frame: number;
  readonly name: string;
  readonly content: string | null;
  readonly attempt: number | null;
}
const filesOf = (sequenceId: number): Promise<FileFacts[]> =>
  rows<FileFacts>(
    pool(),
    "SELECT frame, name, content, attempt_id AS attempt FROM frame_file WHERE sequence_id = ? ORDER BY frame",
    [sequenceId],
  );

test("a manifest of a node is lost: what it made is known all the same", async () => {
  const manifests = path.join(folder, "QA010/v001/.tally/manifest");
  expect(await fs.readdir(manifests)).toContain("quay-2.jsonl");
  await fs.rm(path.join(manifests, "quay-2.jsonl"));
  expect(await loseAndRebuild()).toEqual([]);
});

test("a record that is gone, cut or written to by others is begun anew while the database is there", async () => {
  const place = async (): Promise<string> => path.join(manifestFolder(folder), (await records())[0]!);
  const harms = [
    async () => fs.rm(await place()),
    async () => fs.truncate(await place(), 1_000),
    async () => fs.appendFile(await place(), '{"go":1,'),
  ];
  for (const [i, harm] of harms.entries()) {
    await writeRecords(pool());
    await harm();
    await stage.cli("project", "rename", "test-film", "--title", `Harmed ${i}`);
    const { broken } = await readRecords(folder);
    expect(broken).toBe(0);
    expect(await loseAndRebuild()).toEqual([]);
  }
});

test("of records of two machines the last word counts, and one that is lost costs what only it had", async () => {
  await writeRecords(pool());
  const [own] = await records();
  const copy = path.join(manifestFolder(folder), "record-other-machine.jsonl");
  await fs.copyFile(path.join(manifestFolder(folder), own!), copy);
  await stage.cli("project", "rename", "test-film", "--title", "The last word");
  const title = async (): Promise<string> =>
    (await row<{ title: string }>(pool(), "SELECT title FROM project"))!.title;
  await stage.loseDatabase();
  await rebuild();
  expect(await title()).toBe("The last word");
  await writeRecords(pool());
  await fs.rm(path.join(manifestFolder(folder), own!));
  await stage.loseDatabase();
  await rebuild();
  expect(await title()).not.toBe("The last word");
  expect(await countOf("shot")).toBe(5);
  await fs.rm(copy);
});

test("another house on the same server is none of ours: its recorder holds up nobody", async () => {
  await stage.cli("project", "rename", "test-film", "--title", "Beside another house");
  const admin = await pool().getConnection();
  const other = `house_${process.pid}`;
  const held = "SELECT GET_LOCK(CONCAT('plain_tally_record_', MD5(DATABASE())), 0) AS held";
  const [schema] = await rows<{ name: string }>(pool(), "SELECT DATABASE() AS name");
  try {
    await admin.query(`CREATE DATABASE ${other}`);
    await admin.query(`USE ${other}`);
    expect(await row(admin, held)).toEqual({ held: 1 });
    await write(pool(), "UPDATE project SET title = 'Written all the same'");
    expect(await writeRecords(pool(), 0)).toBe(1);
    // One that is at ours is waited for, and no longer than is said.
    await admin.query(`USE ${schema!.name}`);
    expect(await row(admin, held)).toEqual({ held: 1 });
    await write(pool(), "UPDATE project SET title = 'Written later'");
    expect(await writeRecords(pool(), 0)).toBe(0);
  } finally {
    await admin.query(`DROP DATABASE IF EXISTS ${other}`);
    admin.destroy();
  }
  expect(await writeRecords(pool())).toBe(1);
});

test("what nobody can read in a record is left out and told, and the rest comes back", async () => {
  await writeRecords(pool());
  const file = path.join(manifestFolder(folder), (await records())[0]!);
  const lines = (await fs.readFile(file, "utf8")).trimEnd().split("\n");
  const finding = lines.findIndex((line) => line.includes('"table":"finding"'));
  lines[finding] = lines[finding]!.replace('"source":"person"', '"source":"\u0000nobody"');
  await fs.writeFile(
    file,
    [...lines, '{"go":9e99', "[]", '{"go":1,"table":"mysql.user","key":"1","row":{}}'].join("\n"),
  );
  const flags = await countOf("finding");
  await stage.loseDatabase();
  const { stdout } = await stage.cli("rebuild", folder);
  expect(stdout).toContain("4 lines of records could not be used");
  expect(await countOf("finding")).toBe(flags - 1);
});

test("a folder with a tally that this house does not know is not begun anew, and rebuilt beside other projects", async () => {
  await writeRecords(pool());
  const before = await dumpTables();
  await stage.loseDatabase();
  const facts = { slug: "again", title: "Again", rate: { numerator: 24, denominator: 1 }, root: "frames" };
  expect(await viewLostTallies()).toEqual({
    tallies: [
      {
        ...{ root: "frames", folder: path.basename(folder), path: folder },
        writtenMs: expect.any(Number),
      },
    ],
  });
  const inFolder = createProject({ ...facts, folder: path.basename(folder) });
  await expect(inFolder).rejects.toMatchObject({ code: "folder-has-tally" });
  // Another project took the numbers meanwhile.
  await createProject({ ...facts, folder: "again" });
  expect(await rebuild(stage.root)).toMatchObject({ projects: 1, shots: 5 });
  const after = await dumpTables();
  for (const table of ["shot", "version", "attempt", "frame_file", "finding", "deed"])
    expect(after.get(table)!.length).toBeGreaterThanOrEqual(before.get(table)!.length);
  expect(JSON.parse((await stage.cli("status", "test-film/QA010", "--json")).stdout)).toMatchObject({
    asked: 12,
  });
});

test("several projects come back together, and what belongs to the house is there once", async () => {
  expect(await countOf("project")).toBe(2);
  await writeRecords(pool());
  const before = await dumpTables();
  await stage.loseDatabase();
  expect(await rebuild(stage.root)).toMatchObject({ projects: 2 });
  expect(differencesOf(before, await dumpTables())).toEqual([]);
});

test("a record that nobody may read is told, and the other projects come back", async () => {
  await writeRecords(pool());
  await stage.loseDatabase();
  const [name] = await records();
  const file = path.join(manifestFolder(folder), name!);
  await fs.rename(file, `${file}.kept`);
  // Root may read whatever it likes, but no folder as a file.
  await fs.mkdir(file);
  const { code, stdout } = await stage.cli("rebuild", stage.root);
  expect(code).toBe(1);
  expect(stdout).toContain("1 projects");
  expect(stdout).toContain(`Left out: ${folder}: EISDIR`);
  await fs.rmdir(file);
  await fs.rename(`${file}.kept`, file);
  expect(await rebuild(stage.root)).toMatchObject({ projects: 1, shots: 5 });
});

test("without any record, project, shots, versions and frames come back from the pictures, with who made them", async () => {
  const before = await filesOf((await sequenceOf("test-film/QB010")).id);
  await fs.rm(manifestFolder(folder), { recursive: true });
  await stage.loseDatabase();
  const { code, stdout } = await stage.cli("rebuild", folder);
  expect(stdout).toContain("QB010/v001: no record knows it");
  expect(code).toBe(0);
  const slug = path.basename(folder);
  const after = await sequenceOf(`${slug}/QB010`);
  expect((await filesOf(after.id)).map(({ frame, name, content }) => ({ frame, name, content }))).toEqual(
    before.map(({ frame, name, content }) => ({ frame, name, content })),
  );
  const made = await rows<{ node: string | null; seconds: number | null }>(
    pool(),
    "SELECT node, seconds FROM frame_file WHERE sequence_id = ? AND attempt_id IS NOT NULL",
    [after.id],
  );
  expect(made).toHaveLength(2);
  for (const { node, seconds } of made) {
    expect(node).toBe("quay-3");
    expect(seconds).toBeGreaterThan(0);
  }
  // No attempt to come bears a number that a file says of itself.
  const [next] = await rows<{ next: number }>(
    pool(),
    "SELECT AUTO_INCREMENT AS next FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'attempt'",
  );
  const [most] = await rows<{ most: number }>(pool(), "SELECT MAX(attempt_id) AS most FROM frame_file");
  expect(next!.next).toBeGreaterThan(most!.most);
});

const sequenceOf = async (shot: string): Promise<{ readonly id: number }> =>
  (await row<{ id: number }>(
    pool(),
    `SELECT q.id FROM sequence q
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      WHERE CONCAT(p.slug, '/', s.code) = ? AND q.pass = 'beauty' ORDER BY q.id LIMIT 1`,
    [shot],
  ))!;

test("a version that only a lost record knew comes back from its pictures, the rest as it was", async () => {
  await writeRecords(pool());
  const before = await countOf("version");
  const place = path.join(folder, "QB010/v007/main/beauty");
  await foreignFrames(place, [3, 4]);
  await stage.loseDatabase();
  expect(await rebuild()).toMatchObject({ projects: 1, versions: before + 1 });
  const [version] = await rows<{ number: number }>(
    pool(),
    "SELECT v.number FROM version v JOIN shot s ON s.id = v.shot_id WHERE s.code = 'QB010' ORDER BY v.number DESC LIMIT 1",
  );
  expect(version).toEqual({ number: 7 });
});

test("a folder without any project says so", async () => {
  const { code, stderr } = await stage.cli("rebuild", path.join(stage.root, "farm"));
  expect(code).toBe(2);
  expect(stderr).toContain("No project lies in");
});

test("the record of a project that was taken out of the tally says so, and its folder may be begun anew", async () => {
  expect(await stage.cli("project", "remove", path.basename(folder), "--stop")).toMatchObject({ stderr: "" });
  expect(await countOf("project")).toBe(0);
  expect(await readRecords(folder)).toMatchObject({ isRemoved: true, rows: new Map() });
  // The other one, of the database before, is lost still.
  expect((await viewLostTallies()).tallies.map((t) => t.folder)).toEqual(["again"]);
  const { stdout } = await stage.cli("rebuild", folder);
  expect(stdout).toContain("its project was taken out of the tally, and stays out");
  // Begun anew since, on another machine: that one counts, and its loss would be one.
  const elsewhere = path.join(manifestFolder(folder), "record-another-machine.jsonl");
  await fs.writeFile(elsewhere, `{"whole":${Date.now() + 60_000}}\n`);
  expect((await viewLostTallies()).tallies.map((t) => t.path)).toContain(folder);
  await fs.rm(elsewhere);
  const facts = { slug: "anew", title: "Anew", rate: { numerator: 24, denominator: 1 }, root: "frames" };
  expect(await createProject({ ...facts, folder: path.basename(folder) })).toBeGreaterThan(0);
});
