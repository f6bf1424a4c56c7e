/** Projects and shots: made, changed, and found by their names from pages and the command line. */
import fs from "node:fs/promises";
import path from "node:path";
import { changeProject, createProject, removeProject } from "@/server/actions/projects";
import { removeShot } from "@/server/actions/remove-shot";
import { openVersion } from "@/server/actions/save-plan";
import { changeShot, changeShotAndPlan, duplicateShot, makeShot } from "@/server/actions/shots";
import { startRun } from "@/server/actions/start-run";
import { requireShot } from "@/server/store/find-shot";
import { countsOf } from "@/core/tally/tally";
import { pool } from "@/server/db/pool";
import { listProjects } from "@/server/store/projects";
import { openRunsOfShot } from "@/server/store/runs";
import { loadSequence } from "@/server/views/tally";
import { viewShot } from "@/server/views/shot";
import { viewProjects } from "@/server/views/projects";
import { viewShots } from "@/server/views/shots";
import { writeScene } from "../support/scene";
import { PLAN } from "../support/plan";
import { wavFile } from "../support/sound";
import { openStage, type Stage, until } from "../support/stage";

const RATE = { numerator: 25, denominator: 1 };
const OTHER = { slug: "other-film", title: "Other Film", rate: RATE, root: "frames", folder: "other" };
const SHOT = { title: "the same code", firstFrame: 1, lastFrame: 24, markers: [] };

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
  await stage.addShot("A010", { frames: "1-4" });
  await stage.addShot("A020", { frames: "1-4" });
  await createProject(OTHER);
  await writeScene(path.join(stage.root, OTHER.folder));
  await makeShot(OTHER.slug, { ...SHOT, code: "A010" }, { ...PLAN, frames: "1-6" });
});
afterAll(() => stage.strike());

test("a project is made with its folder, and its shots are its own", async () => {
  expect((await fs.stat(path.join(stage.root, OTHER.folder))).isDirectory()).toBe(true);
  expect((await viewProjects()).projects.map((p) => [p.slug, p.shots])).toEqual([
    ["test-film", 2],
    ["other-film", 1],
  ]);
  expect((await viewShots("other-film")).shots.map((s) => s.code)).toEqual(["A010"]);
  await expect(viewShots("nowhere")).rejects.toMatchObject({ code: "project-unknown" });
});

test("a ledger is read as a whole, or the lines of some shots alone, each as in the whole", async () => {
  const all = (await viewShots("test-film")).shots;
  expect(all.map((s) => s.code)).toEqual(["A010", "A020"]);
  expect(all[1]!.sequences).toContain(all[1]!.sequenceId);
  const some = await viewShots("test-film", new Set(["A020", "not there", "../x"]));
  expect(some.shots).toEqual([all[1]]);
});

test("a bare code that two projects have is refused with both names; the whole name, or a code of one, is found", async () => {
  await expect(requireShot("A010")).rejects.toMatchObject({
    code: "shot-ambiguous",
    message: "Several projects have a shot A010: other-film/A010, test-film/A010. Say which.",
  });
  const wanted = { version: null, camera: null, pass: null };
  expect((await viewShot("other-film/A010", wanted)).plan.frames).toBe("1-6");
  expect((await viewShot("A020", wanted)).project.slug).toBe("test-film");
  const bare = await stage.cli("status", "A010");
  expect([bare.code, bare.stderr]).toEqual([2, expect.stringContaining("test-film/A010")]);
  const whole = JSON.parse((await stage.cli("status", "other-film/A010", "--json")).stdout) as object;
  expect(whole).toMatchObject({ project: "other-film", shot: "A010", asked: 6 });
  expect((await stage.cli("status", "other-film/A020")).code).toBe(2);
});

test.each<[string, () => Promise<unknown>, string, string]>([
  ["a project of a name that is taken", () => createProject({ ...OTHER, folder: "x" }), "name-taken", "slug"],
  [
    "a project on no root",
    () => createProject({ ...OTHER, slug: "x", root: "gone" }),
    "root-unknown",
    "root",
  ],
  [
    "a shot of a code that differs in capitals",
    () => makeShot("other-film", { ...SHOT, code: "a010" }, PLAN),
    "name-taken",
    "code",
  ],
  ["a shot that runs backwards", () => changeShot("A020", { firstFrame: 30 }), "shot-wrong", "lastFrame"],
  ["a project without a title", () => changeProject("other-film", { title: "" }), "project-wrong", "title"],
])("%s is refused at its field", (_what, make, code, field) =>
  expect(make()).rejects.toMatchObject({ code, faults: [{ field }] }),
);

test("a project that leads out of its root makes nothing", async () => {
  await expect(createProject({ ...OTHER, slug: "out", folder: "../out" })).rejects.toMatchObject({
    code: "path-outside-root",
  });
  expect((await viewProjects()).projects).toHaveLength(2);
});

