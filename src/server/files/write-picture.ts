/**
 * Turns the computed picture of a pass into the bytes of a file, in the format that the plan asks for.
 * One picture in, one file's bytes out, with what was measured on the way: nothing here touches the disk.
 */
import sharp from "sharp";
import { type Alpha, type ChannelChoice, type FileFormat, writtenFormat } from "@/core/image/file-format";
import { writeExr } from "@/core/image/exr";
import { withComment } from "@/core/image/jpeg";
import { meanLuminance, noiseOf } from "@/core/image/measure";
import { type FloatImage, type IntegerImage, quantize } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { writeTiff } from "@/core/image/tiff-write";
import { bearsAlpha, becomesGrey, isLightPass, type Pass } from "@/core/plan/passes";
import { asGrey, toDisplay, withAlpha } from "@/render/layers";
import { imageTools } from "./image-tools";

export interface PictureSettings {
  readonly file: FileFormat;
  readonly alpha: Alpha;
  readonly channels: ChannelChoice;
  /** For 8 bits alone. */
  readonly dither: boolean;
  /** Width of a pixel over its height. */
  readonly pixelAspect: number;
}

/** The file's bytes, and what its picture was measured at. */
export interface EncodedPicture {
  readonly bytes: Uint8Array;
  /** Mean luminance and grain of what is shown, 0 to 1. */
  readonly luminance: number;
  /** Grain, as a share of white. */
  readonly noise: number;
}

/** As OpenEXR calls them; other passes name their own. */
const CHANNEL_NAMES: Readonly<Record<number, readonly string[]>> = {
  2: ["Y", "A"],
  3: ["R", "G", "B"],
  4: ["R", "G", "B", "A"],
};

/** By the codec of a library; the comment with who made it is ours. */
async function encodeJpeg(image: IntegerImage, quality: number): Promise<Uint8Array> {
  const { width, height, channels, data } = image;
  const coded = sharp(data as Uint8Array, { raw: { width, height, channels } });
  // From quality 90 up colour keeps its full resolution: red edges would bleed.
  return (channels === 1 ? coded.toColourspace("b-w") : coded)
    .jpeg({ quality, chromaSubsampling: quality >= 90 ? "4:4:4" : "4:2:0" })
    .toBuffer();
}

/**
 * @param computed scene values of the pass, colours or one channel
 * @param alpha coverage of each pixel, where the plan asks for alpha
 */
export async function encodePicture(
  computed: FloatImage,
  alpha: Float32Array | null,
  pass: Pass,
  settings: PictureSettings,
  texts: Readonly<Record<string, string>>,
): Promise<EncodedPicture> {
  const file = writtenFormat(settings.file);
  const { dither } = settings;
  const image = settings.channels === "grey" && becomesGrey(pass) ? asGrey(computed) : computed;
  const shown = quantize(toDisplay(image, pass), 8, false);
  const measures = { luminance: meanLuminance(shown), noise: noiseOf(shown) };
  const carriesAlpha = alpha !== null && settings.alpha !== "none" && bearsAlpha(pass);
  const kind = settings.alpha === "straight" ? "straight" : "premultiplied";
  const complete = carriesAlpha ? withAlpha(image, alpha, kind) : image;
  // Straight alpha: colours are undone before the curve, so that they come out of it as they were.
  // Premultiplied: what lies on black.
  const integer = (depth: 8 | 16): IntegerImage =>
    quantize(toDisplay(complete, pass), depth, dither && depth === 8);
  switch (file.kind) {
    case "png":
      return {
        ...measures,
        bytes: writePng(integer(file.depth), texts, imageTools, {
          level: file.level,
          isColour: isLightPass(pass) || pass === "albedo",
        }),
      };
    case "tiff":
      return {
        ...measures,
        bytes: writeTiff(integer(file.depth), texts, imageTools.deflate, {
          compression: file.compression,
          alpha: kind,
        }),
      };
    case "exr":
      return {
        ...measures,
        bytes: writeExr(complete, texts, imageTools.deflate, {
          depth: file.depth,
          compression: file.compression,
          pixelAspect: settings.pixelAspect,
          names: CHANNEL_NAMES[complete.channels] ?? (pass === "depth" ? ["Z"] : ["Y"]),
        }),
      };
    case "jpeg":
      return { ...measures, bytes: withComment(await encodeJpeg(integer(8), file.quality), texts) };
  }
}
