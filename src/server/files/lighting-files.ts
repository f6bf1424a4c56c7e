/**
 * Lighting caches on disk: a line of JSON, the records as 32-bit floats (little end first), and the
 * SHA-256 of both. Written whole under another name, read with every doubt.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import { checkLightingHeader, type LightingHeader } from "@/contract/lighting";
import { RECORD } from "@/render/lighting-cache";

const HASH_BYTES = 32;
const LONGEST_HEADER = 4_096;

export async function writeLighting(
  file: string,
  header: LightingHeader,
  records: Float32Array,
): Promise<void> {
  const parts = [
    Buffer.from(`${JSON.stringify(header)}\n`),
    Buffer.from(records.buffer, records.byteOffset, records.byteLength),
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
export type LightingFault = "missing" | "damaged" | "other";

export interface ReadLighting {
  readonly header: LightingHeader;
  readonly records: Float32Array;
}

/** @param look that the cache must be for */
export async function readLighting(file: string, look: string): Promise<ReadLighting | LightingFault> {
  const bytes = await fs.readFile(file).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return null;
    throw error;
  });
  if (bytes === null) return "missing";
  const header = headerOf(bytes);
  if (header === null) return "damaged";
  const from = bytes.indexOf(10) + 1,
    to = bytes.length - HASH_BYTES;
  if (to - from !== header.records * RECORD * 4) return "damaged";
  const digest = crypto.createHash("sha256").update(bytes.subarray(0, to)).digest();
  if (!digest.equals(bytes.subarray(to))) return "damaged";
  if (header.look !== look) return "other";
  // Copied: the numbers must begin at a multiple of four.
  return { header, records: new Float32Array(Uint8Array.from(bytes.subarray(from, to)).buffer) };
}

function headerOf(bytes: Buffer): LightingHeader | null {
  const end = bytes.subarray(0, LONGEST_HEADER).indexOf(10);
  if (end < 0) return null;
  try {
    const checked = checkLightingHeader(JSON.parse(bytes.subarray(0, end).toString("utf8")));
    return checked.ok ? checked.value : null;
  } catch {
    return null;
  }
}

/** What stands in the way of using a cache, by its header alone; null when nothing does. What is cut short is found when it is read. */
export async function faultOfLighting(file: string, look: string): Promise<LightingFault | null> {
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
