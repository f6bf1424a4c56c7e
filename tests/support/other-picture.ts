/** A frame whose file shows another picture and says of itself what it said: as of a renderer that did not follow the scene. */
import fs from "node:fs/promises";
import { addTexts } from "@/core/image/add-texts";
import { readImageTexts } from "@/core/image/check-file";
import { imageTools } from "@/server/files/image-tools";

export async function putOtherPicture(from: string, into: string): Promise<void> {
  const said = Object.fromEntries(readImageTexts(await fs.readFile(into)));
  await fs.writeFile(into, addTexts(await fs.readFile(from), said, imageTools.crc32));
}
