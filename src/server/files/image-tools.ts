/** What the picture code of the core needs from Node: CRC-32 and zlib. */
import zlib from "node:zlib";
import type { CheckTools } from "@/core/image/check-file";
import type { PngWriteTools } from "@/core/image/png-write";

/** Also of a stream that was cut short: how much of the picture is there. */
function inflatedLength(parts: readonly Uint8Array[]): number {
  try {
    // A sync flush gives what there is of a stream that was cut short.
    return zlib.inflateSync(Buffer.concat(parts), { finishFlush: zlib.constants.Z_SYNC_FLUSH }).length;
  } catch {
    return 0;
  }
}

/** Null where the bytes are no stream. */
function inflate(bytes: Uint8Array): Uint8Array | null {
  try {
    return zlib.inflateSync(bytes);
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
