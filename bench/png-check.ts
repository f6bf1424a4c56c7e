/** The file check on 96 frames of 1920x1080 that are made here, against `pngcheck -q` on the same files. */
import { median } from "@/core/many";
import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";
import { checkFile } from "@/core/image/check-file";
import { imageTools } from "@/server/files/image-tools";
import { type Measured, rounded, timeEach } from "./measured";

const FRAMES = 96;
const [WIDTH, HEIGHT] = [1920, 1080];
const ROUNDS = 3;

/** A soft picture with grain, as renders are; each frame another. */
async function makeFrames(folder: string): Promise<string[]> {
  const files: string[] = [];
  const data = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let frame = 0; frame < FRAMES; frame++) {
    let state = frame + 1;
    for (let i = 0; i < data.length; i++) {
      state = (Math.imul(state, 1664525) + 1013904223) | 0;
      data[i] = 90 + ((i / (WIDTH * 3)) >> 4) + ((state >>> 28) & 7);
    }
    const file = path.join(folder, `bench.${String(frame).padStart(4, "0")}.png`);
    await sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png({ compressionLevel: 3 })
      .toFile(file);
    files.push(file);
  }
  return files;
}

export async function pngCheck(): Promise<Measured> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-bench-"));
  try {
    const files = await makeFrames(folder);
    const ours = timeEach(ROUNDS, () => {
      for (const file of files) {
        const verdict = checkFile(file, fs.readFileSync(file), imageTools);
        if (verdict.verdict !== "good") throw new Error(`${file}: ${verdict.detail}`);
      }
    });
    const theirs = timeEach(ROUNDS, () => {
      const ended = spawnSync("pngcheck", ["-q", ...files]);
      if (ended.status !== 0) throw new Error(`pngcheck ended with ${ended.status}`);
    });
    const [value, yardstick] = [median(ours), median(theirs)];
    return {
      name: "png-check",
      value: rounded((FRAMES * 1000) / value),
      unit: "frames/s",
      yardstick: rounded((FRAMES * 1000) / yardstick),
      ratio: rounded(yardstick / value),
      goal: "at least 6 times as fast as pngcheck -q on one core",
      holds: yardstick / value >= 6,
    };
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}
