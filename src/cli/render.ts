/**
 * `plain-tally render`: frames of a scene file without any database. Also a renderer that others can call.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { SHADINGS } from "@/core/plan/picture";
import { members } from "@/core/frames/frame-set";
import { kindOfName } from "@/core/image/check-file";
import {
  ALPHAS,
  CHANNEL_CHOICES,
  type Alpha,
  DEFAULT_FILE,
  type FileFormat,
  mayHoldAlpha,
} from "@/core/image/file-format";
import { isPass, isStandInPass, type Pass, STAND_IN_PASSES } from "@/core/plan/passes";
import { MAX_SIDE } from "@/core/image/pixels";
import { MAX_SAMPLES, type Plan, PLAN_DEFAULTS } from "@/core/plan/plan";
import { fileName, parsePattern } from "@/core/naming/pattern";
import { RenderFailed, secondsOf } from "@/server/engines/engine";
import { renderJob } from "@/server/engines/render-job";
import { readSceneOnDisk } from "@/server/scenes/scene-files";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson, wholeNumber, oneOf } from "./command";
import { readFrames } from "./frames";
import { buildFrameJob, PLAIN_WORK } from "@/server/engines/frame-job";
import { FAULTS } from "@/contract/faults";

export interface RenderOptions {
  /** One number, which may be negative. */
  readonly frame?: string;
  /** A phrase: one file for each. */
  readonly range?: string;
  /** A file, or a name pattern for several. */
  readonly out: string;
  readonly camera?: string;
  /** Pixels, as 1920x1080. */
  readonly size: string;
  /** A pixel. */
  readonly samples: string;
  readonly seed: string;
  readonly depth?: string;
  readonly compression?: string;
  readonly alpha: string;
  readonly shading: string;
  readonly channels: string;
  /** Names, with commas. */
  readonly passes: string;
  readonly json?: boolean;
}

