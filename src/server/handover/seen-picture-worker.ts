/** A worker thread: a picture file in, the pixels that are seen of it out. */
import { move } from "piscina";
import type { PictureSize } from "@/core/handover/line-up";
import { PictureUnreadable } from "../files/read-pixels";
import { OtherSize, seenPicture, type SeenTask } from "./seen-picture";

/** Errors lose their kind between threads: what is expected comes back as what it is. */
export type NotSeen =
  | { readonly code: "gone" }
  | { readonly code: "unreadable"; readonly why: string }
  | { readonly code: "size"; readonly is: PictureSize };

/** Pixels, moved and not copied. */
export type SeenMade = Uint8Array<ArrayBuffer> | NotSeen;

export default async function makeSeen(task: SeenTask): Promise<SeenMade> {
  try {
    const { data } = await seenPicture(task);
    const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
    return move(bytes) as Uint8Array<ArrayBuffer>;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return { code: "gone" };
    if (error instanceof PictureUnreadable) return { code: "unreadable", why: error.why };
    if (error instanceof OtherSize) return { code: "size", is: error.is };
    throw error;
  }
}
