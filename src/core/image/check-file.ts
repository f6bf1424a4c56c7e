/**
 * Picks the check, and the reader of texts, for a file by its looks and its name. Formats without a check are
 * said to be so.
 */
import { checkExr, isExr, readExrTexts } from "./exr";
import { checkJpeg, isJpeg, readJpegTexts } from "./jpeg";
import { checkPng, type PngTools } from "./png-check";
import { hasSignature, readTexts } from "./png-format";
import { checkTiff, isTiff, readTiffTexts } from "./tiff";
import { damaged, type FileVerdict, unsupported } from "./verdict";

export interface CheckTools extends PngTools {
  /** The unpacked zlib stream, or null when it is broken. */
  readonly inflate: (bytes: Uint8Array, most: number) => Uint8Array | null;
}

/** The letters behind the last dot. */
const EXTENSION = /\.([A-Za-z0-9]+)$/;
/** Kinds whose files are checked. */
export type ImageKind = "png" | "tiff" | "exr" | "jpeg";
/** Asked where the bytes say nothing, such as of an empty file. */
const BY_EXTENSION: Readonly<Record<string, ImageKind>> = {
  png: "png",
  tif: "tiff",
  tiff: "tiff",
  exr: "exr",
  jpg: "jpeg",
  jpeg: "jpeg",
};

/** Format that a name's ending tells, or null. */
export const kindOfName = (name: string): ImageKind | null =>
  BY_EXTENSION[EXTENSION.exec(name)?.[1]?.toLowerCase() ?? ""] ?? null;

/** By the first bytes: what a file is called proves nothing. */
const kindOfBytes = (bytes: Uint8Array): ImageKind | null =>
  hasSignature(bytes) ? "png" : isTiff(bytes) ? "tiff" : isExr(bytes) ? "exr" : isJpeg(bytes) ? "jpeg" : null;

/**
 * Is the file whole, and what does it say of itself? Never throws for what the bytes are.
 * @param deep also decodes what a plain check only measures
 */
export function checkFile(name: string, bytes: Uint8Array, tools: CheckTools, deep = false): FileVerdict {
  switch (kindOfName(name) ?? kindOfBytes(bytes)) {
    case "png":
      return checkPng(bytes, tools, deep);
    case "tiff":
      return checkTiff(bytes, tools.inflatedLength, deep);
    case "exr":
      return checkExr(bytes, tools.inflate, deep);
    case "jpeg":
      return checkJpeg(bytes);
    case null:
      break;
  }
  const extension = EXTENSION.exec(name)?.[1]?.toLowerCase() ?? null;
  if (bytes.length === 0) return damaged(extension, "empty", "the file is empty");
  return unsupported(
    extension,
    extension === null
      ? "the name has no ending that tells its format"
      : `.${extension} files cannot be checked yet`,
  );
}

/** Texts that a picture carries, by keyword, whatever its format. */
export function readImageTexts(bytes: Uint8Array): ReadonlyMap<string, string> {
  switch (kindOfBytes(bytes)) {
    case "png":
      return readTexts(bytes);
    case "tiff":
      return readTiffTexts(bytes);
    case "exr":
      return readExrTexts(bytes);
    case "jpeg":
      return readJpegTexts(bytes);
    case null:
      return new Map();
  }
}
