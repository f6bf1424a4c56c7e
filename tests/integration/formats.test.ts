/**
 * Files of every format and depth, read back by programs that are not ours: they open, and hold what was
 * computed.
 */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { promisify } from "node:util";
import { checkFile, readImageTexts } from "@/core/image/check-file";
import { quantize } from "@/core/image/pixels";
import { toDisplay } from "@/render/layers";
import { imageTools } from "@/server/files/image-tools";
import { writeScene } from "../support/scene";
import { runCli } from "../support/stage";

const [WIDTH, HEIGHT] = [48, 27];
let folder: string;
beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-formats-"));
  await writeScene(folder);
});
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

const run = promisify(execFile);
const file = (name: string): string => path.join(folder, name);
const text = async (program: string, ...args: string[]): Promise<string> =>
  (await run(program, args, { maxBuffer: 1 << 26 })).stdout;
const bytes = async (program: string, ...args: string[]): Promise<Buffer> =>
  (await run(program, args, { encoding: "buffer", maxBuffer: 1 << 26 })).stdout;

async function render(name: string, ...options: string[]): Promise<string> {
  const ended = await runCli([
    "render",
    file("scenes/test.json"),
    "--frame",
    "3",
    "--size",
    `${WIDTH}x${HEIGHT}`,
    "--samples",
    "4",
    "--out",
    file(name),
    ...options,
  ]);
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  return file(name);
}

/** Scene values of an OpenEXR file as ffmpeg decodes them: red, green, blue of each pixel. */
async function linearOf(place: string, hasAlpha: boolean): Promise<Float32Array> {
  const raw = await bytes(
    "ffmpeg",
    "-v",
    "error",
    "-i",
    place,
    "-f",
    "rawvideo",
    "-pix_fmt",
    hasAlpha ? "gbrapf32le" : "gbrpf32le",
    "-",
  );
  const planes = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
  const pixels = WIDTH * HEIGHT;
  return Float32Array.from(
    { length: pixels * 3 },
    (_, i) => planes[[2, 0, 1][i % 3]! * pixels + Math.floor(i / 3)]!,
  );
}

/** Values of an integer file as ImageMagick decodes them, at 16 bits a channel. */
async function shownOf(place: string, map: "rgb" | "rgba" | "gray"): Promise<Uint16Array> {
  const raw = await bytes("convert", place, "-depth", "16", "-endian", "LSB", `${map}:-`);
  return new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

const greatest = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
  expect(a.length).toBe(b.length);
  let most = 0;
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i]! - b[i]!));
  return most;
};

let truth: Float32Array;
let shown16: ArrayLike<number>;
beforeAll(async () => {
  truth = await linearOf(await render("truth.exr", "--depth", "float", "--compression", "none"), false);
  shown16 = quantize(
    toDisplay({ width: WIDTH, height: HEIGHT, channels: 3, data: truth }, "beauty"),
    16,
    false,
  ).data;
});

describe("OpenEXR", () => {
  test.each([
    ["half", "none", "none"],
    ["half", "rle", "run-length encoding"],
    ["half", "zip", "zip, multi-scanline blocks"],
    ["float", "rle", "run-length encoding"],
    ["float", "zip", "zip, multi-scanline blocks"],
  ])("%s, %s", async (depth, compression, named) => {
    const place = await render(`${depth}-${compression}.exr`, "--depth", depth, "--compression", compression);
    const header = await text("exrheader", place);
    for (const channel of ["R", "G", "B"])
      expect(header).toContain(`${channel}, ${depth === "half" ? 16 : 32}-bit floating-point`);
    expect(header).toContain(`compression (type compression): ${named}`);
    expect(header).toContain(`displayWindow (type box2i): (0 0) - (${WIDTH - 1} ${HEIGHT - 1})`);
    expect(header).toContain("PlainTally (type string)");
    expect(
      await text(
        "ffprobe",
        "-v",
        "error",
        "-show_entries",
        "stream=codec_name,width,height,pix_fmt",
        "-of",
        "csv=p=0",
        place,
      ),
    ).toContain(`exr,${WIDTH},${HEIGHT},gbrpf32le`);
    const values = await linearOf(place, false);
    for (let i = 0; i < truth.length; i++)
      expect(Math.abs(values[i]! - truth[i]!)).toBeLessThanOrEqual(
        depth === "half" ? Math.abs(truth[i]!) / 1024 + 1e-6 : 0,
      );
  });

  test("a linear file with passes: each further pass has its name before the ending, and the channels that it needs", async () => {
    await render("shot.0003.exr", "--passes", "beauty,depth,normal", "--alpha", "premultiplied");
    expect((await fs.readdir(folder)).filter((name) => name.startsWith("shot.")).sort()).toEqual([
      "shot.0003.depth.exr",
      "shot.0003.exr",
      "shot.0003.normal.exr",
    ]);
    const channels = async (name: string): Promise<string[]> =>
      [...(await text("exrheader", file(name))).matchAll(/^\s+(\w+), 16-bit/gm)].map((m) => m[1]!);
    expect(
      await Promise.all(["shot.0003.exr", "shot.0003.depth.exr", "shot.0003.normal.exr"].map(channels)),
    ).toEqual([["A", "B", "G", "R"], ["Z"], ["B", "G", "R"]]);
  });
});

