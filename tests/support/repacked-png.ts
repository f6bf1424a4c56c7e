/** PNG files whose structure is whole and whose picture is not: what only unpacking tells. */
import { joinBytes } from "@/core/image/bytes";
import { chunkBytes, chunksOf, PNG_SIGNATURE } from "@/core/image/png-format";
import { imageTools } from "@/server/files/image-tools";

/** The same file with other data in its rows, every checksum right. */
export function repackedPng(bytes: Uint8Array, change: (filtered: Buffer) => Uint8Array): Buffer {
  const chunks = [...chunksOf(bytes)];
  const packed = joinBytes(chunks.filter(({ type }) => type === "IDAT").map(({ data }) => data));
  const rows = change(Buffer.from(imageTools.inflate(packed, 100_000_000)!));
  const parts = chunks
    .filter(({ type }) => type !== "IDAT")
    .map(({ type, data }) => chunkBytes(type, data, imageTools.crc32));
  parts.splice(-1, 0, chunkBytes("IDAT", imageTools.deflate(rows, 6), imageTools.crc32));
  return Buffer.from(joinBytes([PNG_SIGNATURE, ...parts]));
}
