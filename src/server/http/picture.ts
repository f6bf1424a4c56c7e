/**
 * Pictures of a frame for the browser: its file, the one before it, and what there is so far of one in work.
 */
import path from "node:path";
import sharp from "sharp";
import { quantize } from "@/core/image/pixels";
import { type Reduction, WHOLE_SIZE_HEADER } from "@/contract/viewer-picture";
import { isPass } from "@/core/plan/passes";
import { FramePictures } from "@/render/frame-sums";
import { toDisplay } from "@/render/layers";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { readCheckpoint } from "../files/checkpoint-file";
import { insideFolder } from "../files/paths";
import { showable } from "../files/showable";
import { reductionOf, viewerPicture } from "../files/viewer-picture";
import { fileOfFrame } from "../store/frame-files";
import { previewOfFrame } from "../store/previews";
import { sequencesOfVersion, requireSequence } from "../store/shots";
import { asideFolderOf, requireAside } from "../folder/aside";
import { smallBefore, smallFolderOf, smallPictures } from "../folder/small-pictures";
import { checkpointFilesOf } from "../folder/checkpoints";
import { sequencePlace } from "../files/layout";
import { readRegular } from "../files/read-regular";

/** How a picture is asked for: as a browser shows it, as the file itself to be kept, or as the viewer wants it. */
export type PictureForm =
  | { readonly as: "shown" }
  | { readonly as: "file" }
  | { readonly as: "pixels"; readonly over: Reduction; readonly signal: AbortSignal };

/** Query: as=file; as=pixels with over=1, 2, 4 or 8. @throws TallyError `address-wrong` */
export function formOf(request: Request): PictureForm {
  const query = new URL(request.url).searchParams;
  switch (query.get("as")) {
    case "file":
      return { as: "file" };
    case "pixels":
      return { as: "pixels", over: reductionOf(query.get("over")), signal: request.signal };
    default:
      return { as: "shown" };
  }
}

const headersOf = (type: string, isForGood: boolean): Record<string, string> => ({
  "content-type": type,
  "cache-control": isForGood ? "private, max-age=31536000, immutable" : "no-store",
  "x-content-type-options": "nosniff",
});

/**
 * Sends a picture file. @param content first digits of the hash that the address promised; another file by
 * now is not sent under that address
 */
export async function sendPicture(
  file: string,
  what: string,
  content: string | null,
  pass: string,
  form: PictureForm,
): Promise<Response> {
  const isNamed = content !== null && content !== "";
  const told = (error: NodeJS.ErrnoException): never => {
    throw error.code === "ENOENT" ? new TallyError("picture-gone", { what }) : error;
  };
  if (form.as === "pixels") {
    const picture = await viewerPicture(file, isNamed ? content : null, form.over, form.signal).catch(told);
    const fits = isNamed && picture.content.startsWith(content);
    if (isNamed && !fits) throw new TallyError("picture-other", { what });
    return new Response(picture.bytes, {
      headers: {
        ...headersOf(picture.type, fits),
        ...(picture.wholeSize === null ? {} : { [WHOLE_SIZE_HEADER]: picture.wholeSize }),
      },
    });
  }
  const bytes = await readRegular(file).catch(told);
  const fits = isNamed && sha256(bytes).startsWith(content);
  if (isNamed && !fits) throw new TallyError("picture-other", { what });
  // No name: the page that saves it says one.
  if (form.as === "file")
    return new Response(new Uint8Array(bytes), {
      headers: {
        ...headersOf("application/octet-stream", false),
        "content-disposition": "attachment",
      },
    });
  const shown = await showable(file, bytes, isPass(pass) ? pass : "beauty");
  return new Response(shown.bytes, { headers: headersOf(shown.type, fits) });
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
  form: PictureForm,
): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  const file = await fileOfFrame(pool(), sequenceId, frame);
  if (file === null) throw new TallyError("picture-none", { frame });
  return sendPicture(
    await insideFolder(sequencePlace(sequence), path.basename(file.name)),
    `frame ${frame}`,
    content,
    sequence.pass,
    form,
  );
}

/** @param name of the file, as `change` told it: the address carries what it shows */
export async function pictureBefore(
  sequenceId: number,
  frame: number,
  name: string | null,
  form: PictureForm,
): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  if (sequence.source !== null) {
    const file = await fileOfFrame(pool(), sequenceId, frame);
    const before = smallBefore((await smallPictures(sequence)).get(frame), file?.content ?? null);
    if (before === undefined) throw new TallyError("before-none", { frame });
    if (name !== before.name) throw new TallyError("before-other", { frame });
    const place = path.join(smallFolderOf(sequence), before.name);
    return sendPicture(place, `frame ${frame} before`, null, "beauty", form);
  }
  const aside = await requireAside(sequence, frame);
  if (name !== aside) throw new TallyError("before-other", { frame });
  return sendPicture(
    path.join(asideFolderOf(sequence), aside),
    `frame ${frame} before`,
    null,
    sequence.pass,
    form,
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