test("title, rate, time line and markers can be changed; the names stay", async () => {
  await changeProject("other-film", { title: "The Other Film", rate: { numerator: 24, denominator: 1 } });
  await changeShot("other-film/A010", { lastFrame: 48, markers: [{ name: "storm", first: 3, end: 9 }] });
  const { project, shots } = await viewShots("other-film");
  expect([project.title, project.rate.numerator, shots[0]!.last]).toEqual(["The Other Film", 24, 48]);
  expect((await requireShot("other-film/A010")).shot.markers).toEqual([{ name: "storm", first: 3, end: 9 }]);
});

test("a shot whose plan is wrong is not made at all", async () => {
  await expect(
    makeShot("other-film", { ...SHOT, code: "A030" }, { ...PLAN, cameras: ["nowhere"] }),
  ).rejects.toMatchObject({ code: "plan-wrong", faults: [{ field: "cameras" }] });
  expect((await viewShots("other-film")).shots.map((s) => s.code)).toEqual(["A010"]);
});

test("two who take one code at one moment: one of them gets it", async () => {
  const take = () => makeShot("other-film", { ...SHOT, code: "A040" }, PLAN);
  const ends = await Promise.allSettled([take(), take(), take()]);
  expect(ends.filter((e) => e.status === "fulfilled")).toHaveLength(1);
  for (const end of ends)
    if (end.status === "rejected") expect(end.reason).toMatchObject({ code: "name-taken" });
  await removeShot("other-film/A040");
});

describe("a project's folder", () => {
  test.each([
    ["another's", "other"],
    ["inside another's", "other/inside"],
    ["the one that holds others'", "."],
  ])("%s is refused at its field", (_what, folder) =>
    expect(createProject({ ...OTHER, slug: "third", folder })).rejects.toMatchObject({
      code: "folder-shared",
      faults: [{ field: "folder" }],
    }),
  );
});

describe("a shot that is renamed", () => {
  test("keeps folder and names of what there is, and the next version takes the new one", async () => {
    const { folder, versionId } = await stage.addShot("R010", { frames: "1-2" });
    expect(await changeShot("test-film/R010", { code: "R015" })).toEqual({ kept: ["R010"] });
    const before = await viewShot("R015", { version: null, camera: null, pass: null });
    expect([before.folder, before.namedAs.namedShot]).toEqual([folder, "R010"]);
    await openVersion("test-film/R015", { ...PLAN, frames: "1-2" });
    const after = await viewShot("R015", { version: null, camera: null, pass: null });
    expect(after.folder).toBe(path.join(stage.projectFolder, "R015/v002/main/beauty"));
    expect(after.versionId).not.toBe(versionId);
    // What is rendered of the old version goes where the others of it are.
    await stage.startNode("quay-2");
    await startRun({
      sequenceId: before.sequence.id,
      scope: "version",
      phrase: "all",
      policy: "fill",
      nodes: null,
    });
    await until(
      "both frames are good",
      async () => countsOf((await loadSequence(before.sequence.id)).tally).results.good === 2,
    );
    expect(await fs.readdir(folder)).toEqual(["R010.0001.png", "R010.0002.png"]);
  });

  test("leaves its code to nobody while its frames lie under it", async () => {
    await stage.addShot("R020");
    await changeShot("test-film/R020", { code: "R025" });
    await expect(makeShot("test-film", { ...SHOT, code: "r020" }, PLAN)).rejects.toMatchObject({
      code: "name-on-disk",
      faults: [{ field: "code" }],
    });
    // It may have its own back.
    await changeShot("test-film/R025", { code: "R020" });
  });

  test("is refused while a run goes, and to be removed or archived then too", async () => {
    const { sequenceId } = await stage.addShot("R030", { frames: "1-2" });
    await startRun({ sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null });
    for (const ask of [
      () => changeShot("test-film/R030", { code: "R035" }),
      () => changeShot("test-film/R030", { isArchived: true }),
      () => removeShot("test-film/R030"),
    ])
      await expect(ask()).rejects.toMatchObject({ code: "shot-at-work" });
    await changeShot("test-film/R030", { title: "another title will do" });
  });
});

test("a plan of the whole time line follows it; one of some frames does not", async () => {
  await makeShot("other-film", { ...SHOT, code: "T010" }, { ...PLAN, frames: "1-24" });
  await makeShot("other-film", { ...SHOT, code: "T020" }, { ...PLAN, frames: "1-24/2" });
  for (const [code, isPlanned, frames] of [
    ["T010", true, "1-30"],
    ["T020", true, "1-24/2"],
  ] as const) {
    expect(await changeShotAndPlan(`other-film/${code}`, { lastFrame: 30 })).toEqual({
      kept: [],
      isPlanned,
    });
    const { plan } = await viewShot(`other-film/${code}`, { version: null, camera: null, pass: null });
    expect([plan.frames, plan.timeLine.last]).toEqual([frames, 30]);
  }
  expect(await changeShotAndPlan("other-film/T010", { markers: [] })).toEqual({
    kept: [],
    isPlanned: false,
  });
  for (const code of ["T010", "T020"]) await removeShot(`other-film/${code}`);
});

