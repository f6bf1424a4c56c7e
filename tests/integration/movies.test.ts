/** Movies of every kind, decoded again by other programs: every frame, in order, at the exact rate. */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { promisify } from "node:util";
import { CODEC_FACTS, type Codec, CODECS, endingOf } from "@/core/handover/codecs";
import type { HandoverResult } from "@/contract/handover";
import sharp from "sharp";
import { decoded, numbersIn, probe } from "../support/decoded";
import { frameFile, layNumbered } from "../support/numbered-pictures";
import { wavFile } from "../support/sound";
import { type Ended, openStage, type Stage } from "../support/stage";
import { changeShot } from "@/server/actions/shots";

const run = promisify(execFile);
const NTSC = { numerator: 24000, denominator: 1001 };
const SIZE = { width: 160, height: 90 };
const FRAMES = Array.from({ length: 24 }, (_, i) => i + 1);

let stage: Stage;
let folder: string;
beforeAll(async () => {
  stage = await openStage();
  ({ folder } = await stage.addShot("MV1", { frames: "1-24", rate: NTSC, ...SIZE }));
  await layNumbered(folder, "MV1", FRAMES, SIZE);
});
afterAll(() => stage.strike());

const resultOf = (ended: Ended): HandoverResult => {
  if (ended.code !== 0) throw new Error(ended.stderr);
  return JSON.parse(ended.stdout) as HandoverResult;
};
const movie = async (shot: string, ...more: string[]): Promise<HandoverResult> =>
  resultOf(await stage.cli("export", shot, "--as", "movie", "--json", ...more));

/** How long each frame of an animated PNG is shown, as a fraction of a second (fcTL: delay at 20, in 16 bits each). */
async function delaysIn(file: string): Promise<string[]> {
  const bytes = await fs.readFile(file);
  const delays: string[] = [];
  for (let at = 8; at + 12 <= bytes.length; at += 12 + bytes.readUInt32BE(at))
    if (bytes.toString("latin1", at + 4, at + 8) === "fcTL")
      delays.push(`${bytes.readUInt16BE(at + 28)}/${bytes.readUInt16BE(at + 30)}`);
  return delays;
}

/** A GIF's clock counts hundredths. */
const grainOf = (codec: Codec): number => (codec === "gif" ? 0.011 : 0.001);

test.each(CODECS)("%s: every frame in order, rate and duration as asked", async (codec) => {
  const made = await movie("MV1", "--codec", codec);
  expect(path.basename(made.path)).toMatch(
    new RegExp(`^MV1_v001_main_beauty_\\d{3}\\.${endingOf(CODEC_FACTS[codec].containers[0]!)}$`),
  );
  expect(await numbersIn(made.path)).toEqual(FRAMES);
  const seen = await probe(made.path);
  expect(seen).toMatchObject({ frames: 24, ...SIZE });
  expect(Math.abs(seen.duration - (24 * 1001) / 24000)).toBeLessThanOrEqual(grainOf(codec));
  // Readers of animated PNG count in steps of their own: what the file says stands in its frames.
  if (codec === "apng") expect(await delaysIn(made.path)).toEqual(FRAMES.map(() => "1001/24000"));
  else if (codec !== "gif") expect(seen.rate).toBe("24000/1001");
  if (seen.pixels.startsWith("yuv")) expect(seen.colours).toBe("bt709");
  expect(made).toMatchObject({ frames: 24, rate: "24000/1001", folder });
  expect(made.bytes).toBe((await fs.stat(made.path)).size);
});

test("names count up, and nothing is left beside them", async () => {
  const names = await fs.readdir(path.join(stage.projectFolder, "handovers"));
  expect(names.length).toBeGreaterThanOrEqual(CODECS.length);
  expect(names.filter((name) => !/^MV1_v001_main_beauty_\d{3}\.\w+$/.test(name))).toEqual([]);
});

test("holds, loops and another rate, with what that does in words", async () => {
  const made = await movie(
    "MV1",
    ...["--frames", "1-3", "--rate", "48", "--settings", '{"loops":2,"holdFirst":2,"holdLast":1}'],
  );
  expect(await numbersIn(made.path)).toEqual([1, 1, 1, 2, 3, 1, 2, 3, 3]);
  expect(made.warnings.join(" ")).toContain("200.2 % of its speed");
  expect(made.warnings.join(" ")).toContain("21 of 24 frames of the plan are left out");
});

