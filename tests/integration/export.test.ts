/** Handing over from a shell: lists, tables, sheets, pages, reports and copies, and what stops them. */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { promisify } from "node:util";
import sharp from "sharp";
import type { HandoverResult } from "@/contract/handover";
import { readOtio } from "@/core/edit/otio";
import { flagFrames } from "@/server/actions/flags";
import { sha256 } from "@/server/files/content";
import { catchUp } from "@/server/folder/check";
import { pool } from "@/server/db/pool";
import { requireSequence } from "@/server/store/shots";
import { numbersIn, probe } from "../support/decoded";
import { frameFile, layNumbered, numberedPicture } from "../support/numbered-pictures";
import { type Ended, openStage, type Stage } from "../support/stage";

const run = promisify(execFile);
const SIZE = { width: 160, height: 90 };
let stage: Stage;
/** 1 to 8; 3 is missing and 5 is flagged. */
let holey: { readonly sequenceId: number; readonly folder: string };
/** 1 to 4, all good. */
let whole: typeof holey;

beforeAll(async () => {
  stage = await openStage();
  holey = await stage.addShot("EX1", { frames: "1-8", ...SIZE });
  await layNumbered(holey.folder, "EX1", [1, 2, 4, 5, 6, 7, 8], SIZE);
  await catchUp(await requireSequence(holey.sequenceId));
  await flagFrames(holey.sequenceId, "5", "too dark");
  whole = await stage.addShot("EX2", { frames: "1-4", ...SIZE });
  await layNumbered(whole.folder, "EX2", [1, 2, 3, 4], SIZE);
});
afterAll(() => stage.strike());

const hand = (shot: string, as: string, ...more: string[]): Promise<Ended> =>
  stage.cli("export", shot, "--as", as, "--json", ...more);
const made = async (shot: string, as: string, ...more: string[]): Promise<HandoverResult> => {
  const ended = await hand(shot, as, ...more);
  if (ended.code !== 0) throw new Error(ended.stderr);
  return JSON.parse(ended.stdout) as HandoverResult;
};
const textOf = async (shot: string, as: string, ...more: string[]): Promise<string> =>
  fs.readFile((await made(shot, as, ...more)).path, "utf8");

describe("gaps", () => {
  test("stop: exit 1, every trouble by name, and nothing is there", async () => {
    const before = await fs.readdir(path.join(stage.projectFolder, "handovers")).catch(() => []);
    const ended = await hand("EX1", "movie");
    expect(ended.code).toBe(1);
    expect(ended.stderr).toContain("no picture: 3; flagged: 5");
    expect(await fs.readdir(path.join(stage.projectFolder, "handovers")).catch(() => [])).toEqual(before);
  });

  test("hold: the frame before stands for it, and the result says so", async () => {
    const movie = await made("EX1", "movie", "--codec", "ffv1", "--gaps", "hold");
    expect(await numbersIn(movie.path)).toEqual([1, 2, 2, 4, 4, 6, 7, 8]);
    expect(movie.warnings.join(" ")).toContain("flagged: 5: the frame before was held");
  });

  test("card: a black picture with the number", async () => {
    const movie = await made("EX1", "movie", "--codec", "ffv1", "--gaps", "card");
    const numbers = await numbersIn(movie.path);
    expect([numbers[2], numbers[4]].every((number) => number === 0 || number === -1)).toBe(true);
    expect(numbers.filter((_, i) => i !== 2 && i !== 4)).toEqual([1, 2, 4, 6, 7, 8]);
  });

  test("a phrase that leaves out what is wrong goes through", async () => {
    expect((await made("EX1", "list", "--frames", "good")).frames).toBe(6);
  });
});

