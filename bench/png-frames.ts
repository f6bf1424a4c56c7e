/** Frames of 1920x1080 that are made here, and `pngcheck -q` over them, which other looks at them are held against. */
import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";

export const PNG_FRAMES = 96;
const [WIDTH, HEIGHT] = [1920, 1080];

/** A soft picture with grain, as renders are; each frame another. */
async function makeFrames(folder: string): Promise<string[]> {
  const files: string[] = [];
  const data = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let frame = 0; frame < PNG_FRAMES; frame++) {
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

/** Made for as long as they are used. */
export async function withPngFrames<T>(look: (files: readonly string[]) => Promise<T>): Promise<T> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-bench-"));
  try {
    return await look(await makeFrames(folder));
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

export function pngcheckAll(files: readonly string[]): void {
  const ended = spawnSync("pngcheck", ["-q", ...files]);
  if (ended.status !== 0) throw new Error(`pngcheck ended with ${ended.status}`);
}
