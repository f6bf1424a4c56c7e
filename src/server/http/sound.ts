/** The file of a shot's sound for the browser, which decodes it: it knows more kinds than we would. */
import fs from "node:fs";
import { isSoundFile } from "@/core/sound/shot-sound";
import { TallyError } from "../errors";
import { insideFolder, projectFolder } from "../files/paths";
import { sendStream } from "../files/send-stream";
import { requireShot } from "../store/find-shot";

/** @param name `project/CODE` @throws TallyError `sound-missing` */
export async function soundOfShot(name: string): Promise<Response> {
  const { shot, project } = await requireShot(name);
  const path = shot.sound?.path ?? "";
  if (!isSoundFile(path))
    throw new TallyError("sound-missing", { path: path === "" ? "of this shot" : path });
  const file = await insideFolder(projectFolder(project), path);
  const handle = await fs.promises.open(file).catch(() => null);
  const stat = await handle?.stat();
  if (handle === null || stat?.isFile() !== true) {
    await handle?.close();
    throw new TallyError("sound-missing", { path });
  }
  await handle.close();
  return sendStream(async () => (await fs.promises.open(file)).createReadStream(), {
    // No type: nothing of it may run in a page, whatever it is.
    "content-type": "application/octet-stream",
    "content-length": String(stat.size),
    "cache-control": "private, max-age=3600",
    "x-content-type-options": "nosniff",
  });
}