describe("lists and tables", () => {
  test("a path a line, in the order of the numbers", async () => {
    expect(await textOf("EX2", "list")).toBe(
      [1, 2, 3, 4].map((n) => `${path.join(whole.folder, frameFile("EX2", n))}\n`).join(""),
    );
  });

  test("sums are accepted by sha256sum -c in the sequence's folder", async () => {
    const { path: file, folder } = await made("EX2", "sums");
    const { stdout } = await run("sha256sum", ["-c", file], { cwd: folder });
    expect(stdout.match(/: OK$/gm)).toHaveLength(4);
    const changed = path.join(stage.root, "changed.sha256");
    await fs.writeFile(
      changed,
      (await fs.readFile(file, "utf8")).replace(/^./, (c) => (c === "0" ? "1" : "0")),
    );
    await expect(run("sha256sum", ["-c", changed], { cwd: folder })).rejects.toThrow(
      "1 computed checksum did NOT match",
    );
  });

  test("the list for ffmpeg is read by ffmpeg, frame by frame", async () => {
    const { path: file } = await made("EX2", "concat");
    const movie = path.join(stage.root, "concat.mkv");
    await run("ffmpeg", [
      "-v",
      "error",
      "-f",
      "concat",
      "-safe",
      "0",
      "-i",
      file,
      "-c:v",
      "ffv1",
      "-vsync",
      "passthrough",
      movie,
    ]);
    expect((await numbersIn(movie)).slice(0, 4)).toEqual([1, 2, 3, 4]);
  });

  test("CSV and JSON tell every frame, whatever is wrong", async () => {
    const lines = (await textOf("EX1", "csv")).trim().split("\n");
    expect(lines).toHaveLength(9);
    expect([lines[3], lines[5]]).toEqual([
      expect.stringMatching(/^3,missing,,/),
      expect.stringMatching(/^5,flagged,EX1\.0005\.png,.*too dark$/),
    ]);
    const tally = JSON.parse(await textOf("EX1", "json"));
    expect(tally).toMatchObject({ shot: "EX1", asked: "1-8", todo: "3,5", results: { good: 6, missing: 1 } });
    expect(tally.frames).toHaveLength(8);
    expect(tally.frames[0].sha256).toBe(
      sha256(await fs.readFile(path.join(holey.folder, frameFile("EX1", 1)))),
    );
  });

  test("the patch list is a phrase that a run takes, and why", async () => {
    expect(await textOf("EX1", "patch")).toBe("3,5\n3 missing\n5 flagged too dark\n");
    expect(await textOf("EX2", "patch")).toBe("");
  });

  test("the clip for the edit is read as one, at the rate that was asked for", async () => {
    const text = await textOf("EX2", "otio", "--rate", "25");
    const read = readOtio(text, { numerator: 25, denominator: 1 });
    expect(read.ok && read.edit.clips).toMatchObject([{ first: 1, end: 5 }]);
    expect(text).toContain(`file://${whole.folder}/`);
  });
});

