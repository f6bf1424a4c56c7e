/** Content addresses: SHA-256 of files. */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import { LRUCache } from "lru-cache";
import { readRegular } from "./read-regular";

/** In hexadecimal, as columns and manifests hold it. */
export const sha256 = (bytes: Uint8Array): string => crypto.createHash("sha256").update(bytes).digest("hex");

/** More are hashed anew when they are asked for again. */
const MOST_KEPT = 20_000;

/** By path; the key is length and times, so that a file that was written anew is read anew. */
const cache = new LRUCache<string, { readonly key: string; readonly hash: string }>({ max: MOST_KEPT });

/** Hash of a file's bytes, kept while size and times stay the same. */
export async function fileHash(file: string): Promise<string> {
  const stat = await fs.stat(file);
  const key = `${stat.size}:${stat.mtimeMs}:${stat.ctimeMs}`;
  const known = cache.get(file);
  if (known?.key === key) return known.hash;
  const hash = sha256(await readRegular(file));
  cache.set(file, { key, hash });
  return hash;
}
