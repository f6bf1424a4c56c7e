/** Fetches pictures and decodes them, beside the page: nothing of it takes time from what is playing. */
import type {
  LoadedPixels,
  PictureAnswer,
  PictureRefusal,
  PictureRequest,
} from "@/contract/picture-messages";
import { HALF_PICTURE_TYPE, unpackHalfPicture, WHOLE_SIZE_HEADER } from "@/contract/viewer-picture";
import type { ApiError } from "@/contract/api-error";

const underway = new Map<number, AbortController>();

const answer = (message: PictureAnswer, transfer: Transferable[] = []): void =>
  self.postMessage(message, { transfer });

const SIZE = /^(\d+)x(\d+)$/;

async function pixelsOf(response: Response): Promise<LoadedPixels> {
  if (response.headers.get("content-type") === HALF_PICTURE_TYPE) {
    const picture = unpackHalfPicture(await response.arrayBuffer());
    if (picture === null) throw new Error("The picture did not arrive whole.");
    return { kind: "halves", ...picture };
  }
  const bitmap = await createImageBitmap(await response.blob(), {
    // The numbers of the file: what they mean is the shader's matter.
    premultiplyAlpha: "none",
    colorSpaceConversion: "none",
  });
  const { width, height } = bitmap;
  const said = SIZE.exec(response.headers.get(WHOLE_SIZE_HEADER) ?? "");
  return {
    kind: "bytes",
    bitmap,
    width,
    height,
    wholeWidth: said === null ? width : Number(said[1]),
    wholeHeight: said === null ? height : Number(said[2]),
  };
}

async function load({ id, url }: PictureRequest): Promise<void> {
  const control = new AbortController();
  underway.set(id, control);
  try {
    const response = await fetch(url, { signal: control.signal });
    if (!response.ok) {
      const told = (await response.json().catch(() => null)) as { error?: ApiError } | null;
      const why = told?.error?.message ?? `The server answered ${response.status}.`;
      answer({
        type: "failed",
        id,
        why,
        isLasting: response.status < 500 && told?.error?.code !== "pictures-busy",
      });
      return;
    }
    const pixels = await pixelsOf(response).catch((error: unknown) => {
      if (control.signal.aborted) throw error;
      return null;
    });
    if (pixels === null)
      answer({ type: "failed", id, why: "The browser cannot read this picture.", isLasting: true });
    else
      answer({ type: "loaded", id, pixels }, [pixels.kind === "bytes" ? pixels.bitmap : pixels.data.buffer]);
  } catch {
    answer(
      control.signal.aborted
        ? { type: "dropped", id }
        : { type: "failed", id, why: "The server does not answer.", isLasting: false },
    );
  } finally {
    underway.delete(id);
  }
}

self.addEventListener("message", ({ data }: MessageEvent<PictureRequest | PictureRefusal>) => {
  if (data.type === "load") void load(data);
  else underway.get(data.id)?.abort();
});
answer({ type: "ready" });
