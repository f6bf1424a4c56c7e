/** A frame's picture as it lies on disk. */
import fs from "node:fs/promises";
import path from "node:path";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { insideFolder } from "../files/paths";
import { fileOfFrame } from "../store/frame-files";
import { folderOf } from "../work/folder-state";
import { requireSequence } from "../work/tally";

/** @param content first digits of the hash that the address promised; another file by now is not sent under that address */
export async function pictureOf(sequenceId: number, frame: number, content: string | null): Promise<Response> {
  const sequence = await requireSequence(sequenceId);
  const file = await fileOfFrame(pool(), sequenceId, frame);
  if (file === null) throw new TallyError("picture-unknown", `Frame ${frame} has no file.`);
  const bytes = await fs.readFile(await insideFolder(folderOf(sequence), path.basename(file.name))).catch(() => {
    throw new TallyError("picture-unknown", `The file of frame ${frame} is gone.`);
  });
  const fits = content !== null && content !== "" && sha256(bytes).startsWith(content);
  if (content !== null && content !== "" && !fits) throw new TallyError("picture-unknown", `Frame ${frame} has another picture by now.`);
  return new Response(bytes, { headers: { "content-type": "image/png", "cache-control": fits ? "private, max-age=31536000, immutable" : "no-store", "x-content-type-options": "nosniff" } });
}
