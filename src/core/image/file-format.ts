/**
 * The files that a frame can be written as, and what follows from the choice.
 * Facts alone, without code that reads or writes: plans, pages and estimates may know them all.
 */
import { EXR_COMPRESSIONS, type ExrCompression } from "./exr";
import type { Channels } from "./pixels";
import { TIFF_COMPRESSIONS, type TiffCompression } from "./tiff-write";

/** Kind and what is chosen in it: a setting that a kind does not have cannot be said. */
export type WrittenFormat =
  | {
      readonly kind: "png";
      readonly depth: 8 | 16;
      /** 0 fast and large to 9 slow and small. */ readonly level: number;
    }
  | { readonly kind: "tiff"; readonly depth: 8 | 16; readonly compression: TiffCompression }
  | { readonly kind: "exr"; readonly depth: "half" | "float"; readonly compression: ExrCompression }
  | { readonly kind: "jpeg"; /** 1 to 100. */ readonly quality: number };

/** What another program writes: it is told, and never written. */
export interface ForeignFormat {
  readonly kind: "foreign";
  /** As people call it; blank where no file of it could be read. */
  readonly format: string;
  /** Bits of a channel; null where the files do not say. */
  readonly depth: number | null;
  /** Scene light, not display values. */
  readonly isLinear: boolean;
}

export type FileFormat = WrittenFormat | ForeignFormat;

export type FileKind = WrittenFormat["kind"];
/** In the order in which the plan offers them. */
export const FILE_KINDS = ["png", "tiff", "exr", "jpeg"] as const satisfies readonly FileKind[];

/** Without alpha, with colour as it is, or with colour times alpha. */
export const ALPHAS = ["none", "straight", "premultiplied"] as const;
export type Alpha = (typeof ALPHAS)[number];

/** Red, green and blue, or one channel of grey where the look has no colour. */
export const CHANNEL_CHOICES = ["colour", "grey"] as const;
export type ChannelChoice = (typeof CHANNEL_CHOICES)[number];

/** As the trade writes them. */
const EXTENSIONS: Readonly<Record<FileKind, string>> = {
  png: "png",
  tiff: "tif",
  exr: "exr",
  jpeg: "jpg",
};
/** What file names of the kind end in, without the dot. */
export const extensionOf = (file: WrittenFormat): string => EXTENSIONS[file.kind];

/**
 * The format of what is rendered. Only a plan that renders nothing has another: readPlan has said so.
 * @throws Error for a foreign one: a fault of the program
 */
export function writtenFormat(file: FileFormat): WrittenFormat {
  if (file.kind === "foreign") throw new Error(`Files of ${file.format} are told, and never written.`);
  return file;
}

/** A sensible first choice of each kind. */
export const DEFAULT_FILE: { readonly [K in FileKind]: Extract<WrittenFormat, { kind: K }> } = {
  png: { kind: "png", depth: 8, level: 6 },
  tiff: { kind: "tiff", depth: 16, compression: "deflate" },
  exr: { kind: "exr", depth: "half", compression: "zip" },
  jpeg: { kind: "jpeg", quality: 90 },
};

export interface FileFacts {
  readonly isLossless: boolean;
  /** Whether alpha can be chosen at all. */
  readonly holdsAlpha: boolean;
  /** Scene light, not display values. */
  readonly isLinear: boolean;
  /** What reads it, in a few words. */
  readonly readers: string;
}

/** The table of consequences. */
export const FILE_FACTS: Readonly<Record<FileKind, FileFacts>> = {
  png: { isLossless: true, holdsAlpha: true, isLinear: false, readers: "everything, browsers too" },
  tiff: { isLossless: true, holdsAlpha: true, isLinear: false, readers: "picture and print programs" },
  exr: { isLossless: true, holdsAlpha: true, isLinear: true, readers: "compositing and grading" },
  jpeg: { isLossless: false, holdsAlpha: false, isLinear: false, readers: "everything, browsers too" },
};

/** Bits of a channel where nothing says. */
const USUAL_DEPTH = 8;

