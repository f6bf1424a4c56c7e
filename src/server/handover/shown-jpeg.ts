/** Small pictures of frames as they are seen, for sheets, pages and reports. */
import path from "node:path";
import sharp from "sharp";
import type { PictureSize } from "@/core/handover/line-up";
import type { ShownHow } from "@/core/handover/wish";
import { PLAIN_LOOK, usedReading } from "@/core/playback/shown-as";
import { cardPixels } from "./burnt-text";
import { fileOf, type Reel, type ReelSlot, type ReelSource } from "./reel";
import { openSeenPictures } from "./seen-pictures";

export interface SmallPictures {
  readonly atOnce: number;
  /** JPEG of a slot. */
  of(slot: ReelSlot): Promise<Buffer>;
  /** Of a file that is read as those of a source are. */
  ofFile(source: ReelSource, file: string): Promise<Buffer>;
  close(): Promise<void>;
}

/** @param size of each, in the proportions of the reel's pictures; @param quality of JPEG */
export function smallPictures(reel: Reel, how: ShownHow, size: PictureSize, quality: number): SmallPictures {
  const pictures = openSeenPictures();
  const whole = reel.size!;
  const packed = (data: Uint8Array, { width, height }: PictureSize): Promise<Buffer> =>
    sharp(data, { raw: { width, height, channels: 3 } })
      .resize({ ...size, fit: "fill", kernel: "lanczos3" })
      .jpeg({ quality, chromaSubsampling: "4:4:4" })
      .toBuffer();
  const ofFile = async (source: ReelSource, file: string): Promise<Buffer> => {
    const bytes = await pictures.see({
      file,
      reading: { ...source.reading, ...usedReading(source.reading, { ...PLAIN_LOOK, view: how.view }) },
      stops: how.stops,
      behind: { kind: "colour", colour: [0, 0, 0] },
      depth: 8,
      size: whole,
      isFitted: true,
      burnt: null,
    });
    return packed(bytes, whole);
  };
  return {
    atOnce: pictures.atOnce,
    async of(slot) {
      if (slot.kind === "card") return packed(await cardPixels(size, slot.label), size);
      const source = reel.sources[slot.of]!;
      return ofFile(source, path.join(source.folder, fileOf(source, slot.from)));
    },
    ofFile,
    close: () => pictures.close(),
  };
}

/** Made no larger than `widest`, in the same proportions. */
export const noWider = ({ width, height }: PictureSize, widest: number): PictureSize => {
  const w = Math.min(width, widest);
  return { width: w, height: Math.max(1, Math.round((height * w) / width)) };
};
