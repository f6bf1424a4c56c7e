/**
 * Puts texts into a finished picture of another program, as far as its format makes it simple: PNG and JPEG.
 * Others stay as they are; the manifest says who made them.
 */
import { fromLatin1, joinBytes } from "./bytes";
import { isJpeg, withComment } from "./jpeg";
import { chunkBytes, chunksOf, type Crc32, hasSignature, PNG_SIGNATURE } from "./png-format";
import { textChunks } from "./png-write";

/** Texts of the same keyword that are there already give way. */
export function addTexts(
  bytes: Uint8Array,
  texts: Readonly<Record<string, string>>,
  crc32: Crc32,
): Uint8Array {
  if (isJpeg(bytes)) return withComment(bytes, texts);
  if (!hasSignature(bytes)) return bytes;
  const [header, ...rest] = [...chunksOf(bytes)];
  const isReplaced = (type: string, data: Uint8Array): boolean =>
    type === "tEXt" && fromLatin1(data.subarray(0, Math.max(0, data.indexOf(0)))) in texts;
  const kept = rest.filter(({ type, data }) => !isReplaced(type, data));
  return joinBytes([
    PNG_SIGNATURE,
    chunkBytes(header!.type, header!.data, crc32),
    ...textChunks(texts, crc32),
    ...kept.map(({ type, data }) => chunkBytes(type, data, crc32)),
  ]);
}
