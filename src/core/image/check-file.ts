/**
 * Picks the check, and the reader of texts, for a file by its looks and its name. Formats without a check are
 * said to be so.
 */
import { checkBmp, isBmp } from "./bmp-check";
import { checkDpx, isDpx } from "./dpx-check";
import { checkExr } from "./exr-check";
import { isExr, readExrTexts } from "./exr-header";
import { checkHdr, isHdr } from "./hdr-check";
import type { Inflate } from "./inflate";
import { isJpeg, readJpegTexts } from "./jpeg";
import { checkJpeg } from "./jpeg-check";
import { checkPng, type PngTools } from "./png-check";
import { hasSignature, readTexts } from "./png-format";
import { checkTga } from "./tga-check";
import { checkTiff, isTiff, readTiffTexts, type TiffTools } from "./tiff-check";
import { damaged, type FileVerdict, unsupported } from "./verdict";
import { checkWebp, isWebp } from "./webp-check";

export interface CheckTools extends PngTools, TiffTools {
  /** The unpacked zlib stream, or null when it is broken. */
  readonly inflate: Inflate;
}

/** The letters behind the last dot. */
const EXTENSION = /\.([A-Za-z0-9]+)$/;
/** Kinds whose files are checked. */
export type ImageKind = "png" | "tiff" | "exr" | "jpeg" | "bmp" | "hdr" | "webp" | "tga" | "dpx";
/** Asked where the bytes say nothing, such as of an empty file. */
const BY_EXTENSION: Readonly<Record<string, ImageKind>> = {
  ...{ png: "png", exr: "exr", webp: "webp", tga: "tga", dpx: "dpx" },
  ...{ tif: "tiff", tiff: "tiff", btf: "tiff" },
  ...{ jpg: "jpeg", jpeg: "jpeg", jpe: "jpeg", jfif: "jpeg" },
  ...{ bmp: "bmp", dib: "bmp", hdr: "hdr", rgbe: "hdr" },
};

/** As people call them. */
const WORD: Readonly<Record<ImageKind, string>> = {
  ...{ png: "PNG", tiff: "TIFF", exr: "OpenEXR picture", jpeg: "JPEG", bmp: "BMP" },
  ...{ hdr: "Radiance picture", webp: "WebP", tga: "TGA", dpx: "DPX" },
};

/** A format of a verdict as people call it. */
export const formatWord = (format: string): string =>
  Object.hasOwn(WORD, format) ? WORD[format as ImageKind].replace(" picture", "") : format.toUpperCase();

/** Format that a name's ending tells, or null. */
export const kindOfName = (name: string): ImageKind | null =>
  BY_EXTENSION[EXTENSION.exec(name)?.[1]?.toLowerCase() ?? ""] ?? null;

/** Formats by what their files begin with. */
const SIGNS: readonly (readonly [ImageKind, (bytes: Uint8Array) => boolean])[] = [
  ["png", hasSignature],
  ["tiff", isTiff],
  ["exr", isExr],
  ["jpeg", isJpeg],
  ["webp", isWebp],
  ["dpx", isDpx],
  ["hdr", isHdr],
  ["bmp", isBmp],
];

/** By the first bytes: what a file is called proves nothing. */
const kindOfBytes = (bytes: Uint8Array): ImageKind | null => SIGNS.find(([, is]) => is(bytes))?.[0] ?? null;

/** What a file is judged as: what it is called, and where that says nothing, what it begins with. */
export const kindOf = (name: string, bytes: Uint8Array): ImageKind | null =>
  kindOfName(name) ?? kindOfBytes(bytes);

/** A copy that stopped leaves whole sectors of nothing behind. */
const SECTOR = 512;

/**
 * Noughts from the beginning of a sector to the end of the file: pixels may be that black, so that it is no more than a
 * note.
 */
function noughtsBehind(bytes: Uint8Array): readonly string[] {
  let from = bytes.length;
  while (from > 0 && bytes[from - 1] === 0) from--;
  return bytes.length - from >= SECTOR && from % SECTOR === 0
    ? [`nothing but noughts from byte ${from} on, as of a copy that ended there`]
    : [];
}

/** Files that were made room for and never written. */
const isNought = (bytes: Uint8Array): boolean => bytes.length > 0 && bytes.every((byte) => byte === 0);

function checkAs(kind: ImageKind, bytes: Uint8Array, tools: CheckTools, deep: boolean): FileVerdict {
  switch (kind) {
    case "png":
      return checkPng(bytes, tools, deep);
    case "tiff":
      return checkTiff(bytes, tools, deep);
    case "exr":
      return checkExr(bytes, tools.inflate, deep);
    case "jpeg":
      return checkJpeg(bytes);
    case "bmp":
      return checkBmp(bytes);
    case "hdr":
      return checkHdr(bytes);
    case "webp":
      return checkWebp(bytes);
    case "tga":
      return checkTga(bytes);
    case "dpx":
      return checkDpx(bytes);
  }
}

/**
 * Is the file whole, and what does it say of itself? Never throws for what the bytes are.
 * @param deep also decodes what a plain check only measures
 */
export function checkFile(name: string, bytes: Uint8Array, tools: CheckTools, deep = false): FileVerdict {
  const kind = kindOf(name, bytes);
  const extension = EXTENSION.exec(name)?.[1]?.toLowerCase() ?? null;
  if (bytes[0] === 0 && isNought(bytes))
    return damaged(kind ?? extension, "not-an-image", `all of its ${bytes.length} bytes are nought`);
  if (kind !== null) {
    const verdict = checkAs(kind, bytes, tools, deep);
    if (verdict.verdict === "good") return { ...verdict, notes: [...verdict.notes, ...noughtsBehind(bytes)] };
    const seen = verdict.code === "not-an-image" ? kindOfBytes(bytes) : null;
    return seen === null || seen === kind
      ? verdict
      : { ...verdict, detail: `it is named as a ${WORD[kind]}, and is a ${WORD[seen]}` };
  }
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
    default:
      return new Map();
  }
}
