/** What the picture code of the core needs from Node: CRC-32 and zlib. */
import zlib from "node:zlib";
import { MAX_SIDE } from "@/core/image/pixels";
import type { CheckTools } from "@/core/image/check-file";
import { MOST_RATIO } from "@/core/image/inflate";
import type { PngWriteTools } from "@/core/image/png-write";

/** The largest picture that a plan may ask for, four channels of 16 bits: no stream is unpacked any further. */
const MOST_BYTES = MAX_SIDE * MAX_SIDE * 8 + MAX_SIDE;

/** Room that is made at once: more comes in pieces, as much of it as there is. */
const MOST_AT_ONCE = 64 * 1024 * 1024;
const LEAST_AT_ONCE = 16 * 1024;

/** Room for all that may come, where the stream can hold it: unpacking in small pieces takes half as long again. */
const roomFor = (packed: number, most: number): number =>
  Math.max(LEAST_AT_ONCE, Math.min(most + 1, packed * MOST_RATIO, MOST_AT_ONCE));

/**
 * Also of a stream that was cut short: how much of the picture is there.
 * @param most bytes that it may come to; of a stream that holds more, one more than that
 */
function inflatedLength(parts: readonly Uint8Array[], most: number): number {
  try {
    const packed = Buffer.concat(parts);
    return zlib.inflateSync(packed, {
      chunkSize: roomFor(packed.length, most),
      // A sync flush gives what there is of a stream that was cut short.
      finishFlush: zlib.constants.Z_SYNC_FLUSH,
      maxOutputLength: Math.max(1, Math.min(most, MOST_BYTES)),
    }).length;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "ERR_BUFFER_TOO_LARGE" ? most + 1 : 0;
  }
}

/** Null where the bytes are no stream, or one that comes to more than `most` bytes. */
function inflate(bytes: Uint8Array, most: number): Uint8Array | null {
  try {
    return zlib.inflateSync(bytes, {
      chunkSize: roomFor(bytes.length, most),
      maxOutputLength: Math.max(1, Math.min(most, MOST_BYTES)),
    });
  } catch {
    return null;
  }
}

/** Handed to the core, which has no Node in it. */
export const imageTools: CheckTools & PngWriteTools = {
  crc32: (bytes, value) => zlib.crc32(bytes, value),
  deflate: (bytes, level) => zlib.deflateSync(bytes, { level }),
  inflatedLength,
  inflate,
};