describe("PNG and TIFF", () => {
  test.each([
    ["8", "none", "24-bit RGB"],
    ["8", "straight", "32-bit RGB+alpha"],
    ["16", "none", "48-bit RGB"],
    ["16", "premultiplied", "64-bit RGB+alpha"],
  ])("PNG of %s bits, alpha %s", async (depth, alpha, named) => {
    const place = await render(
      `p${depth}${alpha}.png`,
      "--depth",
      depth,
      "--alpha",
      alpha,
      "--compression",
      "9",
      "--passes",
      "beauty,depth",
    );
    expect(await text("pngcheck", place)).toContain(`(${WIDTH}x${HEIGHT}, ${named}`);
    expect(await text("pngcheck", place.replace(".png", ".depth.png"))).toContain(`${depth}-bit grayscale`);
    if (alpha === "none")
      expect(greatest(await shownOf(place, "rgb"), shown16)).toBeLessThanOrEqual(depth === "8" ? 129 : 1);
  });

  test.each([
    ["8", "none", "None"],
    ["8", "deflate", "AdobeDeflate"],
    ["16", "none", "None"],
    ["16", "deflate", "AdobeDeflate"],
  ])("TIFF of %s bits, %s", async (depth, compression, named) => {
    const place = await render(`t${depth}${compression}.tif`, "--depth", depth, "--compression", compression);
    const info = await text("tiffinfo", place);
    for (const line of [
      `Image Width: ${WIDTH} Image Length: ${HEIGHT}`,
      `Bits/Sample: ${depth}`,
      `Compression Scheme: ${named}`,
      "Samples/Pixel: 3",
      "ImageDescription: PlainTally=",
    ])
      expect(info).toContain(line);
    expect(greatest(await shownOf(place, "rgb"), shown16)).toBeLessThanOrEqual(depth === "8" ? 129 : 1);
  });

  test.each([
    ["straight", "unassoc-alpha"],
    ["premultiplied", "assoc-alpha"],
  ])("TIFF says which kind of alpha it holds: %s", async (alpha, named) => {
    expect(await text("tiffinfo", await render(`a-${alpha}.tif`, "--alpha", alpha))).toContain(`<${named}>`);
  });

  test("straight alpha laid over black is premultiplied alpha, but for the curve; alpha itself is the same", async () => {
    const [straight, premultiplied] = [
      await shownOf(await render("s.png", "--depth", "16", "--alpha", "straight"), "rgba"),
      await shownOf(await render("m.png", "--depth", "16", "--alpha", "premultiplied"), "rgba"),
    ];
    const alphas = (values: Uint16Array): number[] => [...values].filter((_, i) => i % 4 === 3);
    expect(alphas(straight)).toEqual(alphas(premultiplied));
    expect(new Set(alphas(straight)).size).toBeGreaterThan(2);
    for (let i = 0; i < straight.length; i += 4)
      if (straight[i + 3] === 65_535)
        expect([...straight.subarray(i, i + 3)]).toEqual([...premultiplied.subarray(i, i + 3)]);
  });
});

test("JPEG: colours near what was computed, the comment says who made it", async () => {
  const place = await render("j.jpg", "--compression", "97", "--passes", "beauty,depth");
  expect(await text("identify", "-format", "%m %w %h %[channels] %z", place)).toBe(
    `JPEG ${WIDTH} ${HEIGHT} srgb 8`,
  );
  expect(await text("identify", "-format", "%[colorspace]", place.replace(".jpg", ".depth.jpg"))).toBe(
    "Gray",
  );
  expect(await text("identify", "-format", "%c", place)).toContain("PlainTally");
  const values = await shownOf(place, "rgb");
  const mean = [...values].reduce((sum, v, i) => sum + Math.abs(v - shown16[i]!), 0) / values.length / 257;
  expect(mean).toBeLessThan(4);
});

test.each(["truth.exr", "p16none.png", "t16deflate.tif", "j.jpg"])(
  "our own check finds %s good, its text in place, and half of it damaged",
  async (name) => {
    const whole = await fs.readFile(file(name));
    expect(checkFile(name, whole, imageTools)).toMatchObject({
      verdict: "good",
      width: WIDTH,
      height: HEIGHT,
    });
    expect(JSON.parse(readImageTexts(whole).get("PlainTally")!)).toMatchObject({
      camera: "main",
      frame: 3,
      samples: 4,
    });
    expect(checkFile(name, whole.subarray(0, Math.floor(whole.length / 2)), imageTools)).toMatchObject({
      verdict: "damaged",
    });
  },
);

test.each([
  [["--out", "x.gif"], "--out must end in .png, .tif, .exr or .jpg"],
  [["--out", "x.png", "--depth", "half"], "--depth must be 8, 16 here"],
  [["--out", "x.exr", "--compression", "9"], "--compression must be none, rle, zip here"],
  [["--out", "x.jpg", "--alpha", "straight"], "JPEG cannot hold alpha"],
  [["--out", "x.jpg", "--compression", "101"], "1 to 100"],
  [["--out", "x.png", "--passes", "beauty,shadow"], 'there is no pass "shadow"'],
])("%p is a wrong call", async (options, message) => {
  const ended = await runCli([
    "render",
    file("scenes/test.json"),
    "--frame",
    "1",
    "--size",
    "8x8",
    ...options.map((o) => (o.startsWith("x.") ? file(o) : o)),
  ]);
  expect([ended.code, ended.stderr]).toEqual([2, expect.stringContaining(message)]);
  expect((await fs.readdir(folder)).filter((name) => name.startsWith("x."))).toEqual([]);
});
