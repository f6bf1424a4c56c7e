/** What a call of another renderer is told: the values of a job, in the places that its declaration names. */
import path from "node:path";
import { fillTemplate } from "@/core/plan/call-template";
import { addedArguments, type RendererDeclaration } from "@/contract/renderer-declaration";
import { formatPhrase } from "@/core/frames/phrase";
import { setOf } from "@/core/frames/frame-set";
import { extensionOf, writtenFormat } from "@/core/image/file-format";
import { largest, least } from "@/core/many";
import { padFrame } from "@/core/naming/pattern";
import type { Pass } from "@/core/plan/passes";
import { scaledSize } from "@/core/plan/picture";
import type { ArgumentValues } from "@/core/plan/renderer";
import { sceneTime } from "@/core/plan/scene-time";
import type { FrameJob } from "./engine";

const DIGITS = 4;
const MARKS = "#".repeat(DIGITS);

/** Below the folder of a call: gathered light that its frame reads. */
export const LIGHT_FOLDER = "light";

/** The scene's frame of a file number, to a ten-thousandth. */
export const sceneFrame = ({ plan }: FrameJob, frame: number): number =>
  Math.round(sceneTime(plan, frame) * 1e4) / 1e4;

/** What stands for a frame in names of files of a call: of one for several frames the scene's number. */
const numberOf = (job: FrameJob, isBatch: boolean): string =>
  padFrame(isBatch ? sceneFrame(job, job.frame) : job.frame, DIGITS);

/** Name of the file of gathered light at a frame. */
export const lightName = (pattern: string, job: FrameJob, frame: number): string =>
  fillTemplate([pattern], { frame: padFrame(sceneFrame(job, frame), DIGITS) })[0]!;

/** Name of a pass's picture in the folder of a call. @param number the frame's, or marks for that of each */
function nameOf(job: FrameJob, declared: RendererDeclaration, pass: Pass, number: string): string | null {
  const pattern = pass === "beauty" ? "frame.{frame}.{ext}" : declared.passes?.[pass]?.file;
  if (pattern === undefined) return null;
  return fillTemplate([pattern], { frame: number, ext: extensionOf(writtenFormat(job.plan.file)) })[0]!;
}

/** Where the picture of a pass is looked for; null where the declaration names none. */
export function pictureFile(
  job: FrameJob,
  declared: RendererDeclaration,
  folder: string,
  pass: Pass,
  isBatch: boolean,
): string | null {
  const name = nameOf(job, declared, pass, numberOf(job, isBatch));
  return name === null ? null : path.join(folder, name);
}

/** Values for the frames of one call. */
function valuesOf(job: FrameJob, frames: readonly number[], folder: string, output: string): ArgumentValues {
  const numbers = frames.map((frame) => sceneFrame(job, frame));
  const { width, height } = scaledSize(job.plan);
  const passes = job.passes.map(({ pass }) => pass);
  return {
    scene: job.scene,
    frame: numbers[0]!,
    frames: frames.length > 1 ? formatPhrase(setOf(numbers)) : numbers[0]!,
    first: least(numbers),
    last: largest(numbers),
    camera: job.camera,
    width,
    height,
    samples: job.plan.samples,
    seed: job.plan.seed,
    output,
    passes: ["beauty", ...passes.filter((pass) => pass !== "beauty")].join(","),
    light: path.join(folder, LIGHT_FOLDER),
  };
}

/** A call that renders frames. @param frames of the files; more than one are a batch */
export function renderArguments(
  job: FrameJob,
  declared: RendererDeclaration,
  frames: readonly number[],
  folder: string,
): readonly string[] {
  const isBatch = frames.length > 1;
  const number = isBatch ? MARKS : numberOf(job, false);
  const output = path.join(folder, nameOf(job, declared, "beauty", number)!);
  return [
    ...fillTemplate(isBatch ? declared.batch! : declared.arguments, valuesOf(job, frames, folder, output)),
    ...addedArguments(
      declared,
      job.plan,
      job.passes.flatMap(({ pass }) => {
        const name = nameOf(job, declared, pass, number);
        return name === null ? [] : [{ pass, file: path.join(folder, name) }];
      }),
    ),
  ];
}

/** A call that gathers light at one frame. */
export function gatherArguments(
  job: FrameJob,
  declared: RendererDeclaration,
  frame: number,
  folder: string,
): readonly string[] {
  const { arguments: texts, file } = declared.gather!;
  return [
    ...fillTemplate(texts, valuesOf(job, [frame], folder, path.join(folder, lightName(file, job, frame)))),
    ...addedArguments(declared, job.plan, []),
  ];
}
