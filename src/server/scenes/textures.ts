/** Decoded textures by content, so that a long-lived process decodes each once. */
import { LRUCache } from "lru-cache";
import sharp from "sharp";
import { type Texture, textureFromRgb8 } from "@/render/texture";
import { fileHash } from "../files/content";

/** Bytes in memory: a picture of 8192x8192 takes 800 MB, and such a one is kept while it is in use alone. */
const MOST_BYTES = 600_000_000;

/** By the hash of the file. */
const decoded = new LRUCache<string, Texture>({
  maxSize: MOST_BYTES,
  sizeCalculation: (texture) => texture.data.byteLength,
});

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
