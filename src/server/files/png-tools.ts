/** What the PNG code of the core needs from Node: CRC-32 and zlib. */
import zlib from "node:zlib";
import type { PngTools } from "@/core/image/png-check";
import type { PngWriteTools } from "@/core/image/png-write";

function inflatedLength(parts: readonly Uint8Array[]): number {
  try {
    // A sync flush gives what there is of a stream that was cut short.
    return zlib.inflateSync(Buffer.concat(parts), { finishFlush: zlib.constants.Z_SYNC_FLUSH }).length;
  } catch {
    return 0;
  }
}

export const pngTools: PngTools & PngWriteTools = {
  crc32: (bytes, value) => zlib.crc32(bytes, value),
  deflate: (bytes) => zlib.deflateSync(bytes, { level: 6 }),
  inflatedLength,
};
