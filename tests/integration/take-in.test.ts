/** Folders that other programs fill: taken in, told, watched, and never changed. */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { promisify } from "node:util";
import sharp from "sharp";
import { formatPhrase } from "@/core/frames/phrase";
import { countsOf, todoOf } from "@/core/tally/tally";
import { flagFrames } from "@/server/actions/flags";
import { pool } from "@/server/db/pool";
import { catchUp } from "@/server/folder/check";
import { lookAtFolder } from "@/server/folder/found-folder";
import { placeBelowRoot } from "@/server/folder/place-below-root";
import { keepSmallPictures } from "@/server/folder/small-pictures";
import { filesOfFrames, saidOfFiles } from "@/server/store/frame-files";
import { requireShot } from "@/server/store/find-shot";
import { requireSequence } from "@/server/store/shots";
import { currentSequence } from "@/server/views/current-sequence";
import { loadSequence } from "@/server/views/tally";
import { type Ended, openStage, type Stage, until } from "../support/stage";

const run = promisify(execFile);
let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(() => stage.strike());

interface TakenIn {
  readonly shot: string;
  readonly version: string;
  readonly sequences: readonly {
    readonly name: string;
    readonly camera: string;
    readonly pass: string;
    readonly first: number;
    readonly last: number;
    readonly count: number;
    readonly missing: string;
    readonly doubles: readonly { readonly frame: number }[];
    readonly width: number | null;
    readonly height: number | null;
  }[];
  readonly others: readonly string[];
  readonly leftovers: readonly string[];
}
interface Status {
  readonly asked: number;
  readonly results: Readonly<Record<string, number>>;
  readonly activity: Readonly<Record<string, number>>;
  readonly todo: string;
}

const json = <T>(ended: Ended): T => {
  if (ended.stdout === "") throw new Error(ended.stderr);
  return JSON.parse(ended.stdout) as T;
};
const takeIn = async (folder: string, shot: string, ...more: string[]): Promise<TakenIn> =>
  json(await stage.cli("take-in", folder, "--project", "test-film", "--shot", shot, "--json", ...more));
const status = async (shot: string, ...more: string[]): Promise<Status> =>
  json(await stage.cli("status", shot, "--json", ...more));
const folderOf = async (name: string): Promise<string> => {
  const folder = path.join(stage.root, "elsewhere", name);
  await fs.mkdir(folder, { recursive: true });
  return folder;
};
const padded = (frame: number): string => String(frame).padStart(4, "0");

/** One picture by ImageMagick, and links to copies of it under other numbers. */
async function magick(
  folder: string,
  name: string,
  frames: readonly number[],
  ...how: string[]
): Promise<void> {
  const one = path.join(stage.root, `one-${name}`);
  await run("convert", ["-size", "64x36", "plasma:tomato-steelblue", "-seed", "7", ...how, one]);
  for (const frame of frames) await fs.copyFile(one, path.join(folder, name.replace("#", padded(frame))));
  await fs.rm(one);
}
const from = (first: number, last: number): number[] =>
  Array.from({ length: last - first + 1 }, (_, i) => first + i);

/** All that is in a folder and below, with sizes and times: what must not change. */
async function snapshot(folder: string): Promise<readonly string[]> {
  const names = (await fs.readdir(folder, { recursive: true })).sort();
  return Promise.all(
    names.map(async (name) => {
      const stat = await fs.stat(path.join(folder, name));
      return `${name} ${stat.size} ${stat.mtimeMs} ${stat.mode}`;
    }),
  );
}
async function cut(file: string, share: number): Promise<void> {
  await fs.truncate(file, Math.floor((await fs.stat(file)).size * share));
}

