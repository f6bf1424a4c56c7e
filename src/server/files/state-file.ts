/**
 * What another renderer keeps of a frame, as one file among the saved samples: the same beginning and header,
 * behind it its files one after the other, and the SHA-256 of all. They are copied piece by piece: a state may be
 * larger than the memory.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import { BOUNDS } from "@/contract/bounds";
import { type CheckpointHeader, checkCheckpointHeader, type StateFile } from "@/contract/checkpoint";
import { encodeHead, readCheckpointHeader } from "@/render/checkpoint";

/** SHA-256, at the end. */
const DIGEST_BYTES = 32;
/** Copied at once. */
const PIECE = 1 << 20;
/** Enough for any header: it names the files that a scene uses. */
const LONGEST_HEADER = 1 << 20;

const sum = (files: readonly StateFile[]): number => files.reduce((all, { bytes }) => all + bytes, 0);

/** Bytes of a whole file whose header ends at `end`. */
export const stateFileBytes = (end: number, files: readonly StateFile[]): number =>
  end + sum(files) + DIGEST_BYTES;

/** A change of a file between two looks: it was written meanwhile. */
const isSameFile = (
  a: { readonly size: number; readonly mtimeMs: number },
  b: { readonly size: number; readonly mtimeMs: number },
): boolean => a.size === b.size && a.mtimeMs === b.mtimeMs;

/** Copies all of `from`, hashing; the number of bytes that there were. */
async function append(from: string, to: fs.FileHandle, hash: crypto.Hash): Promise<number> {
  const source = await fs.open(from, "r");
  const piece = Buffer.alloc(PIECE);
  let copied = 0;
  try {
    for (;;) {
      const { bytesRead } = await source.read(piece, 0, PIECE, copied);
      if (bytesRead === 0) return copied;
      copied += bytesRead;
      const part = piece.subarray(0, bytesRead);
      hash.update(part);
      await to.writeFile(part);
    }
  } finally {
    await source.close();
  }
}

/**
 * Writes and flushes the files of a folder as one.
 * @returns its header and length; null where there is nothing to keep, where it is more than may be kept, or
 * where the program wrote one of them meanwhile: half of an old state and half of a new one is none
 */
export async function writeStateFile(
  to: string,
  header: Omit<CheckpointHeader, "files">,
  folder: string,
  names: readonly string[],
): Promise<{ readonly header: CheckpointHeader; readonly bytes: number } | null> {
  const places = [...names]
    .sort()
    .slice(0, BOUNDS.keptFiles)
    .map((name) => path.join(folder, name));
  const before = await Promise.all(places.map((place) => fs.stat(place)));
  const files = before.map(({ size }, i) => ({ name: path.basename(places[i]!), bytes: size }));
  if (files.length === 0 || sum(files) > BOUNDS.stateBytes) return null;
  const whole: CheckpointHeader = { ...header, files };
  const head = encodeHead(whole);
  const hash = crypto.createHash("sha256").update(head);
  const handle = await fs.open(to, "w");
  try {
    await handle.writeFile(head);
    for (const [i, place] of places.entries()) {
      const copied = await append(place, handle, hash);
      if (copied !== files[i]!.bytes || !isSameFile(before[i]!, await fs.stat(place))) return null;
    }
    await handle.writeFile(hash.digest());
    await handle.sync();
  } finally {
    await handle.close();
  }
  return { header: whole, bytes: stateFileBytes(head.length, files) };
}

/** Why saved state cannot be used: it is not there, or not whole; `other` was saved by another renderer. */
export type StateFault = "missing" | "damaged" | "other";

/** The header alone. */
export async function readStateHeader(
  file: string,
): Promise<{ readonly header: CheckpointHeader; readonly end: number } | StateFault> {
  const handle = await fs.open(file, "r").catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return null;
    throw error;
  });
  if (handle === null) return "missing";
  try {
    const { bytesRead, buffer } = await handle.read(Buffer.alloc(LONGEST_HEADER), 0, LONGEST_HEADER, 0);
    const read = readCheckpointHeader(buffer.subarray(0, bytesRead));
    const checked = read === null ? null : checkCheckpointHeader(read.header);
    if (read === null || checked === null || !checked.ok) return "damaged";
    const { files } = checked.value;
    if (files === undefined) return "other";
    return (await handle.stat()).size === stateFileBytes(read.end, files)
      ? { header: checked.value, end: read.end }
      : "damaged";
  } finally {
    await handle.close();
  }
}

/**
 * Puts the files where the program looks for them.
 * @returns false where the file is not what it was: then nothing of it is left in the folder
 */
export async function unpackStateFile(
  file: string,
  { header, end }: { readonly header: CheckpointHeader; readonly end: number },
  folder: string,
): Promise<boolean> {
  const source = await fs.open(file, "r");
  const places = (header.files ?? []).map(({ name }) => path.join(folder, name));
  const hash = crypto.createHash("sha256");
  let at = 0;
  /** Hands on so many bytes as they come; false where there are fewer. */
  const pass = async (bytes: number, take: (part: Buffer) => Promise<unknown>): Promise<boolean> => {
    const piece = Buffer.alloc(Math.min(PIECE, Math.max(1, bytes)));
    for (const until = at + bytes; at < until;) {
      const { bytesRead } = await source.read(piece, 0, Math.min(piece.length, until - at), at);
      if (bytesRead === 0) return false;
      at += bytesRead;
      const part = piece.subarray(0, bytesRead);
      hash.update(part);
      await take(part);
    }
    return true;
  };
  const unpack = async (): Promise<boolean> => {
    if (!(await pass(end, () => Promise.resolve()))) return false;
    for (const [i, { bytes }] of (header.files ?? []).entries()) {
      const handle = await fs.open(places[i]!, "wx", 0o600);
      try {
        if (!(await pass(bytes, (part) => handle.writeFile(part)))) return false;
      } finally {
        await handle.close();
      }
    }
    const told = Buffer.alloc(DIGEST_BYTES);
    await source.read(told, 0, DIGEST_BYTES, at);
    return hash.digest().equals(told);
  };
  try {
    const isWhole = await unpack();
    if (!isWhole) for (const place of places) await fs.rm(place, { force: true });
    return isWhole;
  } finally {
    await source.close();
  }
}
