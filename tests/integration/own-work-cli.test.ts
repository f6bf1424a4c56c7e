/** A project with three shots, planned, run and patched without any page: what a studio scripts. */
import fs from "node:fs/promises";
import path from "node:path";
import { writeScene } from "../support/scene";
import { wavFile } from "../support/sound";
import { openStage, type Stage } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(() => stage.strike());

/** What a call prints as JSON, with its exit code. */
async function json<T>(
  ...args: string[]
): Promise<{ readonly code: number; readonly value: T; readonly err: string }> {
  const ended = await stage.cli(...args, "--json");
  const value = (ended.stdout === "" ? null : JSON.parse(ended.stdout)) as T;
  return { code: ended.code, value, err: ended.stderr };
}

test("a project with three shots is made, planned, run and patched", async () => {
  const folder = path.join(stage.root, "script-film");
  expect(
    await json(
      "project",
      "add",
      "script-film",
      "--title",
      "By Script",
      "--rate",
      "23.976",
      "--root",
      "frames",
    ),
  ).toMatchObject({
    code: 0,
    value: {
      slug: "script-film",
      title: "By Script",
      rate: { numerator: 24000, denominator: 1001 },
      folder,
    },
  });
  await writeScene(folder);
  expect(
    await json(
      "shot",
      "add",
      "SF010",
      "--project",
      "script-film",
      "--scene",
      "scenes/test.json",
      "--frames",
      "1-3",
    ),
  ).toMatchObject({
    code: 0,
    value: {
      code: "SF010",
      project: "script-film",
      version: "v001",
      sequences: [{ camera: "main", pass: "beauty", folder: path.join(folder, "SF010/v001/main/beauty") }],
    },
  });
  await fs.writeFile(
    path.join(stage.root, "list.csv"),
    "code,first,last,scene\nSF020,1,2,scenes/test.json\nSF030,1,2,scenes/test.json\nSF040,1,x,\n",
  );
  const list = path.join(stage.root, "list.csv");
  const brought = await json<{ made: object[]; wrong: object[] }>(
    "shot",
    "import",
    list,
    "--project",
    "script-film",
  );
  expect([brought.code, brought.value.made.length, brought.value.wrong]).toEqual([
    2,
    2,
    [{ line: 4, message: '"x" in the column last is no frame.' }],
  ]);

  for (const shot of ["SF010", "SF020", "SF030"])
    expect(
      await json(
        "plan",
        `script-film/${shot}`,
        "--set",
        "width=48",
        "--set",
        "height=27",
        "--set",
        "samples=2",
      ),
    ).toMatchObject({ code: 0, value: { version: "v001", revision: 2 } });

  await stage.startNode("quay-1");
  for (const shot of ["SF010", "SF020", "SF030"])
    expect((await stage.cli("run", `script-film/${shot}`, "--wait")).code).toBe(0);
  expect(await json("status", "script-film/SF010")).toMatchObject({ code: 0, value: { todo: "" } });

  // One file is damaged: it is found, and patched.
  await fs.truncate(path.join(folder, "SF010/v001/main/beauty/SF010_v001.0002.png"), 40);
  const check = await stage.cli("check", path.join(folder, "SF010/v001/main/beauty"));
  expect([check.code, check.stdout]).toEqual([1, expect.stringContaining("0002")]);
  expect((await stage.cli("run", "script-film/SF010", "2", "--policy", "all", "--wait")).code).toBe(0);
  expect((await stage.cli("check", path.join(folder, "SF010/v001/main/beauty"))).code).toBe(0);
});

test.each([
  ["a project of a name that is taken", ["project", "add", "script-film"], "script-film"],
  [
    "a shot of a code that is taken",
    ["shot", "add", "SF010", "--project", "script-film", "--frames", "1-2"],
    "SF010",
  ],
  ["a value that no plan may have", ["plan", "script-film/SF010", "--set", "samples=0"], "samples"],
  ["a field that no plan has", ["plan", "script-film/SF010", "--set", "colour=red"], "colour"],
  ["a scene that is not there", ["plan", "script-film/SF010", "--set", "scene=scenes/x.json"], "scene"],
  [
    "a time line with holes",
    ["shot", "add", "SF050", "--project", "script-film", "--frames", "1-9/2"],
    "stretch",
  ],
  ["a root that is none", ["root", "add", "films", "relative/path"], "PLAIN_TALLY_ROOTS"],
  ["a default that no preset keeps", ["project", "defaults", "script-film", "--set", "frames=1-2"], "frames"],
  ["a default that no plan may have", ["project", "defaults", "script-film", "--set", "width=0"], "width"],
  ["a run that is not there", ["stop", "99999"], "run"],
])("%s is refused with exit 2 and a sentence", async (_what, args, word) => {
  const ended = await stage.cli(...args);
  expect([ended.code, ended.stdout]).toEqual([2, ""]);
  expect(ended.stderr).toContain(word);
});