test("a folder of ImageMagick is taken in with every fact, and nothing in it is changed", async () => {
  const folder = await folderOf("HL050");
  const depth = path.join(folder, "depth");
  await fs.mkdir(depth);
  await magick(folder, "quay.#.png", [...from(1, 40), ...from(43, 96)], "-depth", "16");
  await magick(depth, "quay_depth.#.tif", from(1, 96), "-colorspace", "gray", "-depth", "16");
  await fs.copyFile(path.join(folder, "quay.0007.png"), path.join(folder, "quay.7.png"));
  await cut(path.join(folder, "quay.0057.png"), 0.41);
  await fs.writeFile(path.join(folder, "notes.txt"), "55 is dark");
  await fs.writeFile(path.join(folder, "quay.0041.png.part88"), "half");
  const before = await snapshot(folder);

  const taken = await takeIn(folder, "HL050");
  expect(taken).toMatchObject({
    shot: "HL050",
    version: "v001",
    sequences: [
      {
        ...{ name: "quay.####.png", camera: "main", pass: "beauty", first: 1, last: 96, count: 94 },
        ...{ missing: "41-42", doubles: [{ frame: 7, files: ["quay.0007.png", "quay.7.png"] }] },
        ...{ width: 64, height: 36 },
      },
      {
        ...{ name: "quay_depth.####.tif", camera: "main", pass: "depth", first: 1, last: 96, count: 96 },
        ...{ missing: "", doubles: [], width: 64, height: 36 },
      },
    ],
    others: ["notes.txt"],
    leftovers: ["quay.0041.png.part88"],
  });
  expect(await status("HL050")).toMatchObject({
    asked: 96,
    results: { good: 93, flagged: 1, missing: 2, unchecked: 0, extra: 0 },
    todo: "41-42,57",
  });
  expect(await status("HL050", "--pass", "depth")).toMatchObject({ results: { good: 96 }, todo: "" });
  // The same again makes no second version; what is new of it comes to the same one.
  expect(await takeIn(folder, "HL050")).toMatchObject({ version: "v001" });
  const albedo = path.join(folder, "albedo");
  await fs.mkdir(albedo);
  await magick(albedo, "quay.#.png", from(1, 10));
  expect((await takeIn(folder, "HL050")).sequences.map((s) => [s.camera, s.pass, s.last])).toEqual([
    ["main", "beauty", 96],
    ["main", "depth", 96],
    ["main", "albedo", 10],
  ]);
  expect(await status("HL050", "--pass", "albedo")).toMatchObject({
    asked: 96,
    results: { good: 10, missing: 86 },
  });
  expect(await status("HL050", "--version", "v001")).toMatchObject({ results: { good: 93 } });
  expect((await stage.cli("status", "HL050", "--version", "v002")).code).toBe(2);

  const copied = await stage.cli("shot", "copy", "HL050", "HL051");
  expect([copied.code, copied.stderr]).toEqual([2, expect.stringContaining("rendered elsewhere")]);
  // Rendering, and taking away what is too many, would touch the files of others.
  const refused = await stage.cli("run", "HL050");
  expect([refused.code, refused.stderr]).toEqual([2, expect.stringContaining("rendered elsewhere")]);
  expect((await stage.cli("plan", "HL050", "--set", "frames=1-40")).code).toBe(0);
  expect(await status("HL050")).toMatchObject({ asked: 40, results: { good: 40, extra: 54 } });
  expect(json(await stage.cli("discard", "HL050", "--extra", "--json"))).toMatchObject({
    extra: { count: 0 },
  });
  await fs.rm(albedo, { recursive: true });
  expect(await snapshot(folder)).toEqual(before);
});

