/**
 * Pieces of a TIFF that are packed in ways the core does not unpack: Zstandard and WebP, each by a kept codec.
 * (LZMA lies behind a filter of differences, which no package reads.) No more is unpacked of a piece than its part of the picture takes.
 */
import { Decompress } from "fzstd";
import sharp from "sharp";
import { packedPieces, type TiffPiece } from "@/core/image/tiff-check";

/** TIFF's codes of them. */
const ZSTD = 50_000,
  WEBP = 50_001;
/** A piece that comes to more than its part. */
class TooMuch extends Error {}

/** Bytes that a Zstandard stream gives. @throws for a broken one, and for one that gives more than `most` */
function zstdBytes(piece: Uint8Array, most: number): Uint8Array[] {
  const chunks: Uint8Array[] = [];
  let length = 0;
  const stream = new Decompress((chunk) => {
    length += chunk.length;
    if (length > most) throw new TooMuch(`it comes to more than ${most} bytes`);
    chunks.push(chunk);
  });
  stream.push(piece, true);
  return chunks;
}

const lengthOf = (chunks: readonly Uint8Array[]): number => chunks.reduce((sum, c) => sum + c.length, 0);

async function pieceFault(piece: TiffPiece): Promise<string | null> {
  const { bytes, length, compression } = piece;
  try {
    switch (compression) {
      case ZSTD:
        return lengthOf(zstdBytes(bytes, piece.full)) >= length ? null : "gives too few bytes";
      case WEBP:
        await sharp(bytes, { failOn: "error" }).raw().toBuffer();
        return null;
      default:
        return null;
    }
  } catch (error) {
    return error instanceof TooMuch ? error.message : "does not unpack";
  }
}

/** Codes that are looked into here. */
export const BY_PIECE: ReadonlySet<number> = new Set([ZSTD, WEBP]);

/** What is wrong with the first picture, and how much of it stands before; null where every piece unpacks. */
export async function packedFault(
  bytes: Uint8Array,
): Promise<{ readonly detail: string; readonly share: number } | null> {
  const pieces = packedPieces(bytes);
  for (const [i, piece] of pieces.entries()) {
    const why = await pieceFault(piece);
    if (why !== null)
      return { detail: `piece ${i + 1} of ${pieces.length} ${why}`, share: i / pieces.length };
  }
  return null;
}
