/** One look at a picture file: whether it is whole, and what is measured of it. */
import fs from "node:fs";
import path from "node:path";
import { checkFile } from "@/core/image/check-file";
import type { MeasuredPicture } from "@/core/image/measure-picture";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { imageTools } from "./image-tools";
import { type FileOrigin, NO_ORIGIN, originOf } from "./origin";

/** How closely: its structure, unpacked to its last pixel, or measured as well. */
export type LookDepth = "quick" | "deep" | "measures";

export interface LookedAt {
  readonly verdict: FileVerdict;
  /** Of the file. */
  readonly bytes: number;
  readonly modifiedMs: number;
  /** What it says of itself. */
  readonly says: FileOrigin;
  /** Null where it was not asked for, of what is damaged, and of kinds that are checked and not shown. */
  readonly measured: MeasuredPicture | null;
}

/**
 * For worker threads and commands: it reads in one go and lets nothing else run meanwhile. A file that cannot be read is an
 * answer, too.
 */
export async function lookAtFile(file: string, depth: LookDepth): Promise<LookedAt> {
  let bytes: Buffer;
  let modifiedMs: number;
  try {
    bytes = fs.readFileSync(file);
    modifiedMs = fs.statSync(file).mtimeMs;
  } catch (error) {
    const why = `the file cannot be read (${(error as NodeJS.ErrnoException).code})`;
    const verdict = damaged(null, "unreadable", why);
    return { verdict, bytes: 0, modifiedMs: 0, says: NO_ORIGIN, measured: null };
  }
  const name = path.basename(file);
  const known = { bytes: bytes.length, modifiedMs, says: originOf(bytes) };
  if (depth === "quick") return { verdict: checkFile(name, bytes, imageTools), ...known, measured: null };
  // Codecs are loaded by whoever needs them.
  const { checkDeep, checkMeasuring } = await import("./check-deep");
  if (depth === "deep") return { verdict: await checkDeep(name, bytes), ...known, measured: null };
  return { ...(await checkMeasuring(name, bytes)), ...known };
}
