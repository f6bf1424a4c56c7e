import { POLICIES } from "@/core/run/what-to-render";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { closePool } from "@/server/db/pool";
import { writeScene } from "../support/scene";
import { openStage, runCli, type Stage } from "../support/stage";

let folder: string;
beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-cli-"));
  await writeScene(folder);
});
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

const json = (text: string): unknown => JSON.parse(text);

describe("frames", () => {
  test("a phrase as one JSON object", async () =>
    expect(json((await runCli(["frames", "1-10/3,!4", "--json"])).stdout)).toEqual({
      phrase: "1,7,10",
      count: 3,
      first: 1,
      last: 10,
    }));
  test("one number a line, and back again from standard input", async () => {
    const { stdout } = await runCli(["frames", "1-3,8", "--list"]);
    expect(stdout).toBe("1\n2\n3\n8\n");
    expect((await runCli(["frames", "--from-list"], {}, stdout)).stdout).toBe("1-3,8\n");
  });
  test("a phrase that begins with a minus is an argument", async () =>
    expect(json((await runCli(["frames", "-5--1", "--json"])).stdout)).toMatchObject({
      count: 5,
      first: -5,
    }));
  test("ten million frames count at once", async () =>
    expect(json((await runCli(["frames", "1-10000000,!1000-10000000/1000", "--json"])).stdout)).toMatchObject(
      { count: 9_990_000 },
    ));
  test("only what lies within", async () =>
    expect(json((await runCli(["frames", "1-100", "--within", "95-200", "--json"])).stdout)).toMatchObject({
      phrase: "95-100",
    }));
  test.each([
    ["90-86", "column 1"],
    ["1-5,90-86", 'column 5: "90-86" runs backwards; write 86-90'],
    ["", "column 1"],
    ["1-5,missing", "column 5"],
  ])("%p is a wrong call with its column", async (phrase, message) => {
    const ended = await runCli(["frames", phrase]);
    expect([ended.code, ended.stderr]).toEqual([2, expect.stringContaining(message)]);
  });
});

describe("render, check and scan", () => {
  test("a range renders to padded names; the same call gives the same bytes", async () => {
    const call = (to: string) =>
      runCli([
        "render",
        path.join(folder, "scenes/test.json"),
        "--range",
        "9-11",
        "--out",
        path.join(folder, to, "side.####.png"),
        "--size",
        "40x24",
        "--samples",
        "2",
      ]);
    expect([(await call("a")).code, (await call("b")).code]).toEqual([0, 0]);
    expect((await fs.readdir(path.join(folder, "a"))).sort()).toEqual([
      "side.0009.png",
      "side.0010.png",
      "side.0011.png",
    ]);
    for (const name of await fs.readdir(path.join(folder, "a")))
      expect(
        (await fs.readFile(path.join(folder, "a", name))).equals(
          await fs.readFile(path.join(folder, "b", name)),
        ),
      ).toBe(true);
  });
  test("a folder is checked file by file; damage is exit 1", async () => {
    const place = path.join(folder, "a");
    const whole = await runCli(["check", place, "--json"]);
    expect([whole.code, json(whole.stdout)]).toEqual([
      0,
      ["0009", "0010", "0011"].map((n) => ({
        path: path.join(place, `side.${n}.png`),
        format: "png",
        verdict: "good",
        code: null,
        detail: null,
        width: 40,
        height: 24,
        bitDepth: 8,
        channels: 3,
      })),
    ]);
    await fs.truncate(path.join(place, "side.0010.png"), 500);
    const cut = await runCli(["check", place, "--json"]);
    expect(cut.code).toBe(1);
    expect(json(cut.stdout)).toContainEqual(
      expect.objectContaining({ verdict: "damaged", code: "truncated", width: 40, height: 24 }),
    );
  });
  test("a folder is read into sequences with gaps, doubles, widths, strangers and leftovers", async () => {
    const place = path.join(folder, "mixed");
    await fs.mkdir(place);
    for (const name of ["side_8.png", "side_009.png", "side_9.png", "side_012.png"])
      await fs.writeFile(path.join(place, name), "1234567890");
    await fs.writeFile(path.join(place, "notes.txt"), "");
    await fs.writeFile(path.join(place, "side_013.png.part7"), "");
    const ended = await runCli(["scan", place, "--json"]);
    expect(ended.code).toBe(1);
    expect(json(ended.stdout)).toEqual({
      sequences: [
        {
          name: "side_###.png",
          first: 8,
          last: 12,
          count: 3,
          missing: "10-11",
          widths: [1, 3],
          doubles: [{ frame: 9, files: ["side_009.png", "side_9.png"] }],
          bytes: 40,
        },
      ],
      others: ["notes.txt"],
      leftovers: ["side_013.png.part7"],
    });
  });
  test("folders below are read too, each sequence with the camera and pass that it seems to be of; a loop of links ends", async () => {
    const place = path.join(folder, "below");
    for (const below of ["camB/depth", ".tally/aside", "sheets"])
      await fs.mkdir(path.join(place, below), { recursive: true });
    for (const name of [
      "quay.0001.png",
      "quay.0002.png",
      "camB/depth/quay.0004.exr",
      ".tally/aside/a.0001.png",
    ])
      await fs.writeFile(path.join(place, name), "1234567890");
    await fs.writeFile(path.join(place, "sheets/notes.txt"), "");
    await fs.symlink(place, path.join(place, "camB/again"));
    const ended = await runCli(["scan", place, "--below", "--json"]);
    expect(ended.code).toBe(0);
    const found = json(ended.stdout) as { sequences: object[]; others: string[]; unreadable: object[] };
    expect(found.sequences).toEqual([
      expect.objectContaining({
        folder: "",
        camera: "main",
        pass: "beauty",
        name: "quay.####.png",
        count: 2,
      }),
      expect.objectContaining({ folder: "camB/depth", camera: "camB", pass: "depth", first: 4 }),
    ]);
    expect([found.others, found.unreadable]).toEqual([["sheets/notes.txt"], []]);
  });
  test.each([
    ["a missing texture", ["--frame", "1"], "gone.json", 1, "textures/gone.png"],
    ["a camera that is not there", ["--frame", "1", "--camera", "top"], "test.json", 2, 'no camera "top"'],
    ["a size of nought", ["--frame", "1", "--size", "0x10"], "test.json", 2, "--size"],
    ["no frame at all", [], "test.json", 2, "--frame N or --range"],
  ] as const)("%s ends with its code and a sentence", async (_name, options, scene, code, message) => {
    const text = await fs.readFile(path.join(folder, "scenes/test.json"), "utf8");
    await fs.writeFile(path.join(folder, "scenes/gone.json"), text.replace("check.png", "gone.png"));
    const ended = await runCli([
      "render",
      path.join(folder, "scenes", scene),
      ...options,
      "--out",
      path.join(folder, "no.png"),
    ]);
    expect([ended.code, ended.stderr]).toEqual([code, expect.stringContaining(message)]);
    expect(await fs.readdir(folder)).not.toContain("no.png");
  });
});

