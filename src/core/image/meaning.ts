/**
 * What the numbers in another program's pictures mean, as far as a file says or its format usually has it: a proposal,
 * each part with its reason, that a person can put right.
 */
import { makeRate, parseRate, type Rate } from "../timing/rate";
import { viewOf } from "./bytes";
import { isDpx } from "./dpx-check";
import { isExr, readExrHeader } from "./exr-header";
import type { Alpha } from "./file-format";
import { isTiff, tiffExtra, tiffHoldsFloats } from "./tiff-check";
import type { FileVerdict } from "./verdict";

export interface Guess<T> {
  readonly value: T;
  /** A few words, as a sentence goes on with them. */
  readonly why: string;
}

export interface Meaning {
  readonly alpha: Guess<Alpha>;
  /** Scene light, not display values. */
  readonly isLinear: Guess<boolean>;
  /** Null where the file says nothing of it. */
  readonly rate: Guess<Rate> | null;
}

/** Where a DPX says its rate: as film, and as television. */
const DPX_RATES = [1_724, 1_940] as const;
/** TIFF's word for colours that alpha is multiplied into. */
const ASSOCIATED = 1;

function guessAlpha(bytes: Uint8Array, { format, channels }: FileVerdict): Guess<Alpha> {
  if (channels !== 2 && channels !== 4) return { value: "none", why: "the files have no alpha channel" };
  if (isTiff(bytes)) {
    const extra = tiffExtra(bytes);
    return extra === ASSOCIATED
      ? { value: "premultiplied", why: "the files say that alpha is multiplied in" }
      : { value: "straight", why: "the files do not say that alpha is multiplied in" };
  }
  if (format === "exr") return { value: "premultiplied", why: "OpenEXR has alpha multiplied in" };
  if (format === "png") return { value: "straight", why: "PNG has alpha beside the colour" };
  return { value: "straight", why: "files of this format mostly have alpha beside the colour" };
}

function guessLinear(bytes: Uint8Array, { format, bitDepth }: FileVerdict): Guess<boolean> {
  if (format === "exr") return { value: true, why: "OpenEXR holds scene light" };
  if (format === "hdr") return { value: true, why: "Radiance pictures hold scene light" };
  if (isTiff(bytes) && tiffHoldsFloats(bytes))
    return { value: true, why: "the files hold floating point numbers" };
  if (format === "dpx")
    return { value: false, why: "DPX mostly holds densities of film or video, to be shown as they are" };
  return {
    value: false,
    why:
      bitDepth === null ? "nothing says otherwise" : `files of ${bitDepth} bits are mostly ready to be shown`,
  };
}

function guessRate(bytes: Uint8Array): Guess<Rate> | null {
  const why = "the files say so";
  if (isExr(bytes)) {
    const said = readExrHeader(bytes)?.parts[0]?.rate ?? null;
    const rate = said === null ? null : makeRate(said.numerator, said.denominator);
    return rate === null ? null : { value: rate, why };
  }
  if (!isDpx(bytes)) return null;
  const little = bytes[0] === 0x58;
  for (const at of DPX_RATES) {
    if (bytes.length < at + 4) continue;
    const value = viewOf(bytes).getFloat32(at, little);
    const rate = value > 0 && value < 1_000 ? parseRate(value.toFixed(3)) : null;
    if (rate !== null) return { value: rate, why };
  }
  return null;
}

/** @param verdict of the same bytes */
export const meaningOf = (bytes: Uint8Array, verdict: FileVerdict): Meaning => ({
  alpha: guessAlpha(bytes, verdict),
  isLinear: guessLinear(bytes, verdict),
  rate: guessRate(bytes),
});