test("frames of ffmpeg and of the command line's own renderer are taken in alike", async () => {
  const movie = await folderOf("HL060/camB");
  await run("ffmpeg", [
    ...["-v", "error", "-f", "lavfi", "-i", "testsrc=size=80x46:rate=24", "-frames:v", "30"],
    ...["-start_number", "1001", path.join(movie, "ferry_%04d.jpg")],
  ]);
  expect((await takeIn(path.dirname(movie), "HL060")).sequences).toEqual([
    expect.objectContaining({
      name: "ferry_####.jpg",
      camera: "camB",
      pass: "beauty",
      first: 1001,
      last: 1030,
      width: 80,
    }),
  ]);
  expect(await status("HL060")).toMatchObject({ asked: 30, results: { good: 30 }, todo: "" });

  const own = await folderOf("HL070");
  const scene = path.join(stage.projectFolder, "scenes/test.json");
  for (const frame of [1, 2, 4])
    expect(
      await stage.cli(
        ...["render", scene, "--frame", String(frame), "--out", path.join(own, `lamp.${padded(frame)}.png`)],
        ...["--size", "32x18", "--samples", "1"],
      ),
    ).toMatchObject({ code: 0 });
  expect((await takeIn(own, "HL070")).sequences).toMatchObject([
    { count: 3, missing: "3", width: 32, height: 18 },
  ]);
  expect(await status("HL070")).toMatchObject({ results: { good: 3, missing: 1 }, todo: "3" });
});

test("what arrives later appears by itself: whole, half written, claimed, replaced", async () => {
  const folder = await folderOf("HL080");
  await magick(folder, "buoy.#.png", from(1, 8), "-resize", "640x360!");
  await takeIn(folder, "HL080");
  const { sequence } = await loadSequence(await sequenceIdOf("HL080"));
  const server = await stage.startServer();
  expect(server.address).not.toBe("");
  // Asked without a command in between: on a busy machine one takes longer than a file needs to be at rest.
  const now = async (): Promise<{ todo: string } & ReturnType<typeof countsOf>> => {
    const { tally } = await loadSequence(sequence.id);
    return { ...countsOf(tally), todo: formatPhrase(todoOf(tally)) };
  };
  const whole = await fs.readFile(path.join(folder, "buoy.0001.png"));
  const file = (frame: number): string => path.join(folder, `buoy.${padded(frame)}.png`);

  await fs.writeFile(file(9), "");
  await until("the claim shows as somebody's work", async () => (await now()).activity.rendering === 1);
  expect(await now()).toMatchObject({ asked: 9, results: { good: 8, missing: 1, flagged: 0 } });
  // It grows, a byte at a time: nothing is said of it before it is whole.
  const half = await fs.open(file(10), "w");
  let written = 0;
  const grow = async (to: number): Promise<void> => {
    await half.write(whole.subarray(written, to));
    written = to;
  };
  await until("half a file is seen", async () => {
    await grow(written + 1);
    const { results } = await now();
    expect(results.flagged).toBe(0);
    return results.unchecked === 1;
  });
  await grow(whole.length);
  await half.close();
  await fs.writeFile(file(9), whole);
  await until("both are good", async () => (await now()).results.good === 10);
  const [claimed] = await filesOfFrames(pool(), sequence.id, [9]);
  expect(claimed!.seconds).toBeGreaterThan(0);

  // Damaged from outside, found; replaced from outside, good.
  await cut(file(3), 0.5);
  await until("the cut one is flagged", async () => (await now()).todo === "3");
  await fs.writeFile(file(3), whole);
  await until("the new one is good", async () => (await now()).todo === "");
  // Deleted from outside.
  await fs.rm(file(5));
  await until("the deleted one is missing", async () => (await now()).todo === "5");
});

const sequenceIdOf = async (shot: string): Promise<number> =>
  (await currentSequence((await requireShot(shot)).shot.id))!.id;

test("a folder that is away forgets nothing; an empty one is taken for away", async () => {
  const folder = await folderOf("HL090");
  await magick(folder, "mole.#.png", from(1, 12));
  await takeIn(folder, "HL090");
  const sequence = await requireSequence(await sequenceIdOf("HL090"));
  await fs.rename(folder, `${folder}-away`);
  await expect(catchUp(sequence)).rejects.toMatchObject({ code: "source-out-of-sight" });
  await fs.mkdir(folder);
  await expect(catchUp(sequence)).rejects.toMatchObject({ code: "source-out-of-sight" });
  expect(countsOf((await loadSequence(sequence.id)).tally).results.good).toBe(12);
  await fs.rmdir(folder);
  await fs.rename(`${folder}-away`, folder);
  await fs.rm(path.join(folder, "mole.0012.png"));
  await catchUp(sequence);
  const { tally } = await loadSequence(sequence.id);
  expect([tally.results.good.count, formatPhrase(tally.results.missing)]).toEqual([11, "12"]);
});