describe("beside a database", () => {
  let stage: Stage;
  beforeAll(async () => {
    stage = await openStage();
    await stage.addShot("C1", { frames: "1-4" });
  });
  afterAll(async () => {
    await stage.strike();
    await closePool();
  });
  test("status tells the tally; run renders and waits; then all is good", async () => {
    const before = await stage.cli("status", "C1", "--json");
    expect(before.code).toBe(1);
    expect(json(before.stdout)).toMatchObject({
      shot: "C1",
      version: 1,
      camera: "main",
      pass: "beauty",
      asked: 4,
      results: { good: 0, missing: 4, extra: 0 },
      activity: { waiting: 0, rendering: 0, checking: 0 },
      todo: "1-4",
    });
    await stage.startNode("quay-1");
    const run = await stage.cli("run", "C1", "2-9", "--wait", "--json");
    expect([run.code, json(run.stdout)]).toEqual([0, { run: expect.any(Number), frames: "2-4", count: 3 }]);
    // Nothing of it is planned: that is not "nothing needs rendering".
    const outside = await stage.cli("run", "C1", "5000", "--json");
    expect([outside.code, outside.stderr]).toEqual([2, expect.stringContaining("5000")]);
    expect(outside.stderr).not.toContain("needs rendering");
    expect(json((await stage.cli("status", "C1", "--json")).stdout)).toMatchObject({
      results: { good: 3, missing: 1 },
      todo: "1",
    });
    expect(json((await stage.cli("status", "--json")).stdout)).toMatchObject([{ shot: "C1", todo: "1" }]);
  });
  test("a shot that is not there is a wrong call; a database that is not there is the system's fault", async () => {
    expect((await stage.cli("status", "NONE")).code).toBe(2);
    const away = await runCli(["status", "C1"], {
      ...stage.env,
      PLAIN_TALLY_DATABASE_URL: "mysql://tally:x@127.0.0.1:9/none",
    });
    expect([away.code, away.stderr]).toEqual([3, expect.stringContaining("the database cannot be reached")]);
  });
});

describe("help", () => {
  test("names every command; each says what it is for, describes every option, and gives a call that works", async () => {
    const namesIn = (help: string): string[] =>
      [...(help.split(/^Commands:$/m)[1] ?? "").matchAll(/^ {2}([a-z][a-z-]*) /gm)]
        .map(([, name]) => name!)
        .filter((name) => name !== "help");
    const names = namesIn((await runCli(["--help"])).stdout);
    expect(names.length).toBeGreaterThan(8);
    const waiting = names.map((name) => [name]);
    for (let call = waiting.shift(); call !== undefined; call = waiting.shift()) {
      const name = call.join(" ");
      const { stdout } = await runCli([...call, "--help"]);
      const [head, options = ""] = stdout.split(/^Options:$/m);
      expect([name, /^[A-Z].*\.$/m.test(head!.split("\n").slice(1).join("\n"))]).toEqual([name, true]);
      const inner = namesIn(stdout);
      waiting.push(...inner.map((sub) => [...call!, sub]));
      // A group of commands has its examples at each of them.
      if (inner.length > 0) continue;
      expect([name, stdout.includes(`Example:\n  plain-tally ${name}`)]).toEqual([name, true]);
      // An option that is not described stands alone on its line.
      const bare = options.split("\n").filter((line) => /^ {2}-\S+( <\S+>)?$/.test(line.trimEnd()));
      expect([name, bare]).toEqual([name, []]);
      const args = head!.split(/^Arguments:$/m)[1] ?? "";
      expect([name, args.split("\n").filter((line) => /^ {2}\S+$/.test(line.trimEnd()))]).toEqual([name, []]);
    }
  });

  test("names every policy", async () => {
    const { stdout } = await runCli(["run", "--help"]);
    for (const policy of POLICIES) expect(stdout).toContain(`${policy}:`);
  });
});
