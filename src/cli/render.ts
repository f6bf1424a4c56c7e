/** `plain-tally render`: frames of a scene file without any database. Also a renderer that others can call. */
import fs from "node:fs/promises";
import path from "node:path";
import { members } from "@/core/frames/frame-set";
import { fingerprintsOf } from "@/core/plan/fingerprint";
import { MAX_SAMPLES, MAX_SIDE, type Plan } from "@/core/plan/plan";
import { fileName, parsePattern } from "@/core/naming/pattern";
import { ENGINE, RenderFailed } from "@/server/engines/engine";
import { renderJob } from "@/server/engines/render-job";
import { readSceneOnDisk } from "@/server/files/scene-files";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson, wholeNumber } from "./command";
import { readFrames } from "./frames";

export interface RenderOptions {
  readonly frame?: string;
  readonly range?: string;
  readonly out: string;
  readonly camera?: string;
  readonly size: string;
  readonly samples: string;
  readonly seed: string;
  readonly json?: boolean;
}

/** The output of each frame: a fixed name for one, a pattern for several. */
function outputs(options: RenderOptions): Map<number, string> {
  if ((options.frame === undefined) === (options.range === undefined)) throw new CallWrong("give --frame N or --range PHRASE");
  const frames = options.frame !== undefined ? [wholeNumber(options.frame, "--frame", -999_999_999)] : [...members(readFrames(options.range!))];
  const { dir, name, ext } = path.parse(options.out);
  if (ext.toLowerCase() !== ".png") throw new CallWrong(`--out must end in .png, the one format so far; it is "${options.out}"`);
  if (frames.length === 1 && !/#|%0?\d*d/.test(name)) return new Map([[frames[0]!, options.out]]);
  const pattern = parsePattern(name.replace(/[{}]/g, "_"), 4);
  if (!pattern.ok) throw new CallWrong("--out needs the frame number as ####, or every frame would be written over the one before");
  const values = { project: "", shot: "", version: "", camera: "", pass: "" };
  return new Map(frames.map((frame) => [frame, path.join(dir, fileName(pattern.pattern, values, frame, "png"))]));
}

function readSize(text: string): { width: number; height: number } {
  const match = /^(\d+)x(\d+)$/.exec(text);
  const [width, height] = [Number(match?.[1]), Number(match?.[2])];
  if (match === null || width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) throw new CallWrong(`--size must be WIDTHxHEIGHT, each from 1 to ${MAX_SIDE}; it is "${text}"`);
  return { width, height };
}

export async function renderCommand(scenePath: string, options: RenderOptions): Promise<ExitCode> {
  const files = outputs(options);
  const { width, height } = readSize(options.size);
  const samples = wholeNumber(options.samples, "--samples", 1);
  if (samples > MAX_SAMPLES) throw new CallWrong(`--samples must be at most ${MAX_SAMPLES}`);
  const seed = wholeNumber(options.seed, "--seed", 0);
  const onDisk = await readSceneOnDisk(scenePath, "beauty");
  const camera = options.camera ?? onDisk.scene.cameras[0]!.name;
  const plan: Plan = { scene: path.basename(scenePath), camera, frames: "", width, height, samples, seed, namePattern: "", digits: 4, format: "png8" };
  const fingerprints = fingerprintsOf(plan, onDisk.sources);
  for (const [frame, file] of files) {
    await fs.mkdir(path.dirname(path.resolve(file)), { recursive: true });
    const temporary = `${file}.part${process.pid}`;
    try {
      const output = await renderJob(
        { scene: scenePath, camera, frame, width, height, samples, seed, output: temporary, hidden: [], texts: { Software: `Plain Tally, ${ENGINE}`, PlainTally: JSON.stringify({ camera, pass: "beauty", frame, samples, ...fingerprints }) } },
        { progress: () => undefined, log: (level, text) => complain(`${level}: ${text}`) },
      );
      await fs.rename(temporary, file);
      const seconds = output.startupSeconds + output.renderSeconds + output.writeSeconds;
      if (options.json) printJson({ frame, file, seconds });
      else print(`${file}  ${seconds.toFixed(2)} s`);
    } catch (error) {
      await fs.rm(temporary, { force: true });
      if (!(error instanceof RenderFailed)) throw error;
      complain(error.message);
      return error.code === "unknown-camera" ? EXIT.call : EXIT.frames;
    }
  }
  return EXIT.fine;
}
