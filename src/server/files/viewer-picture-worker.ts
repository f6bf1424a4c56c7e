/** A worker thread of the server: reads a picture file and makes half floats of it. */
import type { Reduction } from "@/contract/viewer-picture";
import { packHalfPicture } from "@/contract/viewer-picture";
import { sha256 } from "./content";
import { PictureUnreadable, readPixels } from "./read-pixels";
import { readRegular } from "./read-regular";
import { toHalves } from "./to-halves";

export interface HalvesTask {
  readonly file: string;
  readonly over: Reduction;
}

/** Errors lose their kind between threads: what is expected comes back as what it is. */
export type HalvesMade =
  | { readonly ok: true; readonly content: string; readonly packed: Uint8Array<ArrayBuffer> }
  /** Null: the file is gone. */
  | { readonly ok: false; readonly why: string | null };

export default async function makeHalves({ file, over }: HalvesTask): Promise<HalvesMade> {
  try {
    const bytes = await readRegular(file);
    const packed = packHalfPicture(toHalves(await readPixels(file, bytes), over));
    return { ok: true, content: sha256(bytes), packed };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return { ok: false, why: null };
    if (error instanceof PictureUnreadable) return { ok: false, why: error.why };
    throw error;
  }
}