test("links that loop, names of no encoding and files that come and go end in a sentence, and the rest is found", async () => {
  const folder = await folderOf("odd");
  await magick(folder, "a.#.png", from(1, 9));
  await fs.symlink(folder, path.join(folder, "round"));
  await fs.symlink(path.join(folder, "nowhere.png"), path.join(folder, "a.0010.png"));
  // Latin 1: no UTF-8, and no name that a program of this kind can open.
  const strange = Buffer.concat([
    Buffer.from(`${folder}/caf`),
    Buffer.from([0xe9]),
    Buffer.from(".0001.png"),
  ]);
  await fs.writeFile(strange, "x");
  for (let i = 0; i < 2_000; i++) await fs.writeFile(path.join(folder, `strange-${i}.txt`), "");
  for (const isAlone of [true, false]) {
    const found = await lookAtFolder(await placeBelowRoot(folder), { isAlone });
    expect(found.sequences.map((s) => formatPhrase(s.found.frames))).toEqual(["1-9"]);
    expect(found.links).toEqual(["round"]);
    expect(found.unreadable).toEqual([
      { folder: expect.stringContaining("caf"), errno: "its name is not UTF-8" },
    ]);
    expect(found.others).toHaveLength(2_000);
  }
  // Nobody waits any more.
  const control = new AbortController();
  control.abort();
  await expect(lookAtFolder(await placeBelowRoot(folder), { signal: control.signal })).rejects.toMatchObject({
    name: "AbortError",
  });
});

test("a log says who made which frame and how long it took, whatever its length", async () => {
  const folder = await folderOf("HL100");
  await magick(folder, "tug.#.png", from(1, 6));
  await takeIn(folder, "HL100");
  const log = path.join(stage.root, "farm.log");
  const lines = from(1, 8).flatMap((frame) => [
    `02:1${frame} [quay-${frame % 2}] frame ${frame} begun`,
    "some noise of the program, of no frame",
    `02:1${frame} [quay-${frame % 2}] frame ${frame} done 0:4${frame}`,
    ...(frame === 3 ? ["Warning: frame 3: texture not found"] : []),
  ]);
  await fs.writeFile(log, lines.join("\n"));
  const read = await stage.cli("read-log", log, "HL100", "--shape", "2", "--shape", "5", "--json");
  expect(json(read)).toEqual({ lines: 25, matched: 17, frames: 8, noted: 6, notHere: "7-8" });
  const id = await sequenceIdOf("HL100");
  const files = await filesOfFrames(pool(), id, [3, 4]);
  expect(files.map(({ frame, node, seconds }) => [frame, node, seconds])).toEqual([
    [3, "quay-1", 43],
    [4, "quay-0", 44],
  ]);
  expect(await saidOfFiles(pool(), id, 10)).toEqual([{ frame: 3, text: "texture not found" }]);
  // Nothing that was said makes a frame bad.
  expect(await status("HL100")).toMatchObject({ results: { good: 6 } });
  const own = "done (?P<seconds>[\\d:]+)|frame (?P<frame>\\d+)";
  expect(await stage.cli("read-log", log, "HL100", "--pattern", own, "--dry-run")).toMatchObject({ code: 0 });
  for (const [more, said] of [
    [["--shape", "9"], "frame 57"],
    [["--pattern", "(?P<frame>"], "cannot be read"],
    [[], "give a --pattern"],
  ] as const) {
    const refused = await stage.cli("read-log", log, "HL100", ...more);
    expect([refused.code, refused.stderr]).toEqual([2, expect.stringContaining(said)]);
  }
  const rendered = await stage.addShot("HL110", { frames: "1-2" });
  expect(rendered.sequenceId).toBeGreaterThan(0);
  const ours = await stage.cli("read-log", log, "HL110", "--shape", "2");
  expect([ours.code, ours.stderr]).toEqual([2, expect.stringContaining("rendered here")]);
});

