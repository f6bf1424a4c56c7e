/**
 * How a file holds its picture, as the file itself says: packed how, and which colours its numbers mean. Whoever reads it goes
 * by that, and a frame that says otherwise than its neighbours looks otherwise in the next program.
 */
import { fromLatin1, viewOf } from "./bytes";
import { kindOf } from "./check-file";
import { EXR_CODE, readExrHeader } from "./exr-header";
import { chunksOf } from "./png-format";
import { tiffCompression } from "./tiff-check";

export interface Encoding {
  /** As plans call it where they know it; null where the format has no choice, or does not tell. */
  readonly compression: string | null;
  /** What is said of its colours where that is not what they are taken for anyway; null: nothing, or just that. */
  readonly colours: string | null;
}

const NOTHING_SAID: Encoding = { compression: null, colours: null };

const EXR_WORD: ReadonlyMap<number, string> = new Map(
  Object.entries(EXR_CODE).map(([word, code]) => [code, word]),
);

/** Codes of TIFF 6.0 and its supplements. */
const TIFF_WORD: Readonly<Record<number, string>> = {
  1: "none",
  5: "LZW",
  7: "JPEG",
  8: "deflate",
  32_773: "PackBits",
  32_946: "deflate",
};

/** Red, green, blue and white of Rec. 709 (ITU-R BT.709), x and y of each: what an OpenEXR file is taken for that says nothing. */
const REC_709 = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329] as const;
/** Primaries are written with three digits, or with four. */
const PRIMARIES_STEP = 0.002;

/** 1 / 2.2 as PNG's gAMA has it, in 100,000ths (W3C PNG, 11.3.3.2): the exponent that stands for sRGB. */
const SRGB_GAMMA = 45_455;
const GAMMA_STEP = 500;
/** cICP (W3C PNG, third edition; numbers of ITU-T H.273): primaries of Rec. 709, the curve of sRGB. */
const [PRIMARIES_709, CURVE_SRGB] = [1, 13];

/** A chunk for sRGB outweighs the others, whatever they say. */
function pngColours(bytes: Uint8Array): string | null {
  let said: string | null = null;
  for (const { type, data } of chunksOf(bytes)) {
    if (type === "IDAT" || type === "IEND") break;
    if (type === "sRGB") return null;
    if (type === "cICP" && data.length === 4)
      return data[0] === PRIMARIES_709 && data[1] === CURVE_SRGB
        ? null
        : `primaries ${data[0]!} and curve ${data[1]!} of H.273`;
    if (type === "iCCP") {
      const name = fromLatin1(data.subarray(0, Math.max(0, data.indexOf(0))));
      if (!/srgb/i.test(name)) said = `the profile “${name}”`;
    } else if (type === "gAMA" && data.length === 4 && said === null) {
      const gamma = viewOf(data).getUint32(0);
      if (Math.abs(gamma - SRGB_GAMMA) > GAMMA_STEP) said = `an exponent of ${(gamma / 100_000).toFixed(3)}`;
    }
  }
  return said;
}

/** Of a whole file. What cannot be read says nothing. */
export function encodingOf(name: string, bytes: Uint8Array): Encoding {
  switch (kindOf(name, bytes)) {
    case "png":
      return { compression: null, colours: pngColours(bytes) };
    case "tiff":
      return { compression: TIFF_WORD[tiffCompression(bytes) ?? 1] ?? null, colours: null };
    case "exr": {
      const part = readExrHeader(bytes)?.parts[0];
      if (part === undefined) return NOTHING_SAID;
      const { primaries } = part;
      const isUsual =
        primaries === null || primaries.every((v, i) => Math.abs(v - REC_709[i]!) < PRIMARIES_STEP);
      return {
        compression: EXR_WORD.get(part.compression) ?? null,
        colours: isUsual ? null : `red at ${primaries[0]!.toFixed(3)}, ${primaries[1]!.toFixed(3)}`,
      };
    }
    default:
      return NOTHING_SAID;
  }
}