describe("sheet, page, report", () => {
  test("a contact sheet as PNG and as PDF", async () => {
    const png = await made("EX2", "sheet", "--settings", '{"columns":2}');
    const { width, height } = await sharp(png.path).metadata();
    expect([width, height]).toEqual([2 * 24 + 2 * 160 + 12, 2 * 24 + 40 + 2 * (90 + 22) + 12]);
    // Where the second picture's squares are: 2 has its second bit set.
    const pixels = await sharp(png.path).removeAlpha().raw().toBuffer();
    const at = (x: number, y: number): number => pixels[(y * width! + x) * 3]!;
    const second = { left: 24 + 160 + 12, top: 24 + 40 };
    expect([at(second.left + 8, second.top + 20) < 60, at(second.left + 24, second.top + 20) > 200]).toEqual([
      true,
      true,
    ]);
    const pdf = await made("EX1", "sheet", "--gaps", "card", "--settings", '{"format":"pdf"}');
    expect((await fs.readFile(pdf.path)).subarray(0, 5).toString()).toBe("%PDF-");
  });

  test("the moving page holds every picture and fetches nothing", async () => {
    const text = await textOf("EX2", "page");
    expect(text.match(/^pictures\.push\(\["\d+", "\/9j\//gm)).toHaveLength(4);
    expect(text).not.toMatch(/https?:|src="\/|href=/);
  });

  test("the report tells what is wrong, who said so, and what was handed over", async () => {
    const text = await textOf("EX1", "report");
    for (const part of ["6 of 8 good", "too dark", "Movie, FFV1", "What was handed over"])
      expect(text).toContain(part);
  });
});

describe("copies", () => {
  test("a clean sequence of good frames, numbered from elsewhere, byte for byte", async () => {
    const copy = await made(
      ...([
        "EX1",
        "frames",
        "--frames",
        "good",
        "--settings",
        '{"from":101,"digits":5,"name":"quay"}',
      ] as const),
    );
    const names = (await fs.readdir(copy.path)).sort();
    expect(names).toEqual([101, 102, 103, 104, 105, 106].map((n) => `quay.00${n}.png`));
    const originals = [1, 2, 4, 6, 7, 8].map((n) =>
      fs.readFile(path.join(holey.folder, frameFile("EX1", n))),
    );
    const copies = names.map((name) => fs.readFile(path.join(copy.path, name)));
    expect((await Promise.all(copies)).map(sha256)).toEqual((await Promise.all(originals)).map(sha256));
    expect(copy.bytes).toBe((await Promise.all(originals)).reduce((sum, b) => sum + b.length, 0));
  });

  test("converted on the way: linear files to PNG through their view, PNG to JPEG", async () => {
    const { folder } = await stage.addShot("EX3", {
      frames: "1-2",
      width: 64,
      height: 36,
      file: { kind: "exr", depth: "half", compression: "zip" },
    });
    await fs.mkdir(folder, { recursive: true });
    await stage.cli(
      ...["render", path.join(stage.projectFolder, "scenes/test.json"), "--range", "1-2", "--size", "64x36"],
      ...["--samples", "4", "--out", path.join(folder, "EX3.####.exr")],
    );
    const png = await made("EX3", "frames", "--settings", '{"format":"png8"}');
    expect((await fs.readdir(png.path)).sort()).toEqual(["EX3.0001.png", "EX3.0002.png"]);
    expect(await sharp(path.join(png.path, "EX3.0001.png")).metadata()).toMatchObject({
      width: 64,
      depth: "uchar",
      channels: 3,
    });
    const jpeg = await made("EX2", "frames", "--settings", '{"format":"jpeg"}');
    expect(await sharp(path.join(jpeg.path, "EX2.0001.jpg")).metadata()).toMatchObject({
      format: "jpeg",
      ...SIZE,
    });
  });

  test("cards have no place among files as they are, and names must not meet", async () => {
    const cards = await hand("EX1", "frames", "--gaps", "card");
    expect([cards.code, cards.stderr]).toEqual([2, expect.stringContaining("frame 3 has no file")]);
    const before = await fs.readdir(path.join(stage.projectFolder, "handovers"));
    expect(before.filter((name) => name.includes(".part"))).toEqual([]);
  });
});

describe("where it goes", () => {
  test("--out decides place and kind, and never replaces anything", async () => {
    const out = path.join(stage.root, "mine.webm");
    const movie = await made("EX2", "movie", "--out", out);
    expect([movie.path, (await probe(out)).codec]).toEqual([out, "vp9"]);
    const again = await hand("EX2", "movie", "--out", out);
    expect([again.code, again.stderr]).toEqual([2, expect.stringContaining("nothing is replaced")]);
    const odd = await hand("EX2", "movie", "--codec", "prores", "--out", path.join(stage.root, "a.mp4"));
    expect([odd.code, odd.stderr]).toEqual([2, expect.stringContaining("goes into mov")]);
  });
});

describe("bad input", () => {
  test.each([
    [["--as", "film"], "--as must be"],
    [["--as", "movie", "--frames", "9-"], "column"],
    [["--as", "movie", "--rate", "fast"], "--rate"],
    [["--as", "movie", "--settings", "[1]"], "--settings"],
    [["--as", "movie", "--settings", '{"percent":0}'], "percent"],
    [["--as", "movie", "--settings", '{"loops":0}'], "play for ever"],
    [["--as", "movie", "--codec", "gif", "--settings", '{"quality":3}'], "quality"],
    [
      ["--as", "movie", "--settings", '{"sound":{"path":"../../etc/passwd","from":0,"offset":0}}'],
      "leads out",
    ],
    [["--as", "sheet", "--settings", '{"columns":0}'], "columns"],
    [["--as", "movie", "--settings", '{"burnt":["frame","frame"]}'], "the same twice"],
    [["--as", "movie", "--out", "/nowhere/a.mp4"], "There is no folder /nowhere"],
    [["--as", "list", "--out", "/etc/passwd/a.txt"], "no folder /etc/passwd"],
  ])("%j is refused in words", async (args, words) => {
    const ended = await stage.cli("export", "EX2", ...args, "--json");
    expect([ended.code, ended.stdout, ended.stderr]).toEqual([2, "", expect.stringContaining(words)]);
  });

  test("one frame is a movie; a phrase that leaves none is told", async () => {
    const one = await made("EX2", "movie", "--frames", "2");
    expect(await numbersIn(one.path)).toEqual([2]);
    const none = await hand("EX2", "movie", "--frames", "1,!1");
    expect([none.code, none.stderr]).toEqual([1, expect.stringContaining("leaves no frame")]);
    const nothing = await hand("EX1", "movie", "--frames", "3", "--gaps", "card");
    expect([nothing.code, nothing.stderr]).toEqual([1, expect.stringContaining("None of these frames")]);
  });

  test("another picture size in the middle is named, and never scaled in silence", async () => {
    const { folder, sequenceId } = await stage.addShot("EX4", { frames: "1-4", ...SIZE });
    await layNumbered(folder, "EX4", [1, 2, 4], SIZE);
    await fs.writeFile(path.join(folder, frameFile("EX4", 3)), numberedPicture(3, 80, 45));
    await catchUp(await requireSequence(sequenceId));
    const ended = await hand("EX4", "movie");
    expect([ended.code, ended.stderr]).toEqual([
      1,
      expect.stringMatching(/(flagged|another picture size): 3/),
    ]);
  });

  test("a picture of another kind under a name of the first is read for what it is, or told", async () => {
    const { folder } = await stage.addShot("EX5", { frames: "1-3", ...SIZE });
    await layNumbered(folder, "EX5", [1, 3], SIZE);
    await fs.writeFile(
      path.join(folder, frameFile("EX5", 2)),
      await sharp(numberedPicture(2, SIZE.width, SIZE.height))
        .jpeg({ quality: 100 })
        .toBuffer(),
    );
    const ended = await hand("EX5", "movie");
    expect([ended.code, ended.stderr]).toEqual([1, expect.stringContaining("flagged: 2")]);
  });
});

test("what was handed over, and how it ended, is kept", async () => {
  const [kept] = await pool().query(
    "SELECT state, COUNT(*) AS n FROM handover GROUP BY state ORDER BY state",
  );
  const states = Object.fromEntries(
    (kept as { state: string; n: number }[]).map(({ state, n }) => [state, Number(n)]),
  );
  expect(Object.keys(states).sort()).toEqual(["done", "failed"]);
  expect(states.done).toBeGreaterThan(10);
});
