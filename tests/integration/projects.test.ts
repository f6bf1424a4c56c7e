/** Projects and shots: made, changed, and found by their names from pages and the command line. */
import fs from "node:fs/promises";
import path from "node:path";
import { changeProject, changeShot, createProject, createShot } from "@/server/actions/projects";
import { openVersion } from "@/server/actions/save-plan";
import { requireShot } from "@/server/store/find-shot";
import { viewShot } from "@/server/views/shot";
import { viewProjects, viewShots } from "@/server/views/shots";
import { writeScene } from "../support/scene";
import { PLAN } from "../support/plan";
import { openStage, type Stage } from "../support/stage";

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
  await createShot(OTHER.slug, { ...SHOT, code: "A010" });
  await openVersion("other-film/A010", { ...PLAN, frames: "1-6" });
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
    () => createShot("other-film", { ...SHOT, code: "a010" }),
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
