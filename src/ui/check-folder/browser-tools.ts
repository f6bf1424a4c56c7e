/** What the picture code of the core needs, from what a browser has. */
import { Unzlib, unzlibSync } from "fflate";
import type { CheckTools } from "@/core/image/check-file";
import { crc32 } from "@/core/image/crc32";

/** Stops a stream that comes to more than it may. */
class TooMuch extends Error {}

/** Also of a stream that was cut short or breaks: how much of the picture is there. */
function inflatedLength(parts: readonly Uint8Array[], most: number): number {
  let length = 0;
  const stream = new Unzlib((chunk) => {
    length += chunk.length;
    if (length > most) throw new TooMuch();
  });
  try {
    for (const part of parts) stream.push(part, false);
  } catch (error) {
    if (error instanceof TooMuch) return most + 1;
  }
  return length;
}

/** Null where the bytes are no stream, or one that comes to more than `most` bytes. */
function inflate(bytes: Uint8Array, most: number): Uint8Array | null {
  try {
    const unpacked = unzlibSync(bytes, { out: new Uint8Array(most) });
    return unpacked.length <= most ? unpacked : null;
  } catch {
    return null;
  }
}

export const browserTools: CheckTools = { crc32, inflatedLength, inflate };