test("sides become even by a line more, and a size in percent is told by the movie", async () => {
  const { folder: odd } = await stage.addShot("MV2", { frames: "1-2", width: 101, height: 57 });
  await layNumbered(odd, "MV2", [1, 2], { width: 101, height: 57 });
  const made = await movie("MV2");
  expect(await probe(made.path)).toMatchObject({ width: 102, height: 58, frames: 2 });
  expect(made.warnings.join(" ")).toContain("101 x 57 got a black line more and is 102 x 58");
  const half = await movie("MV1", "--settings", '{"percent":50}');
  expect(await probe(half.path)).toMatchObject({ width: 80, height: 46 });
  expect(await numbersIn(half.path)).toEqual(FRAMES);
});

/** What a renderer makes: grain and edges. */
async function rendered(
  code: string,
  more: readonly string[],
  ending: string,
  plan: object,
  samples = "4",
): Promise<string> {
  const { folder: to } = await stage.addShot(code, { frames: "1-6", width: 192, height: 108, ...plan });
  await fs.mkdir(to, { recursive: true });
  const ended = await stage.cli(
    ...["render", path.join(stage.projectFolder, "scenes/test.json"), "--range", "1-6"],
    ...["--out", path.join(to, `${code}.####.${ending}`), "--size", "192x108", "--samples", samples, ...more],
  );
  expect(ended.code).toBe(0);
  return to;
}

let grainy: Promise<string> | null = null;

test.each(["h264", "h265", "prores"])("%s at its usual quality is above 35 dB", async (codec) => {
  const code = "PSNR";
  const source = await (grainy ??= rendered(code, [], "png", {}, "32"));
  const made = await movie(code, "--codec", codec);
  const { stderr } = await run("ffmpeg", [
    ...["-hide_banner", "-i", made.path, "-framerate", "24", "-i", path.join(source, `${code}.%04d.png`)],
    ...[
      "-lavfi",
      "[0:v]scale=in_color_matrix=bt709:in_range=tv,format=rgb24[a];[1:v]format=rgb24[b];[a][b]psnr",
    ],
    ...["-f", "null", "-"],
  ]);
  const average = Number(/average:([\d.]+|inf)/.exec(stderr)?.[1]);
  expect(average).toBeGreaterThan(35);
});

test("a lossless movie decodes to the very pixels of the files", async () => {
  const source = await rendered("PFF", ["--depth", "16"], "png", {
    file: { kind: "png", depth: 16, level: 6 },
  });
  const made = await movie("PFF", "--preset", "archive");
  const of = async (file: string): Promise<Buffer> => decoded(file, "rgb48le");
  const files = await Promise.all(
    [1, 2, 3, 4, 5, 6].map((frame) => of(path.join(source, frameFile("PFF", frame)))),
  );
  expect((await of(made.path)).equals(Buffer.concat(files))).toBe(true);
});

test("alpha stays where the codec keeps it, and colour is what it was before it was weighted", async () => {
  const { folder: to } = await stage.addShot("AL1", {
    frames: "1-2",
    width: 32,
    height: 32,
    alpha: "premultiplied",
  });
  await fs.mkdir(to, { recursive: true });
  const rgba = new Uint8Array(32 * 32 * 4);
  for (let p = 0; p < 32 * 32; p++) rgba.set([100, 50, 0, 128], p * 4);
  for (const frame of [1, 2])
    await sharp(rgba, { raw: { width: 32, height: 32, channels: 4 } })
      .png()
      .toFile(path.join(to, frameFile("AL1", frame)));
  const kept = await movie("AL1", "--codec", "prores", "--settings", '{"behind":{"kind":"kept"}}');
  expect((await probe(kept.path)).pixels).toMatch(/^yuva444p1\dle$/);
  const [red, , , alpha] = await decoded(kept.path, "rgba");
  expect(Math.abs(red! - 199)).toBeLessThanOrEqual(3);
  expect(Math.abs(alpha! - 128)).toBeLessThanOrEqual(1);
  // On white: 100 + 255 x (1 - 128/255).
  const white = await movie(
    "AL1",
    "--codec",
    "apng",
    "--settings",
    '{"behind":{"kind":"colour","colour":[1,1,1]}}',
  );
  expect([...(await decoded(white.path, "rgb24")).subarray(0, 3)]).toEqual([227, 177, 127]);
});