/** The output of each frame: a fixed name for one, a pattern for several. */
function outputs(options: RenderOptions): Map<number, string> {
  if ((options.frame === undefined) === (options.range === undefined))
    throw new CallWrong("give --frame N or --range PHRASE");
  const frames =
    options.frame !== undefined
      ? [wholeNumber(options.frame, "--frame", -999_999_999)]
      : [...members(readFrames(options.range!))];
  const { dir, name, ext } = path.parse(options.out);
  if (frames.length === 1 && !/#|%0?\d*d/.test(name)) return new Map([[frames[0]!, options.out]]);
  const pattern = parsePattern(name.replace(/[{}]/g, "_"), 4);
  if (!pattern.ok)
    throw new CallWrong(
      "--out needs the frame number as ####, or every frame would be written over the one before",
    );
  const values = { project: "", shot: "", version: "", camera: "", pass: "" };
  return new Map(
    frames.map((frame) => [frame, path.join(dir, fileName(pattern.pattern, values, frame, ext.slice(1)))]),
  );
}

/** Two whole numbers with an x between. */
function readSize(text: string): { width: number; height: number } {
  const match = /^(\d+)x(\d+)$/.exec(text);
  const [width, height] = [Number(match?.[1]), Number(match?.[2])];
  if (match === null || width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE)
    throw new CallWrong(`--size must be WIDTHxHEIGHT, each from 1 to ${MAX_SIDE}; it is "${text}"`);
  return { width, height };
}

/** The format by the ending of --out, with --depth and --compression. */
function readFormat({ out, depth, compression }: RenderOptions): FileFormat {
  switch (kindOfName(out)) {
    case "png":
      return {
        kind: "png",
        depth: oneOf("--depth", depth ?? "8", ["8", "16"]) === "8" ? 8 : 16,
        level:
          compression === undefined
            ? DEFAULT_FILE.png.level
            : Number(oneOf("--compression", compression, ["0", "1", "2", "3", "4", "5", "6", "7", "8", "9"])),
      };
    case "tiff":
      return {
        kind: "tiff",
        depth: oneOf("--depth", depth ?? "16", ["8", "16"]) === "8" ? 8 : 16,
        compression: oneOf("--compression", compression ?? "deflate", ["none", "deflate"]),
      };
    case "exr":
      return {
        kind: "exr",
        depth: oneOf("--depth", depth ?? "half", ["half", "float"]),
        compression: oneOf("--compression", compression ?? "zip", ["none", "rle", "zip"]),
      };
    case "jpeg": {
      oneOf("--depth", depth ?? "8", ["8"]);
      const quality = wholeNumber(
        compression ?? String(DEFAULT_FILE.jpeg.quality),
        "--compression (the quality, for JPEG)",
        1,
      );
      if (quality > 100) throw new CallWrong("--compression is JPEG's quality here, 1 to 100");
      return { kind: "jpeg", quality };
    }
    default:
      throw new CallWrong(`--out must end in .png, .tif, .exr or .jpg; it is "${out}"`);
  }
}

/** Each once, in the order in which they were asked for. */
function readPasses(text: string): Pass[] {
  const names = text
    .split(",")
    .map((name) => name.trim())
    .filter((name) => name !== "");
  const unknown = names.find((name) => !isPass(name) || !isStandInPass(name));
  if (unknown !== undefined)
    throw new CallWrong(`there is no pass "${unknown}"; there are ${STAND_IN_PASSES.join(", ")}`);
  if (names.length === 0) throw new CallWrong("--passes is empty");
  return [...new Set(names as Pass[])];
}

/** Refused where the kind of file holds none. */
function readAlpha(text: string, file: FileFormat): Alpha {
  const alpha = oneOf("--alpha", text, ALPHAS);
  if (alpha !== "none" && !mayHoldAlpha(file))
    throw new CallWrong("JPEG cannot hold alpha; write PNG, TIFF or OpenEXR");
  return alpha;
}

/** The first pass is written under the name itself; further ones get the pass before the extension. */
function passFile(file: string, pass: Pass, isFirst: boolean): string {
  const { dir, name, ext } = path.parse(file);
  return isFirst ? file : path.join(dir, `${name}.${pass}${ext}`);
}

/** Renders the frames asked for, each as `buildFrameJob` would lay it out in a run: the same pixels. */
export async function renderCommand(scenePath: string, options: RenderOptions): Promise<ExitCode> {
  const file = readFormat(options);
  const files = outputs(options);
  const passes = readPasses(options.passes);
  const alpha = readAlpha(options.alpha, file);
  const { width, height } = readSize(options.size);
  const samples = wholeNumber(options.samples, "--samples", 1);
  if (samples > MAX_SAMPLES) throw new CallWrong(`--samples must be at most ${MAX_SAMPLES}`);
  const seed = wholeNumber(options.seed, "--seed", 0);
  const { scene, sources } = await readSceneOnDisk(scenePath);
  const camera = options.camera ?? scene.cameras[0]!.name;
  const timeLine = { first: 1, last: 1, rate: { numerator: 24, denominator: 1 } };
  const plan: Plan = {
    ...PLAN_DEFAULTS,
    scene: path.basename(scenePath),
    cameras: [camera],
    frames: "1",
    timeLine,
    rate: timeLine.rate,
    width,
    height,
    samples,
    seed,
    file,
    alpha,
    channels: oneOf("--channels", options.channels, CHANNEL_CHOICES),
    shading: oneOf("--shading", options.shading, SHADINGS),
    passes: ["beauty", ...passes.filter((p) => p !== "beauty")],
  };
  for (const [frame, out] of files) {
    await fs.mkdir(path.dirname(path.resolve(out)), { recursive: true });
    const { job, passes: written } = buildFrameJob({
      ...PLAIN_WORK,
      scene: scenePath,
      plan,
      sources,
      camera,
      frame,
      finals: passes.map((pass, i) => ({ pass, final: passFile(out, pass, i === 0) })),
      temporaryBy: process.pid,
      maker: null,
    });
    try {
      const result = await renderJob(job, {
        progress: () => undefined,
        checkpoint: () => undefined,
        preview: () => undefined,
        noRoom: (bytes) => complain(`the disk is full; waiting for ${bytes} bytes`),
        log: (level, text) => complain(`${level}: ${text}`),
      });
      if (result.kind !== "done") throw new RenderFailed("stopped");
      for (const { temporary, final } of written) await fs.rename(temporary, final);
      const seconds = secondsOf(result.output);
      if (options.json)
        printJson({
          frame,
          file: out,
          seconds,
          ...(written.length > 1
            ? { passes: Object.fromEntries(written.map((w) => [w.pass, w.final])) }
            : {}),
        });
      else print(`${written.map((w) => w.final).join("  ")}  ${seconds.toFixed(2)} s`);
    } catch (error) {
      for (const { temporary } of written) await fs.rm(temporary, { force: true });
      if (!(error instanceof RenderFailed)) throw error;
      complain(error.message);
      return FAULTS[error.code].exit;
    }
  }
  return EXIT.fine;
}
