/**
 * A picture file as the viewer wants it. What browsers read with all that is in it (PNG and JPEG of 8 bits) travels as
 * it is; smaller ones of those as JPEG, or PNG where there is alpha. All others become half floats in worker threads.
 * What was made is kept below the data folder by content: an address that names the content is answered from there.
 */
import fs from "node:fs/promises";
import { availableParallelism } from "node:os";
import path from "node:path";
import { Piscina } from "piscina";
import sharp from "sharp";
import { HALF_PICTURE_TYPE, type Reduction, REDUCTIONS } from "@/contract/viewer-picture";
import { checkFile, kindOf } from "@/core/image/check-file";
import { MAX_SIDE } from "@/core/image/pixels";
import { dataFolder, home } from "../configuration";
import { TallyError } from "../errors";
import { keepNewest, markUsed } from "./bounded-folder";
import { sha256 } from "./content";
import { imageTools } from "./image-tools";
import { toldUnreadable, unreadable } from "./read-pixels";
import { readRegular } from "./read-regular";
import type { HalvesMade, HalvesTask } from "./viewer-picture-worker";

export interface ViewerPicture {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly type: "image/png" | "image/jpeg" | typeof HALF_PICTURE_TYPE;
  /** Hash of the file that it was made from. */
  readonly content: string;
  /** Of the file's picture; null where the bytes say so themselves. */
  readonly wholeSize: string | null;
}

/** Decoding takes memory by the picture: more at once helps nobody. */
const MOST_THREADS = 4;
/** Pictures that may wait; a page asks for six at once. */
const MOST_WAITING = 200;
/** Threads that nothing was asked of for so long, in milliseconds, end. */
const IDLE_MS = 60_000;
/** Some 1,000 frames of 960 x 540. */
const MOST_KEPT_BYTES = 4_000_000_000;
/** Pictures between two looks at how many there are. */
const PRUNE_EVERY = 50;
/** As the hash of a file is told to pages. */
const CONTENT_DIGITS = 16;
/** Of pictures in motion. */
const QUALITY = 95;

const shared = globalThis as { plainTallyPictures?: Piscina<HalvesTask, HalvesMade> };

const workers = (): Piscina<HalvesTask, HalvesMade> =>
  (shared.plainTallyPictures ??= new Piscina<HalvesTask, HalvesMade>({
    filename: path.join(home(), "dist/viewer-picture-worker.mjs"),
    // With none at rest the first task was never taken where modules are loaded anew, as tests do.
    minThreads: 1,
    // One processor stays for pages.
    maxThreads: Math.min(MOST_THREADS, Math.max(1, availableParallelism() - 1)),
    idleTimeout: IDLE_MS,
    maxQueue: MOST_WAITING,
  }));

let made = 0;
const folder = (): string => path.join(dataFolder(), "viewer-pictures");
const keptName = (content: string, over: Reduction): string => `${content.slice(0, CONTENT_DIGITS)}-${over}`;

/** Whole or not at all: another page may ask for it at any moment. */
async function keep(name: string, bytes: Uint8Array): Promise<void> {
  await fs.mkdir(folder(), { recursive: true });
  const place = path.join(folder(), name);
  await fs.writeFile(`${place}.${process.pid}.part`, bytes);
  await fs.rename(`${place}.${process.pid}.part`, place);
  if (++made % PRUNE_EVERY === 0) await keepNewest(folder(), MOST_KEPT_BYTES);
}

async function kept(name: string): Promise<Uint8Array<ArrayBuffer> | null> {
  const place = path.join(folder(), name);
  const bytes = await fs.readFile(place).catch(() => null);
  if (bytes === null) return null;
  await markUsed(place, new Date());
  return new Uint8Array(bytes);
}

async function halvesOf(file: string, over: Reduction, signal: AbortSignal): Promise<ViewerPicture> {
  if (workers().queueSize >= MOST_WAITING) throw new TallyError("pictures-busy");
  // Not ended in the middle: that would end the thread, and what is made is kept for whoever asks next.
  if (signal.aborted) throw new TallyError("picture-not-wanted");
  const answer = await workers().run({ file, over });
  if (!answer.ok)
    throw answer.why === null
      ? Object.assign(new Error(`${file} is gone`), { code: "ENOENT" })
      : unreadable(file, answer.why);
  await keep(`${keptName(answer.content, over)}.half`, answer.packed);
  return { bytes: answer.packed, type: HALF_PICTURE_TYPE, content: answer.content, wholeSize: null };
}

/** Eight bits a channel that the browser reads itself; null for any other file. */
async function asItIs(file: string, over: Reduction): Promise<ViewerPicture | null> {
  const kind = kindOf(file, new Uint8Array(0));
  if (kind !== "png" && kind !== "jpeg") return null;
  const bytes = await readRegular(file);
  const { verdict, detail, bitDepth, channels, width, height } = checkFile(
    path.basename(file),
    bytes,
    imageTools,
  );
  if (verdict !== "good") throw unreadable(file, detail ?? "it is damaged");
  if (bitDepth !== 8) return null;
  const content = sha256(bytes);
  const hasAlpha = channels === 2 || channels === 4;
  const type = over === 1 ? kind : hasAlpha ? "png" : "jpeg";
  const facts = { type: `image/${type}`, content, wholeSize: `${width}x${height}` } as const;
  if (over === 1) return { ...facts, bytes: new Uint8Array(bytes) };
  const small = sharp(bytes, { limitInputPixels: MAX_SIDE * MAX_SIDE }).resize({
    width: Math.ceil(width! / over),
    height: Math.ceil(height! / over),
    fit: "fill",
    kernel: "linear",
  });
  const packed =
    type === "png"
      ? small.png({ compressionLevel: 1 })
      : small.jpeg({ quality: QUALITY, chromaSubsampling: "4:4:4" });
  const made8 = new Uint8Array(await toldUnreadable(file, packed.toBuffer()));
  return { ...facts, bytes: made8 };
}

/** What an address asks for. @throws TallyError `address-wrong` */
export function reductionOf(text: string | null): Reduction {
  const over = REDUCTIONS.find((one) => String(one) === (text ?? "1"));
  if (over === undefined)
    throw new TallyError("address-wrong", {
      message: `A picture comes whole, or over ${REDUCTIONS.slice(1).join(", ")}.`,
    });
  return over;
}

/**
 * @param content first digits of the hash that the address names, null where it names none
 * @param signal of the request: what nobody waits for any more is not begun
 * @throws TallyError `picture-unreadable`, `pictures-busy`; ENOENT where the file is gone
 */
export async function viewerPicture(
  file: string,
  content: string | null,
  over: Reduction,
  signal: AbortSignal,
): Promise<ViewerPicture> {
  const isNamed = content !== null && content.length >= CONTENT_DIGITS && /^[0-9a-f]+$/.test(content);
  const there = isNamed ? await kept(`${keptName(content, over)}.half`) : null;
  if (there !== null) return { bytes: there, type: HALF_PICTURE_TYPE, content: content!, wholeSize: null };
  return (await asItIs(file, over)) ?? halvesOf(file, over, signal);
}
