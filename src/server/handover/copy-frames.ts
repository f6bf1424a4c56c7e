/** Frames copied to a folder of their own: as they are or converted on the way, each copy read back and compared. */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { copyName } from "@/core/handover/copy-names";
import type { CopySettings } from "@/core/handover/wish";
import { checkFile } from "@/core/image/check-file";
import { quantize } from "@/core/image/pixels";
import { PLAIN_LOOK, usedReading } from "@/core/playback/shown-as";
import { TallyError } from "../errors";
import { fileHash, sha256 } from "../files/content";
import { imageTools } from "../files/image-tools";
import { readRegular } from "../files/read-regular";
import { inOrder } from "../in-order";
import { cardPixels } from "./burnt-text";
import type { Making } from "./making";
import { fileOf, type Reel, type ReelSlot } from "./reel";
import { openSeenPictures, type SeenPictures } from "./seen-pictures";

const JPEG_QUALITY = 95;
/** Files copied ahead. */
const AHEAD = 4;
const DEEP = 65_535;

interface Copy {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** Sixteen bits as they are seen, dithered to eight: slopes of dark light would band. */
function dithered(
  bytes: Uint8Array<ArrayBuffer>,
  width: number,
  height: number,
  channels: 3 | 4,
): Uint8Array {
  const deep = new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 2);
  const data = Float32Array.from(deep, (value) => value / DEEP);
  return quantize({ width, height, channels, data }, 8, true).data as Uint8Array;
}

async function converted(
  reel: Reel,
  slot: ReelSlot,
  how: CopySettings,
  pictures: SeenPictures,
): Promise<Uint8Array> {
  const { width, height } = reel.size!;
  const packed = async (data: Uint8Array, channels: 3 | 4): Promise<Uint8Array> => {
    const raw = sharp(data, { raw: { width, height, channels } });
    if (how.format === "jpeg")
      return raw.jpeg({ quality: JPEG_QUALITY, chromaSubsampling: "4:4:4" }).toBuffer();
    const png = await raw.png().toBuffer();
    const back = await sharp(png).raw().toBuffer();
    if (sha256(back) !== sha256(data))
      throw new TallyError("handover-copy-differs", { file: String(slot.frame) });
    return png;
  };
  if (slot.kind === "card") return packed(await cardPixels(reel.size!, slot.label), 3);
  const source = reel.sources[slot.of]!;
  const keepsAlpha = how.format === "png8" && source.reading.alpha !== "none";
  const bytes = await pictures.see({
    file: path.join(source.folder, fileOf(source, slot.from)),
    reading: { ...source.reading, ...usedReading(source.reading, { ...PLAIN_LOOK, view: how.view }) },
    stops: how.stops,
    behind: keepsAlpha ? { kind: "kept" } : { kind: "colour", colour: [0, 0, 0] },
    depth: 16,
    size: reel.size!,
    isFitted: false,
    burnt: null,
  });
  const channels = keepsAlpha ? 4 : 3;
  return packed(dithered(bytes, width, height, channels), channels);
}

async function asItIs(reel: Reel, slot: ReelSlot): Promise<Uint8Array> {
  if (slot.kind === "card")
    throw new TallyError("handover-wrong", {
      message: `A copy of the files as they are has no cards, and frame ${slot.frame} has no file: hold the frame before, leave it out, or convert.`,
    }).at("gaps");
  const source = reel.sources[slot.of]!;
  const file = fileOf(source, slot.from);
  const bytes = await readRegular(path.join(source.folder, file)).catch((error: NodeJS.ErrnoException) => {
    throw error.code === "ENOENT" ? new TallyError("handover-picture-gone", { file }) : error;
  });
  const known = source.files.get(slot.from)?.content;
  if (known != null && sha256(bytes) !== known) throw new TallyError("handover-picture-other", { file });
  return bytes;
}

/** Written, flushed, and read back from the disk. @throws TallyError `handover-copy-differs` */
async function writeCopy(folder: string, { name, bytes }: Copy): Promise<void> {
  const place = path.join(folder, name);
  const file = await fs.open(place, "wx");
  try {
    await file.writeFile(bytes);
    await file.sync();
  } finally {
    await file.close();
  }
  if ((await fileHash(place)) !== sha256(bytes))
    throw new TallyError("handover-copy-differs", { file: name });
}

/** @param temporary the folder that is made */
export async function copyFrames(
  reel: Reel,
  how: CopySettings,
  temporary: string,
  making: Making,
): Promise<void> {
  await fs.mkdir(temporary);
  const names = reel.slots.map((slot, i) => {
    const source = reel.sources[slot.of ?? 0]!;
    const from = slot.kind === "picture" ? slot.from : slot.frame!;
    return copyName(how, fileOf(source, from), from, slot.frame!, i);
  });
  if (new Set(names).size !== names.length)
    throw new TallyError("handover-wrong", {
      message: "Several copies would have one name: give them another name or more digits.",
    }).at("name");
  const pictures = how.format === "same" ? null : openSeenPictures();
  const make = async (n: number): Promise<Copy> => {
    const slot = reel.slots[n]!;
    const bytes = await (pictures === null ? asItIs(reel, slot) : converted(reel, slot, how, pictures));
    const { verdict, detail } = checkFile(names[n]!, bytes, imageTools);
    if (how.format !== "same" && verdict !== "good")
      throw new TallyError("handover-copy-differs", { file: `${names[n]} (${detail ?? "damaged"})` });
    return { name: names[n]!, bytes };
  };
  try {
    let done = 0;
    for await (const copy of inOrder(reel.slots.length, AHEAD, make)) {
      making.signal.throwIfAborted();
      await writeCopy(temporary, copy);
      making.onProgress(++done / reel.slots.length);
    }
  } finally {
    await pictures?.close();
  }
}
