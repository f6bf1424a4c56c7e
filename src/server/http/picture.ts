/**
 * Pictures of a frame for the browser: its file, the one before it, and what there is so far of one in work.
 */
import path from "node:path";
import sharp from "sharp";
import { quantize } from "@/core/image/pixels";
import { isPass } from "@/core/plan/passes";
import { FramePictures } from "@/render/frame-sums";
import { toDisplay } from "@/render/layers";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { readCheckpoint } from "../files/checkpoint-file";
import { insideFolder } from "../files/paths";
import { showable } from "../files/showable";
import { fileOfFrame } from "../store/frame-files";
import { previewOfFrame } from "../store/previews";
import { sequencesOfVersion, requireSequence } from "../store/shots";
import { asideFolderOf, requireAside } from "../folder/aside";
import { smallBefore, smallFolderOf, smallPictures } from "../folder/small-pictures";
import { checkpointFilesOf } from "../folder/checkpoints";
import { sequencePlace } from "../files/layout";
import { readRegular } from "../files/read-regular";

/**
 * Sends a picture file. @param content first digits of the hash that the address promised; another file by
 * now is not sent under that address
 * @param isSaved the bytes as they are, to be kept as a file
 */
export async function sendPicture(
  file: string,
  what: string,
  content: string | null,
  pass: string,
  isSaved = false,
): Promise<Response> {
  const bytes = await readRegular(file).catch((error: NodeJS.ErrnoException) => {
    throw error.code === "ENOENT" ? new TallyError("picture-gone", { what }) : error;
  });
  const fits = content !== null && content !== "" && sha256(bytes).startsWith(content);
  if (content !== null && content !== "" && !fits) throw new TallyError("picture-other", { what });
  // No name: the page that saves it says one.
  if (isSaved)
    return new Response(new Uint8Array(bytes), {
      headers: {
        "content-type": "application/octet-stream",
        "content-disposition": "attachment",
        "cache-control": "no-store",
        "x-content-type-options": "nosniff",
      },
    });
  const shown = await showable(file, bytes, isPass(pass) ? pass : "beauty");
  return new Response(shown.bytes, {
    headers: {
      "content-type": shown.type,
      "cache-control": fits ? "private, max-age=31536000, immutable" : "no-store",
      "x-content-type-options": "nosniff",
    },
  });
}

/**
 * @param content what the page believes to show; where the file is that, a browser may keep the picture for
 * ever
 * @throws TallyError `picture-none`
 */
export async function pictureOf(
  sequenceId: number,
  frame: number,
  content: string | null,
  isSaved = false,
): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  const file = await fileOfFrame(pool(), sequenceId, frame);
  if (file === null) throw new TallyError("picture-none", { frame });
  return sendPicture(
    await insideFolder(sequencePlace(sequence), path.basename(file.name)),
    `frame ${frame}`,
    content,
    sequence.pass,
    isSaved,
  );
}

/** @param name of the file, as `change` told it: the address carries what it shows */
export async function pictureBefore(
  sequenceId: number,
  frame: number,
  name: string | null,
  isSaved = false,
): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  if (sequence.source !== null) {
    const file = await fileOfFrame(pool(), sequenceId, frame);
    const before = smallBefore((await smallPictures(sequence)).get(frame), file?.content ?? null);
    if (before === undefined) throw new TallyError("before-none", { frame });
    if (name !== before.name) throw new TallyError("before-other", { frame });
    const place = path.join(smallFolderOf(sequence), before.name);
    return sendPicture(place, `frame ${frame} before`, null, "beauty", isSaved);
  }
  const aside = await requireAside(sequence, frame);
  if (name !== aside) throw new TallyError("before-other", { frame });
  return sendPicture(
    path.join(asideFolderOf(sequence), aside),
    `frame ${frame} before`,
    null,
    sequence.pass,
    isSaved,
  );
}

/** Pixels: enough to judge by, and quick to send every few seconds. */
const SO_FAR_WIDTH = 960;

/**
 * While it renders, what its node last sent; when it was stopped, what its checkpoint holds. Always the
 * beauty.
 */
export async function pictureSoFar(sequenceId: number, frame: number): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  const lead =
    (await sequencesOfVersion(pool(), sequence.versionId)).find(
      (s) => s.camera === sequence.camera && s.pass === "beauty",
    ) ?? sequence;
  const headers = {
    "content-type": "image/jpeg",
    "cache-control": "no-store",
    "x-content-type-options": "nosniff",
  };
  const preview = await previewOfFrame(pool(), lead.id, frame);
  if (preview !== null) return new Response(new Uint8Array(preview), { headers });
  for (const file of checkpointFilesOf(lead, frame)) {
    const saved = await readCheckpoint(file).catch(() => null);
    if (saved === null) continue;
    const {
      header: { width, height, exposure },
      sums,
    } = saved;
    const shown = quantize(toDisplay(new FramePictures(sums, exposure).beauty(), "beauty"), 8, false);
    const jpeg = await sharp(shown.data as Uint8Array, { raw: { width, height, channels: 3 } })
      .resize({ width: Math.min(width, SO_FAR_WIDTH) })
      .jpeg({ quality: 85 })
      .toBuffer();
    return new Response(new Uint8Array(jpeg), { headers });
  }
  throw new TallyError("picture-not-yet", { frame });
}

/** Whether a picture is asked for as a file to keep. */
export const isToBeSaved = (request: Request): boolean =>
  new URL(request.url).searchParams.get("as") === "file";
