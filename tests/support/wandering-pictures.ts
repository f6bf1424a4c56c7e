/** Pictures of soft stripes that wander: in them a pop, a patch or a frame that stands still is odd, and nothing else. */
import fs from "node:fs/promises";
import path from "node:path";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { imageTools } from "@/server/files/image-tools";

const [WIDTH, HEIGHT] = [128, 72];
export const WANDERING_SIZE = { width: WIDTH, height: HEIGHT };

export interface WanderingLook {
  /** Brighter than it should be, so many times. */
  readonly gain?: number;
  /** A grey patch at 32, 16 of 32 x 16 pixels, as of a texture that was not found. */
  readonly isPatched?: boolean;
}

export function wanderingPicture(
  at: number,
  { gain = 1, isPatched = false }: WanderingLook = {},
): Uint8Array {
  const data = Uint8Array.from({ length: WIDTH * HEIGHT * 3 }, (_, i) => {
    const [p, c] = [Math.floor(i / 3), i % 3];
    const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
    if (isPatched && x >= 32 && x < 64 && y >= 16 && y < 32) return 60;
    return gain * (110 + 40 * Math.sin((x + at) / 9 + y / 13 + c));
  });
  return writePng(rgb8(WIDTH, HEIGHT, data), {}, imageTools);
}

/** Puts frames into a folder, whole at once. @param looks of the odd ones, by frame; a number is another frame's picture */
export async function layWandering(
  folder: string,
  frames: readonly number[],
  nameOf: (frame: number) => string,
  looks: Readonly<Record<number, WanderingLook | number>> = {},
): Promise<void> {
  await fs.mkdir(folder, { recursive: true });
  for (const frame of frames) {
    const look = looks[frame] ?? {};
    const picture = typeof look === "number" ? wanderingPicture(look) : wanderingPicture(frame, look);
    await fs.writeFile(path.join(folder, nameOf(frame)), picture);
  }
}
