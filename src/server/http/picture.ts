/** A frame's picture for the browser: PNG and JPEG as they lie on disk, others shown as PNG. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { kindOfName } from "@/core/image/check-file";
import { readExr } from "@/core/image/exr";
import { type FloatImage, quantize } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { isPass, type Pass } from "@/core/plan/passes";
import { toDisplay } from "@/render/layers";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { imageTools } from "../files/image-tools";
import { insideFolder } from "../files/paths";
import { fileOfFrame } from "../store/frame-files";
import { folderOf } from "../work/folder-state";
import { requireSequence } from "../work/tally";

/** Bytes that a browser can show, and what they are. Linear files go through the display curve of their pass. */
async function showable(name: string, bytes: Buffer, pass: Pass): Promise<{ readonly bytes: Uint8Array<ArrayBuffer>; readonly type: string }> {
  switch (kindOfName(name)) {
    case "jpeg": return { bytes: new Uint8Array(bytes), type: "image/jpeg" };
    case "tiff": return { bytes: new Uint8Array(await sharp(bytes).toColourspace("srgb").png({ compressionLevel: 1 }).toBuffer()), type: "image/png" };
    case "exr": {
      const image = readExr(bytes, imageTools.inflate);
      if (image === null) throw new TallyError("picture-unreadable", `${name} cannot be shown: it does not unpack.`);
      const shown = quantize(toDisplay(image as FloatImage, pass), 8, false);
      return { bytes: new Uint8Array(writePng(shown, {}, imageTools, { level: 1, isColour: true })), type: "image/png" };
    }
    default: return { bytes: new Uint8Array(bytes), type: "image/png" };
  }
}

/** Sends a picture file. @param content first digits of the hash that the address promised; another file by now is not sent under that address */
export async function sendPicture(file: string, what: string, content: string | null, pass: string): Promise<Response> {
  const bytes = await fs.readFile(file).catch(() => {
    throw new TallyError("picture-unknown", `The file of ${what} is gone.`);
  });
  const fits = content !== null && content !== "" && sha256(bytes).startsWith(content);
  if (content !== null && content !== "" && !fits) throw new TallyError("picture-unknown", `There is another picture of ${what} by now.`);
  const shown = await showable(file, bytes, isPass(pass) ? pass : "beauty");
  return new Response(shown.bytes, { headers: { "content-type": shown.type, "cache-control": fits ? "private, max-age=31536000, immutable" : "no-store", "x-content-type-options": "nosniff" } });
}

export async function pictureOf(sequenceId: number, frame: number, content: string | null): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  const file = await fileOfFrame(pool(), sequenceId, frame);
  if (file === null) throw new TallyError("picture-unknown", `Frame ${frame} has no file.`);
  return sendPicture(await insideFolder(folderOf(sequence), path.basename(file.name)), `frame ${frame}`, content, sequence.pass);
}
