/**
 * Checkpoints on disk: written whole under a temporary name, read with every doubt.
 * A file that is cut, or of another layout, or of another picture is as good as none: the frame starts over
 * and nobody is stopped by it. Sizes are held against the plan before anything is allocated.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import { type CheckpointHeader, checkCheckpointHeader } from "@/contract/checkpoint";
import type { FrameSums } from "@/render/frame-sums";
import {
  type Digest,
  encodeCheckpoint,
  fileBytes,
  readCheckpointHeader,
  readCheckpointSums,
} from "@/render/checkpoint";
import { readRegular } from "./read-regular";
import { stateFileBytes } from "./state-file";

/** SHA-256 over the pieces, in their order. */
const digest: Digest = (parts) => {
  const hash = crypto.createHash("sha256");
  for (const part of parts) hash.update(part);
  return hash.digest();
};

/** Writes and flushes; returns the number of bytes. */
export async function writeCheckpoint(
  file: string,
  header: CheckpointHeader,
  sums: FrameSums,
): Promise<number> {
  const parts = encodeCheckpoint(header, sums, digest);
  const handle = await fs.open(file, "w");
  try {
    for (const part of parts) await handle.writeFile(part);
    await handle.sync();
  } finally {
    await handle.close();
  }
  return parts.reduce((n, part) => n + part.length, 0);
}

/** Enough for any header: look settings are small, but a scene may use hundreds of files. */
const LONGEST_HEADER = 1 << 20;

/**
 * The header alone; null when the file is no checkpoint of ours, or cut short. The sums may still be altered.
 */
export async function readHeaderOf(file: string): Promise<CheckpointHeader | null> {
  const handle = await fs.open(file, "r");
  try {
    const { bytesRead, buffer } = await handle.read(Buffer.alloc(LONGEST_HEADER), 0, LONGEST_HEADER, 0);
    const read = readCheckpointHeader(buffer.subarray(0, bytesRead));
    const header = checkedHeader(read?.header);
    if (read === null || header === null) return null;
    return (await handle.stat()).size === bytesOfWhole(read.end, header) ? header : null;
  } finally {
    await handle.close();
  }
}

/** What a whole file must have. @param end of the header */
const bytesOfWhole = (end: number, header: CheckpointHeader): number =>
  header.files === undefined
    ? fileBytes(end, header.width * header.height, header)
    : stateFileBytes(end, header.files);

/** Null where it is not what a header must be. */
function checkedHeader(header: unknown): CheckpointHeader | null {
  const checked = checkCheckpointHeader(header);
  return checked.ok ? checked.value : null;
}

/** Header and sums, proved against one another. */
export interface Checkpoint {
  readonly header: CheckpointHeader;
  readonly sums: FrameSums;
}

/** A whole checkpoint; null when the file is cut short, altered, or none of ours. */
export async function readCheckpoint(file: string): Promise<Checkpoint | null> {
  const bytes = await readRegular(file);
  const read = readCheckpointHeader(bytes);
  const header = checkedHeader(read?.header);
  if (read === null || header === null || header.files !== undefined) return null;
  const sums = readCheckpointSums(bytes, read.end, { ...header, kept: header }, digest);
  return sums === null ? null : { header, sums };
}
