/** Decoded textures by content, so that a long-lived process decodes each once. */
import sharp from "sharp";
import { type Texture, textureFromRgb8 } from "@/render/texture";
import { fileHash } from "../files/content";

/** By the hash of the file. */
const decoded = new Map<string, Texture>();

/** Read by content: a file that changed is another texture, and one that was copied is the same. */
export async function loadTexture(place: string): Promise<Texture> {
  const hash = await fileHash(place);
  const known = decoded.get(hash);
  if (known !== undefined) return known;
  const { data, info } = await sharp(place)
    .removeAlpha()
    .toColourspace("srgb")
    .raw()
    .toBuffer({ resolveWithObject: true });
  const texture = textureFromRgb8(info.width, info.height, data);
  decoded.set(hash, texture);
  return texture;
}