test("linear files are shown through their view, brighter by a stop where that is asked", async () => {
  await rendered("LIN", ["--depth", "half"], "exr", {
    file: { kind: "exr", depth: "half", compression: "zip" },
  });
  await rendered("SDR", [], "png", {});
  const mean = async (file: string): Promise<number> => {
    const grey = await decoded(file, "gray");
    return grey.reduce((sum, value) => sum + value, 0) / grey.length;
  };
  const linear = await mean((await movie("LIN", "--codec", "ffv1")).path);
  const display = await mean((await movie("SDR", "--codec", "ffv1")).path);
  const brighter = await mean((await movie("LIN", "--codec", "ffv1", "--settings", '{"stops":1}')).path);
  // Integer files of the stand-in go through the same curve.
  expect(Math.abs(linear - display)).toBeLessThan(1.5);
  expect(brighter).toBeGreaterThan(linear * 1.15);
});

test("text is burnt into the lower corners alone", async () => {
  const plain = await movie("MV1", "--codec", "ffv1", "--frames", "7");
  const burnt = await movie(
    ...["MV1", "--codec", "ffv1", "--frames", "7", "--settings", '{"burnt":["frame","timeCode","name"]}'],
  );
  const [before, after] = [await decoded(plain.path, "gray"), await decoded(burnt.path, "gray")];
  const changed = (from: number, to: number, left: number, right: number): boolean => {
    for (let y = from; y < to; y++)
      for (let x = left; x < right; x++)
        if (before[y * SIZE.width + x] !== after[y * SIZE.width + x]) return true;
    return false;
  };
  expect(changed(0, 70, 0, 160)).toBe(false);
  expect([changed(78, 90, 0, 40), changed(78, 90, 120, 160)]).toEqual([true, true]);
});

test("any size: the pictures are fitted into it, black above and below", async () => {
  const square = await movie(
    ...["MV1", "--codec", "ffv1", "--frames", "7", "--settings", '{"size":{"width":160,"height":160}}'],
  );
  expect(await probe(square.path)).toMatchObject({ width: 160, height: 160 });
  const grey = await decoded(square.path, "gray");
  const middleOf = (line: number): number => grey[line * 160 + 8]!;
  // Of 160 lines the picture has 90: 35 above, its squares, its grey, 35 below.
  expect([middleOf(10), middleOf(40) > 200, middleOf(100) > 60, middleOf(150)]).toEqual([0, true, true, 0]);
});

test("two versions side by side, by number", async () => {
  const other = await stage.addShot("MV3", { frames: "1-24", ...SIZE });
  await layNumbered(other.folder, "MV3", [1, 3], SIZE);
  const made = await movie(
    ...["MV1", "--codec", "ffv1", "--frames", "1-3", "--settings", `{"beside":${other.sequenceId}}`],
  );
  expect(await probe(made.path)).toMatchObject({ width: 320, height: 90, frames: 3 });
});

test("the shot's sound lies under it, cut at its end; a sound that is gone is told", async () => {
  await fs.mkdir(path.join(stage.projectFolder, "sound"), { recursive: true });
  await fs.writeFile(path.join(stage.projectFolder, "sound/hum.wav"), wavFile(10, [0.5]));
  await changeShot("test-film/MV1", { sound: { path: "sound/hum.wav", offset: 0 } });
  for (const codec of ["h264", "vp9", "ffv1", "prores"]) {
    const made = await movie("MV1", "--codec", codec);
    const seen = await probe(made.path);
    expect([codec, seen.sounds, seen.frames]).toEqual([codec, 1, 24]);
    expect(seen.duration).toBeLessThan(1.1);
  }
  expect((await probe((await movie("MV1", "--codec", "gif")).path)).sounds).toBe(0);
  await fs.rm(path.join(stage.projectFolder, "sound/hum.wav"));
  expect((await movie("MV1")).warnings.join(" ")).toContain("hum.wav is no sound that is there");
});
