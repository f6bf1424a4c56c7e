/**
 * A picture file as a browser can show it: PNG and JPEG as they are, others as PNG. Linear files go through
 * the display curve of their pass.
 */
import path from "node:path";
import sharp from "sharp";
import { checkFile, kindOfName } from "@/core/image/check-file";
import { readExr } from "@/core/image/exr";
import { type FloatImage, type IntegerImage, quantize } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import type { Pass } from "@/core/plan/passes";
import { toDisplay } from "@/render/layers";
import { TallyError } from "../errors";
import { imageTools } from "./image-tools";

/** Bytes with what the browser must call them. */
export interface Showable {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly type: "image/png" | "image/jpeg";
}

const unreadable = (name: string, why: string): TallyError =>
  new TallyError("picture-unreadable", { file: path.basename(name), why });

/** What a codec says no to is told as such: a damaged file is no fault of the server. */
const told = <T>(name: string, unpacked: Promise<T>): Promise<T> =>
  unpacked.catch((error: Error) => {
    throw unreadable(name, `it does not unpack (${error.message.split("\n")[0]})`).because(error);
  });

/**
 * @param pass decides the display curve: depth is no light
 * @throws TallyError `picture-unreadable`, with what is wrong with the file
 */
export async function showable(name: string, bytes: Buffer, pass: Pass): Promise<Showable> {
  const { verdict, detail } = checkFile(path.basename(name), bytes, imageTools);
  if (verdict === "damaged") throw unreadable(name, detail ?? "it is damaged");
  switch (kindOfName(name)) {
    case "jpeg":
      return { bytes: new Uint8Array(bytes), type: "image/jpeg" };
    case "tiff":
      return {
        bytes: new Uint8Array(
          await told(name, sharp(bytes).toColourspace("srgb").png({ compressionLevel: 1 }).toBuffer()),
        ),
        type: "image/png",
      };
    case "exr": {
      const image = readExr(bytes, imageTools.inflate);
      if (image === null) throw unreadable(name, "it does not unpack");
      const shown = quantize(toDisplay(image as FloatImage, pass), 8, false);
      return {
        bytes: new Uint8Array(writePng(shown, {}, imageTools, { level: 1, isColour: true })),
        type: "image/png",
      };
    }
    case "webp":
      return {
        bytes: new Uint8Array(await told(name, sharp(bytes).png({ compressionLevel: 1 }).toBuffer())),
        type: "image/png",
      };
    case "png":
      return { bytes: new Uint8Array(bytes), type: "image/png" };
    default:
      throw unreadable(name, "pictures of this kind are checked, and not shown");
  }
}

/** What is shown as 8-bit colour without alpha, for measuring. */
export async function shownPixels(name: string, bytes: Buffer, pass: Pass): Promise<IntegerImage> {
  const shown = await showable(name, bytes, pass);
  const { data, info } = await told(
    name,
    sharp(shown.bytes).removeAlpha().toColourspace("srgb").raw().toBuffer({ resolveWithObject: true }),
  );
  return { width: info.width, height: info.height, channels: 3, depth: 8, data: new Uint8Array(data) };
}
