/** One look at a picture file: whether it is whole, and what is measured of it. */
import fs from "node:fs/promises";
import path from "node:path";
import { checkFile } from "@/core/image/check-file";
import { type MeasuredPicture, measurePicture } from "@/core/image/measure-picture";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { imageTools } from "./image-tools";

/** How closely: its structure, unpacked to its last pixel, or measured as well. */
export type LookDepth = "quick" | "deep" | "measures";

export interface LookedAt {
  readonly verdict: FileVerdict;
  /** Bytes of the file. */
  readonly bytes: number;
  /** Null where it was not asked for, of what is damaged, and of kinds that are checked and not shown. */
  readonly measured: MeasuredPicture | null;
}

/** A file that cannot be read is an answer, too. */
export async function lookAtFile(file: string, depth: LookDepth): Promise<LookedAt> {
  let bytes: Buffer;
  try {
    bytes = await fs.readFile(file);
  } catch (error) {
    const why = `the file cannot be read (${(error as NodeJS.ErrnoException).code})`;
    return { verdict: damaged(null, "unreadable", why), bytes: 0, measured: null };
  }
  const name = path.basename(file);
  const { length } = bytes;
  if (depth === "quick")
    return { verdict: checkFile(name, bytes, imageTools), bytes: length, measured: null };
  // Codecs are loaded by whoever needs them.
  const { checkDeep, checkReading } = await import("./check-deep");
  if (depth === "deep") return { verdict: await checkDeep(name, bytes), bytes: length, measured: null };
  const { verdict, picture } = await checkReading(name, bytes);
  const measured = picture === null ? null : measurePicture(picture, !("depth" in picture));
  return { verdict, bytes: length, measured };
}
