/**
 * The deep check of one file: its structure, what the core unpacks itself, and by a codec what it does not (WebP, JPEG,
 * and TIFFs that hold JPEG, a fax, or what is packed in ways of its own).
 */
import sharp from "sharp";
import { checkFile, kindOf } from "@/core/image/check-file";
import { type MeasuredPicture, measurePicture } from "@/core/image/measure-picture";
import { MAX_SIDE } from "@/core/image/pixels";
import { readPng } from "@/core/image/png-read";
import { tiffCompression } from "@/core/image/tiff-check";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { imageTools } from "./image-tools";
import { isInteger, PictureUnreadable, type ReadPicture, readPixels } from "./read-pixels";
import { BY_PIECE, packedFault } from "./tiff-codecs";

/** Codes of a TIFF's compression that the codec reads and the core does not. */
const BY_CODEC: ReadonlySet<number> = new Set([2, 3, 4, 7]);
/** Said of kinds that the codec was not built for: that is no fault of the file. */
const NOT_BUILT = /unsupported|not supported|not configured|no (?:codec|loader)|not implemented/i;

/** Whether a codec has to look at a file that the core found whole. */
function needsCodec(name: string, bytes: Uint8Array, { bitDepth }: FileVerdict): boolean {
  switch (kindOf(name, bytes)) {
    case "webp":
      return true;
    case "jpeg":
      return bitDepth === 8;
    case "tiff":
      return BY_CODEC.has(tiffCompression(bytes) ?? 1);
    default:
      return false;
  }
}

/** Every pixel is asked for. @returns why the codec says no, or null */
async function codecFault(bytes: Uint8Array): Promise<string | null> {
  try {
    await sharp(bytes, { failOn: "error", limitInputPixels: MAX_SIDE * MAX_SIDE, pages: 1 })
      .raw()
      .toBuffer();
    return null;
  } catch (error) {
    const said = (error as Error).message.split("\n")[0]!;
    return NOT_BUILT.test(said) ? null : said;
  }
}

/** Never rejects for what the bytes are. */
export async function checkDeep(name: string, bytes: Uint8Array): Promise<FileVerdict> {
  const verdict = checkFile(name, bytes, imageTools, true);
  if (verdict.verdict !== "good") return verdict;
  const { format, width, height, bitDepth, channels } = verdict;
  const shape = { width: width!, height: height!, bitDepth: bitDepth!, channels: channels! };
  if (kindOf(name, bytes) === "tiff" && BY_PIECE.has(tiffCompression(bytes) ?? 1)) {
    const fault = await packedFault(bytes);
    return fault === null ? verdict : damaged(format, "corrupt", fault.detail, shape, fault.share);
  }
  if (!needsCodec(name, bytes, verdict)) return verdict;
  const fault = await codecFault(bytes);
  return fault === null ? verdict : damaged(format, "corrupt", `it does not unpack (${fault})`, shape);
}

/**
 * The deep check, with the pixels that were unpacked for it.
 * @returns no picture of what is damaged, and of kinds that are checked and not shown
 */
export async function checkReading(
  name: string,
  bytes: Buffer,
): Promise<{ readonly verdict: FileVerdict; readonly picture: ReadPicture | null }> {
  if (kindOf(name, bytes) === "png") {
    const verdict = checkFile(name, bytes, imageTools);
    const picture = verdict.verdict === "good" ? readPng(bytes, imageTools.inflate) : null;
    if (picture !== null) return { verdict, picture };
  }
  const verdict = await checkDeep(name, bytes);
  if (verdict.verdict !== "good") return { verdict, picture: null };
  const picture = await readPixels(name, bytes).catch((error: unknown) => {
    if (error instanceof PictureUnreadable) return null;
    throw error;
  });
  return { verdict, picture };
}

/**
 * The deep check, with what was measured of the pixels: floats are taken for scene light, integers for what displays show.
 * @returns nothing measured where there is no picture
 */
export async function checkMeasuring(
  name: string,
  bytes: Buffer,
): Promise<{ readonly verdict: FileVerdict; readonly measured: MeasuredPicture | null }> {
  const { verdict, picture } = await checkReading(name, bytes);
  return { verdict, measured: picture === null ? null : measurePicture(picture, !isInteger(picture)) };
}
