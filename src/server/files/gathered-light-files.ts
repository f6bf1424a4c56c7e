/**
 * Gathered light on disk: a line of JSON, the records as 32-bit floats (little end first), and the
 * SHA-256 of both. Written whole under another name, read with every doubt.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import { checkGatheredLightHeader, type GatheredLightHeader } from "@/contract/gathered-light";
import { RECORD } from "@/render/gathered-light";
import { isGatheredLight } from "./layout";
import { readRegular } from "./read-regular";

/** SHA-256, at the end of the file. */
const HASH_BYTES = 32;
/** Bytes in which the line of JSON must end. */
const LONGEST_HEADER = 4_096;

/** Writes and flushes the file; its caller puts it in its place under the lease. */
export async function writeGatheredLight(
  file: string,
  header: GatheredLightHeader,
  content: Float32Array | Buffer,
): Promise<void> {
  const parts = [
    Buffer.from(`${JSON.stringify(header)}\n`),
    Buffer.from(content.buffer, content.byteOffset, content.byteLength),
  ];
  const hash = crypto.createHash("sha256");
  for (const part of parts) hash.update(part);
  const handle = await fs.open(file, "w");
  try {
    for (const part of [...parts, hash.digest()]) await handle.writeFile(part);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Why a cache cannot be used. */
export type LightFault = "missing" | "damaged" | "other";

export interface ReadLight {
  readonly header: GatheredLightHeader;
  /** Ten numbers each; see render/gathered-light. */
  readonly records: Float32Array;
}

interface ProvenLight {
  readonly header: GatheredLightHeader;
  /** What follows the header. */
  readonly content: Buffer;
}

/** A whole file, proved against its own hash. @param look that the cache must be for */
export async function proveGatheredLight(file: string, look: string): Promise<ProvenLight | LightFault> {
  const bytes = await readRegular(file).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return null;
    throw error;
  });
  if (bytes === null) return "missing";
  const header = headerOf(bytes);
  if (header === null) return "damaged";
  const from = bytes.indexOf(10) + 1,
    to = bytes.length - HASH_BYTES;
  if (to - from !== (header.bytes ?? header.records * RECORD * 4)) return "damaged";
  const digest = crypto.createHash("sha256").update(bytes.subarray(0, to)).digest();
  if (!digest.equals(bytes.subarray(to))) return "damaged";
  if (header.look !== look) return "other";
  return { header, content: bytes.subarray(from, to) };
}

/** @param look that the cache must be for */
export async function readGatheredLight(file: string, look: string): Promise<ReadLight | LightFault> {
  const proven = await proveGatheredLight(file, look);
  if (typeof proven === "string") return proven;
  if (proven.header.bytes !== undefined) return "other";
  // Copied: the numbers must begin at a multiple of four.
  return { header: proven.header, records: new Float32Array(Uint8Array.from(proven.content).buffer) };
}

/** Null where there is no line of JSON, or one that says something else. */
function headerOf(bytes: Buffer): GatheredLightHeader | null {
  const end = bytes.subarray(0, LONGEST_HEADER).indexOf(10);
  if (end < 0) return null;
  try {
    const checked = checkGatheredLightHeader(JSON.parse(bytes.subarray(0, end).toString("utf8")));
    return checked.ok ? checked.value : null;
  } catch {
    return null;
  }
}

/**
 * What stands in the way of using a cache, by its header alone; null when nothing does. What is cut short is
 * found when it is read.
 */
export async function faultOfLight(file: string, look: string): Promise<LightFault | null> {
  const handle = await fs.open(file, "r").catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return null;
    throw error;
  });
  if (handle === null) return "missing";
  try {
    const { bytesRead, buffer } = await handle.read(Buffer.alloc(LONGEST_HEADER), 0, LONGEST_HEADER, 0);
    const header = headerOf(buffer.subarray(0, bytesRead));
    return header === null ? "damaged" : header.look === look ? null : "other";
  } finally {
    await handle.close();
  }
}

/** Names of the gathered light in a folder; none where there is no such folder. */
export const gatheredLightIn = async (folder: string): Promise<string[]> =>
  (await fs.readdir(folder).catch(() => [])).filter(isGatheredLight);