test("shots and projects are renamed, copied, archived and removed; runs are told, stopped and resumed", async () => {
  expect((await stage.cli("shot", "copy", "script-film/SF010", "SF060")).code).toBe(0);
  expect(await json("shot", "rename", "script-film/SF010", "SF015", "--title", "the quay")).toMatchObject({
    code: 0,
    value: { code: "SF015", kept: ["SF010"] },
  });
  const archived = await json(
    "shot",
    "archive",
    "script-film/SF020",
    "script-film/SF030",
    "script-film/NONE",
  );
  expect(archived).toMatchObject({
    code: 2,
    value: [
      { shot: "script-film/SF020", archived: true },
      { shot: "script-film/SF030", archived: true },
    ],
    err: expect.stringContaining("NONE"),
  });
  const listed = await json<{ code: string }[]>("shot", "list", "--project", "script-film");
  expect(listed.value.map((s) => s.code)).toEqual(["SF015", "SF060"]);
  expect((await stage.cli("shot", "archive", "script-film/SF020", "--undo")).code).toBe(0);

  // What plans of new shots begin with.
  await json("project", "defaults", "script-film", "--set", "width=2048", "--set", "passes=beauty,depth");
  await json(
    "shot",
    "add",
    "SF070",
    "--project",
    "script-film",
    "--frames",
    "1-2",
    "--scene",
    "scenes/test.json",
  );
  expect(
    (await json<{ plan: { width: number; passes: string[] } }>("plan", "script-film/SF070")).value.plan,
  ).toMatchObject({ width: 2048, passes: ["beauty", "depth"] });
  expect((await json("project", "defaults", "script-film", "--usual")).value).toEqual({
    slug: "script-film",
    defaults: {},
  });
  await json("shot", "remove", "script-film/SF070");

  // Stretches, as lines and as a table; a wrong line changes nothing.
  const table = path.join(stage.root, "stretches.csv");
  await fs.writeFile(table, "name,first,last\ndusk,1,2\n");
  await fs.writeFile(path.join(stage.root, "script-film/scenes/sf060.wav"), wavFile(0.5));
  expect(
    (await json("shot", "sound", "script-film/SF060", "--set", "scenes/sf060.wav", "--offset", "-0.25"))
      .value,
  ).toEqual({ path: "scenes/sf060.wav", offset: -0.25 });
  expect(await stage.cli("shot", "sound", "script-film/SF060", "--offset", "soon")).toMatchObject({
    code: 2,
  });
  expect((await stage.cli("shot", "sound", "script-film/SF060", "--none")).stdout).toBe(
    "SF060 has no sound.\n",
  );
  expect((await json("shot", "markers", "script-film/SF060", "--set", table)).value).toEqual([
    { name: "dusk", first: 1, last: 2 },
  ]);
  await fs.writeFile(table, "dawn 3-4\nnoon 9-1\n");
  expect(await stage.cli("shot", "markers", "script-film/SF060", "--set", table)).toMatchObject({
    code: 2,
    stderr: expect.stringContaining("line 2: The marker noon ends before it begins"),
  });
  expect((await stage.cli("shot", "markers", "script-film/SF060")).stdout).toBe("dusk 1-2\n");
  // A plan keeps the numbers of a stretch.
  const frames = async () =>
    (await json<{ plan: { frames: string } }>("plan", "script-film/SF060")).value.plan.frames;
  const before = await frames();
  await json("plan", "script-film/SF060", "--set", "frames=marker(dusk)");
  expect(await frames()).toBe("1-2");
  await json("plan", "script-film/SF060", "--set", `frames=${before}`);
  expect(await stage.cli("plan", "script-film/SF060", "--set", "frames=marker(dawn)")).toMatchObject({
    code: 2,
    stderr: expect.stringContaining("frames: "),
  });

  const { value: run } = await json<{ run: number }>("run", "script-film/SF060", "--nodes", "nobody-yet");
  expect((await json<{ run: number }[]>("runs")).value.map((r) => r.run)).toEqual([run.run]);
  expect(await json("change", String(run.run), "--priority", "1")).toMatchObject({ value: { priority: 1 } });
  expect(await json("stop", String(run.run), "--now")).toMatchObject({ value: { state: "stopped" } });
  expect(await json("resume", String(run.run))).toMatchObject({ value: { state: "active", left: 3 } });
  expect(await stage.cli("project", "remove", "script-film")).toMatchObject({ code: 2 });
  const removed = await json<{ files: number; folder: string }>("project", "remove", "script-film", "--stop");
  expect(removed).toMatchObject({ code: 0, value: { folder: path.join(stage.root, "script-film") } });
  expect((await json<{ slug: string }[]>("project", "list", "--all")).value.map((p) => p.slug)).toEqual([
    "test-film",
  ]);
  expect((await fs.stat(path.join(stage.root, "script-film/SF010"))).isDirectory()).toBe(true);
});
