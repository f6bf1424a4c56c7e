/**
 * Looks at PNG frames against `pngcheck -q` on the same files: the quick check in one thread and in worker threads, and
 * everything that there is (each pixel read, measures, odd ones out).
 */
import fs from "node:fs";
import { checkFile } from "@/core/image/check-file";
import { median } from "@/core/many";
import { type MeasuredFile, oddFiles } from "@/cli/odd-files";
import { imageTools } from "@/server/files/image-tools";
import type { LookDepth } from "@/server/files/look-at-file";
import { lookAtFiles } from "@/server/files/look-at-files";
import { type Measured, rounded, timeEach } from "./measured";
import { pngcheckAll, PNG_FRAMES, withPngFrames } from "./png-frames";

const ROUNDS = 3;

/** Threads begin and end within the time that is measured. */
async function lookAtAll(files: readonly string[], depth: LookDepth): Promise<void> {
  const all: MeasuredFile[] = [];
  let at = 0;
  for await (const { verdict, measured, ...known } of lookAtFiles(files, depth)) {
    const file = files[at++]!;
    if (verdict.verdict !== "good") throw new Error(`${file}: ${verdict.detail}`);
    if (depth !== "measures") continue;
    if (measured === null) throw new Error(`${file} was not measured`);
    all.push({ file, ...known, measured });
  }
  if (at !== files.length) throw new Error(`${at} of ${files.length} files were looked at`);
  await oddFiles(all);
}

/** Theirs and ours in turn, so that a slow moment of the machine is nobody's alone. */
async function against(
  name: string,
  goal: string,
  least: number,
  look: (files: readonly string[]) => Promise<void> | void,
): Promise<Measured> {
  return withPngFrames(async (files) => {
    const ours: number[] = [];
    const theirs: number[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      const from = performance.now();
      await look(files);
      ours.push(performance.now() - from);
      theirs.push(...timeEach(1, () => pngcheckAll(files)));
    }
    const [value, yardstick] = [median(ours), median(theirs)];
    return {
      name,
      value: rounded((PNG_FRAMES * 1000) / value),
      unit: "frames/s",
      yardstick: rounded((PNG_FRAMES * 1000) / yardstick),
      ratio: rounded(yardstick / value),
      goal,
      holds: yardstick / value >= least,
    };
  });
}

export const pngCheck = (): Promise<Measured> =>
  against("png-check", "at least 6 times as fast as pngcheck -q on one core", 6, (files) => {
    for (const file of files) {
      const verdict = checkFile(file, fs.readFileSync(file), imageTools);
      if (verdict.verdict !== "good") throw new Error(`${file}: ${verdict.detail}`);
    }
  });

export const pngCheckTwoCores = (): Promise<Measured> =>
  against(
    "png-check-two-cores",
    "the quick check in two worker threads at least 8 times as fast as pngcheck -q",
    8,
    (files) => lookAtAll(files, "quick"),
  );

export const deepCheck = (): Promise<Measured> =>
  against(
    "deep-check",
    "every pixel read, all measures and odd ones out, in two worker threads, in at most the time of pngcheck -q",
    1,
    (files) => lookAtAll(files, "measures"),
  );