/** Of one channel. */
export const bitsOf = (file: WrittenFormat): number =>
  file.kind === "jpeg" ? 8 : file.depth === "half" ? 16 : file.depth === "float" ? 32 : file.depth;

/** Quality, and share of the plain bytes. */
const JPEG_SHARES = [
  [0, 0.02],
  [30, 0.025],
  [60, 0.042],
  [90, 0.13],
  [100, 0.43],
] as const;

/**
 * Share of the plain bytes that a grainy render takes on disk: means over one frame of each demo
 * scene, 480 x 270 at 16 samples (they lie between 0.7 and 1.3 of these). Only until there are files
 * of the sequence itself.
 */
function packing(file: WrittenFormat): number {
  switch (file.kind) {
    case "png":
      return file.level === 0 ? 1 : file.depth === 8 ? 0.48 : 0.71;
    case "tiff":
      return file.compression === "none" ? 1 : file.depth === 8 ? 0.48 : 0.71;
    case "exr":
      return file.compression === "none"
        ? 1
        : file.compression === "rle"
          ? file.depth === "half"
            ? 0.73
            : 1
          : file.depth === "half"
            ? 0.51
            : 0.92;
    case "jpeg": {
      const above = Math.max(
        1,
        JPEG_SHARES.findIndex(([quality]) => quality >= file.quality),
      );
      const [[q0, s0], [q1, s1]] = [JPEG_SHARES[above - 1]!, JPEG_SHARES[above]!];
      return s0 + ((s1 - s0) * (file.quality - q0)) / (q1 - q0);
    }
  }
}

/** Bytes a frame takes, by format and size alone. Of another program's files the most that they can take. */
export const guessBytes = (file: FileFormat, pixels: number, channels: Channels): number =>
  file.kind === "foreign"
    ? Math.round(pixels * channels * ((file.depth ?? USUAL_DEPTH) / 8))
    : Math.round(pixels * channels * (bitsOf(file) / 8) * packing(file)) + 1_000;

/** Whether files of the format hold scene light. */
export const isLinearFile = (file: FileFormat): boolean =>
  file.kind === "foreign" ? file.isLinear : FILE_FACTS[file.kind].isLinear;

/** Whether alpha can be in files of the format; another program's may have any. */
export const mayHoldAlpha = (file: FileFormat): boolean =>
  file.kind === "foreign" || FILE_FACTS[file.kind].holdsAlpha;

/** A whole number inside bounds, both inclusive. */
const whole = (value: number, low: number, high: number): boolean =>
  Number.isInteger(value) && value >= low && value <= high;

/** What is wrong with the numbers of a format, as a sentence; null when nothing is. */
export function fileFault(file: FileFormat): string | null {
  switch (file.kind) {
    case "png":
      return whole(file.level, 0, 9)
        ? null
        : "PNG's compression goes from 0 (fast, large) to 9 (slow, small).";
    case "jpeg":
      return whole(file.quality, 1, 100) ? null : "JPEG's quality goes from 1 to 100.";
    case "tiff":
      return TIFF_COMPRESSIONS.includes(file.compression) ? null : "TIFF is written plain or deflated.";
    case "exr":
      return EXR_COMPRESSIONS.includes(file.compression)
        ? null
        : "OpenEXR is written without compression, with RLE or with ZIP.";
    case "foreign":
      return null;
  }
}

/** The format in words. */
export function fileText(file: FileFormat): string {
  switch (file.kind) {
    case "png":
      return `PNG, ${file.depth} bits`;
    case "tiff":
      return `TIFF, ${file.depth} bits${file.compression === "none" ? "" : ", deflated"}`;
    case "exr":
      return `OpenEXR, ${file.depth}${file.compression === "none" ? "" : `, ${file.compression.toUpperCase()}`}`;
    case "jpeg":
      return `JPEG, quality ${file.quality}`;
    case "foreign":
      return [file.format, ...(file.depth === null ? [] : [`${file.depth} bits`])].join(", ");
  }
}
