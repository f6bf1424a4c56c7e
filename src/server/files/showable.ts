/**
 * A picture file as a browser can show it: PNG and JPEG as they are, others as PNG. Linear files go through the
 * display curve of their pass.
 */
import path from "node:path";
import sharp from "sharp";
import { checkFile, type ImageKind, kindOfName } from "@/core/image/check-file";
import { type IntegerImage, quantize } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import type { Pass } from "@/core/plan/passes";
import { toDisplay } from "@/render/layers";
import { imageTools } from "./image-tools";
import { isInteger, type ReadPicture, readPixels, toldUnreadable, unreadable } from "./read-pixels";

/** Bytes with what the browser must call them. */
export interface Showable {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly type: "image/png" | "image/jpeg";
}

/** The numbers of a picture as eight bits of a display. */
function shownAsIntegers(picture: ReadPicture, kind: ImageKind | null, pass: Pass): IntegerImage {
  if (isInteger(picture)) return picture;
  // DPX holds display values, in floats because of its depth.
  return quantize(kind === "dpx" ? picture : toDisplay(picture, pass), 8, false);
}

/**
 * @param pass decides the display curve: depth is no light
 * @throws TallyError `picture-unreadable`, with what is wrong with the file
 */
export async function showable(name: string, bytes: Buffer, pass: Pass): Promise<Showable> {
  const kind = kindOfName(name);
  if (kind === "jpeg" || kind === "png") {
    const { verdict, detail } = checkFile(path.basename(name), bytes, imageTools);
    if (verdict === "damaged") throw unreadable(name, detail ?? "it is damaged");
    return { bytes: new Uint8Array(bytes), type: kind === "jpeg" ? "image/jpeg" : "image/png" };
  }
  const shown = shownAsIntegers(await readPixels(name, bytes), kind, pass);
  const png = writePng(shown, {}, imageTools, { level: 1, isColour: shown.channels > 2 });
  return { bytes: new Uint8Array(png), type: "image/png" };
}

/** What is shown as 8-bit colour without alpha, for measuring. */
export async function shownPixels(name: string, bytes: Buffer, pass: Pass): Promise<IntegerImage> {
  const shown = await showable(name, bytes, pass);
  const { data, info } = await toldUnreadable(
    name,
    sharp(shown.bytes).removeAlpha().toColourspace("srgb").raw().toBuffer({ resolveWithObject: true }),
  );
  return { width: info.width, height: info.height, channels: 3, depth: 8, data: new Uint8Array(data) };
}
