/**
 * Pieces of a TIFF that are packed in ways the core does not unpack: Zstandard, WebP and LERC, each by a kept codec.
 * (LZMA lies behind a filter of differences, which no package reads.) No more is unpacked of a piece than its part of the picture takes.
 */
import path from "node:path";
import { Decompress } from "fzstd";
import * as Lerc from "lerc";
import sharp from "sharp";
import { packedPieces, type TiffPiece } from "@/core/image/tiff-check";
import { home } from "../configuration";
import { imageTools } from "./image-tools";

/** TIFF's codes of them. */
const LERC = 34_887,
  ZSTD = 50_000,
  WEBP = 50_001;
/** How LERC's pieces are packed once more. */
const LERC_BY_ZLIB = 1,
  LERC_BY_ZSTD = 2;

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

let lercIsLoaded: Promise<void> | null = null;
/** Its program is a file beside it. */
const loadLerc = (): Promise<void> =>
  (lercIsLoaded ??= Lerc.load({
    locateFile: () => path.join(home(), "node_modules/lerc/lerc-wasm.wasm"),
  }));

/** @throws for a broken blob, and for one of another size than its piece */
async function decodeLerc(piece: Uint8Array, packing: number, most: number): Promise<void> {
  await loadLerc();
  // A blob has a head besides, and is hardly ever longer than its pixels.
  const limit = most * 2 + 1_024;
  const blob =
    packing === LERC_BY_ZSTD
      ? Buffer.concat(zstdBytes(piece, limit))
      : packing === LERC_BY_ZLIB
        ? imageTools.inflate(piece, limit)
        : piece;
  if (blob === null) throw new Error("its zlib stream is broken");
  const own = Uint8Array.from(blob).buffer;
  const { width, height, bandCount, depthCount } = Lerc.getBlobInfo(own);
  if (width * height * bandCount * depthCount > most) throw new TooMuch("its blob says another size");
  Lerc.decode(own);
}

async function pieceFault(piece: TiffPiece): Promise<string | null> {
  const { bytes, length, compression, lercPacking } = piece;
  try {
    switch (compression) {
      case ZSTD:
        return lengthOf(zstdBytes(bytes, piece.full)) >= length ? null : "gives too few bytes";
      case WEBP:
        await sharp(bytes, { failOn: "error" }).raw().toBuffer();
        return null;
      case LERC:
        await decodeLerc(bytes, lercPacking, piece.full);
        return null;
      default:
        return null;
    }
  } catch (error) {
    return error instanceof TooMuch ? error.message : "does not unpack";
  }
}

/** Codes that are looked into here. */
export const BY_PIECE: ReadonlySet<number> = new Set([ZSTD, WEBP, LERC]);

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