test("a copy has the plan and none of the frames", async () => {
  const copy = await duplicateShot("other-film/A010", "A015");
  expect((await viewShot("other-film/A015", { version: null, camera: null, pass: null })).plan.frames).toBe(
    "1-6",
  );
  expect(copy.version).toEqual({ version: 1, purpose: "final" });
  await removeShot("other-film/A015");
});

test("a shot has a sound of its project's files; one that is not there, no sound, or leads out is refused at its field", async () => {
  await fs.mkdir(path.join(stage.projectFolder, "scenes/sound"), { recursive: true });
  await fs.writeFile(path.join(stage.projectFolder, "scenes/sound/gulls.wav"), wavFile(1));
  await stage.addShot("SND1", { frames: "1-4" });
  const soundOf = async (code = "SND1") =>
    (await viewShot(`test-film/${code}`, { version: null, camera: null, pass: null })).sound;
  expect(await soundOf()).toBeNull();
  const sound = { path: "scenes/sound/gulls.wav", offset: -0.5 };
  await changeShot("test-film/SND1", { sound });
  expect(await soundOf()).toEqual({ ...sound, version: expect.stringMatching(/^16044-\d+$/) });
  for (const [path, code] of [
    ["scenes/sound/away.wav", "sound-missing"],
    ["scenes/sound", "sound-wrong"],
    ["scenes/test.json", "sound-wrong"],
    ["../../elsewhere.wav", "path-outside-root"],
  ] as const)
    await expect(changeShot("test-film/SND1", { sound: { path, offset: 0 } })).rejects.toMatchObject({
      code,
      faults: [{ field: "sound" }],
    });
  await expect(changeShot("test-film/SND1", { sound: { ...sound, offset: 1e9 } })).rejects.toMatchObject({
    code: "sound-wrong",
  });
  // Another change of the shot keeps it, a copy has it, and a file that went away is told as such.
  await changeShot("test-film/SND1", { title: "with gulls" });
  await duplicateShot("test-film/SND1", "SND2");
  await fs.rm(path.join(stage.projectFolder, "scenes/sound/gulls.wav"));
  expect(await soundOf("SND2")).toEqual({ ...sound, version: null });
  await duplicateShot("test-film/SND2", "SND3");
  expect(await soundOf("SND3")).toEqual({ ...sound, version: null });
  await changeShot("test-film/SND1", { sound: null });
  expect(await soundOf()).toBeNull();
});

test("what is archived is not listed, and comes back as it was", async () => {
  await changeShot("other-film/A010", { isArchived: true });
  expect((await viewShots("other-film")).shots).toEqual([]);
  await changeShot("other-film/A010", { isArchived: false });
  expect((await viewShots("other-film")).shots).toHaveLength(1);
  await changeProject("other-film", { isArchived: true });
  const find = async () => (await viewProjects()).projects.find((p) => p.slug === "other-film");
  expect(await find()).toMatchObject({ isArchived: true });
  expect((await listProjects(pool())).map((p) => p.slug)).toEqual(["test-film"]);
  await changeProject("other-film", { isArchived: false });
  expect(await find()).toMatchObject({ isArchived: false });
});

test("what is removed leaves its files, says where, and can be made again", async () => {
  const { folder } = await stage.addShot("X010", { frames: "1-2" });
  await fs.mkdir(folder, { recursive: true });
  await fs.writeFile(path.join(folder, "X010.0001.png"), "a frame");
  expect(await removeShot("test-film/X010")).toMatchObject({
    folder: path.join(stage.projectFolder, "X010"),
  });
  expect(await fs.readdir(folder)).toEqual(["X010.0001.png"]);
  await stage.addShot("X010", { frames: "1-2" });
});

test("a project goes with its shots, its runs and their attempts, and its folder is free again", async () => {
  const third = { ...OTHER, slug: "third-film", folder: "third" };
  await createProject(third);
  await writeScene(path.join(stage.root, third.folder));
  const { sequenceId } = await makeShot("third-film", { ...SHOT, code: "C010" }, { ...PLAN, frames: "1-2" });
  await stage.startNode("quay-1");
  await startRun({ sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null });
  await until("both are there", async () => (await loadSequence(sequenceId)).files.length === 2);
  await until(
    "it is at rest",
    async () => (await openRunsOfShot(pool(), (await requireShot("third-film/C010")).shot.id)).length === 0,
  );
  expect(await removeProject("third-film")).toMatchObject({
    folder: path.join(stage.root, "third"),
    files: 2,
  });
  expect((await viewProjects()).projects.map((p) => p.slug)).not.toContain("third-film");
  expect((await fs.readdir(path.join(stage.root, "third/C010/v001/main/beauty"))).length).toBe(2);
  await createProject({ ...third, slug: "fourth-film" });
});