test("what cannot be taken in is told, and nothing is made", async () => {
  const refusal = async (...args: string[]): Promise<string> => {
    const ended = await stage.cli("take-in", ...args, "--project", "test-film");
    expect(ended.code).toBe(2);
    return ended.stderr;
  };
  const outside = await fs.mkdtemp(path.join(path.dirname(stage.root), "plain-tally-outside-"));
  expect(await refusal(outside, "--shot", "X010")).toContain(`root add NAME ${outside}`);
  await fs.rm(outside, { recursive: true });
  expect(await refusal("/no/such/folder", "--shot", "X010")).toContain("no folder");
  expect(await refusal(await folderOf("empty"), "--shot", "X010")).toContain("no numbered pictures");
  const known = path.join(stage.root, "elsewhere/HL060");
  expect(await refusal(known, "--shot", "X010")).toContain("test-film/HL060 v001 camB beauty");
  const folder = await folderOf("X010");
  await magick(folder, "a.#.png", from(1, 3));
  expect(await refusal(folder, "--shot", "bad/code")).toContain("code");
  expect(await refusal(folder, "--shot", "X010", "--as", "b.####.png=main/beauty")).toContain("a.####.png");
  expect((await stage.cli("status", "X010")).code).toBe(2);
  // Of roots inside one another the inner one counts, and what was taken in by the outer one is known all the same.
  const roots = process.env.PLAIN_TALLY_ROOTS;
  process.env.PLAIN_TALLY_ROOTS = `${roots}:inner=${known}`;
  try {
    const found = await lookAtFolder(await placeBelowRoot(known));
    expect([found.place, found.sequences[0]!.known?.shot]).toEqual([{ root: "inner", folder: "" }, "HL060"]);
  } finally {
    process.env.PLAIN_TALLY_ROOTS = roots;
  }
  const corrected = await takeIn(folder, "X010", "--as", "a.####.png=camC/occlusion", "--rate", "25");
  expect(corrected.sequences).toMatchObject([{ camera: "camC", pass: "occlusion" }]);
  expect(await status("X010")).toMatchObject({ asked: 3, results: { good: 3 } });
});

test("what another program made anew is told in the report of the case, before and now, from small pictures", async () => {
  const folder = await folderOf("HL077");
  await magick(folder, "pier.#.png", from(1, 6));
  await takeIn(folder, "HL077");
  const sequenceId = await sequenceIdOf("HL077");
  const sequence = await requireSequence(sequenceId);
  await keepSmallPictures(sequence, 10);
  expect(await flagFrames(sequenceId, "3", "a gull is missing")).toBe("3");

  const third = path.join(folder, `pier.${padded(3)}.png`);
  await run("convert", [third, "-negate", third]);
  await catchUp(sequence);
  await keepSmallPictures(sequence, 10);
  const place = path.join(stage.root, "HL077-report.html");
  expect((await stage.cli("export", "HL077", "--as", "report", "--gaps", "hold", "--out", place)).code).toBe(
    0,
  );
  const report = await fs.readFile(place, "utf8");
  const made = report.slice(report.indexOf("What was made again"));
  expect(made).toContain("a gull is missing");
  const pictures = [...made.matchAll(/data:image\/jpeg;base64,([A-Za-z0-9+/=]+)/g)].slice(0, 2);
  const [was, now] = await Promise.all(
    pictures.map(([, jpeg]) => sharp(Buffer.from(jpeg!, "base64")).extractChannel(0).raw().toBuffer()),
  );
  const mean = (of: (a: number, b: number) => number): number =>
    [...was!].reduce((sum, value, i) => sum + Math.abs(of(value, now![i]!)), 0) / was!.length;
  // One is the other's negative, but for what JPEG leaves out.
  expect(mean((a, b) => a + b - 255)).toBeLessThan(8);
  expect(mean((a, b) => a - b)).toBeGreaterThan(16);
});
