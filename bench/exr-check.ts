/**
 * 4K OpenEXR frames that ffmpeg made: the quick check against decoding the same files with ffmpeg, and the memory that
 * everything there is takes in two worker threads.
 */
import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { checkFile } from "@/core/image/check-file";
import { median } from "@/core/many";
import { imageTools } from "@/server/files/image-tools";
import { lookAtFiles } from "@/server/files/look-at-files";
import { type Measured, rounded, timeEach } from "./measured";

const FRAMES = 6;
const SIZE = "3840x2160";
const PIXELS = 3840 * 2160;
const ROUNDS = 3;

function ffmpeg(...options: readonly string[]): void {
  const ended = spawnSync("ffmpeg", ["-v", "error", ...options]);
  if (ended.status !== 0) throw new Error(`ffmpeg ended with ${ended.status}: ${String(ended.stderr)}`);
}

/** Moving shapes with grain; blocks of 16 lines by zlib, as most renderers write them. */
function makeFrames(folder: string): string[] {
  ffmpeg(
    ...["-f", "lavfi", "-i", `testsrc2=size=${SIZE},noise=alls=6:allf=t`, "-frames:v", String(FRAMES)],
    ...["-pix_fmt", "gbrpf32le", "-compression", "zip16", "-format", "half", path.join(folder, "%04d.exr")],
  );
  return fs.readdirSync(folder).map((name) => path.join(folder, name));
}

async function withFrames<T>(look: (files: readonly string[]) => Promise<T> | T): Promise<T> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-bench-"));
  try {
    return await look(makeFrames(folder));
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

export const exrCheck = (): Promise<Measured> =>
  withFrames((files) => {
    const ours = timeEach(ROUNDS, () => {
      for (const file of files) {
        const verdict = checkFile(file, fs.readFileSync(file), imageTools);
        if (verdict.verdict !== "good") throw new Error(`${file}: ${verdict.detail}`);
      }
    });
    const theirs = timeEach(ROUNDS, () => {
      for (const file of files) ffmpeg("-i", file, "-f", "null", "-");
    });
    const [value, yardstick] = [median(ours), median(theirs)];
    return {
      name: "exr-check",
      value: rounded((FRAMES * 1000) / value),
      unit: "frames/s",
      yardstick: rounded((FRAMES * 1000) / yardstick),
      ratio: rounded(yardstick / value),
      goal: "the quick check of 4K OpenEXR at least 10 times as fast as decoding by ffmpeg",
      holds: yardstick / value >= 10,
    };
  });

/** In a process of its own: the most that it ever had is what the look took, with all that the program itself is. */
export const deepCheckMemory = (): Promise<Measured> =>
  withFrames(async (files) => {
    for await (const { measured } of lookAtFiles(files, "measures"))
      if (measured === null) throw new Error("a frame was not measured");
    const value = process.resourceUsage().maxRSS / 1000;
    const yardstick = (2 * PIXELS * 3 * 4) / 1e6;
    return {
      name: "deep-check-memory",
      value: rounded(value),
      unit: "MB",
      yardstick: rounded(yardstick),
      ratio: rounded(value / yardstick),
      goal: "4K OpenEXR, all measures in two worker threads, under 1,000 MB (yardstick: two pictures as floats)",
      holds: value < 1000,
    };
  });
