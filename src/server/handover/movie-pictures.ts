/**
 * Pictures of a movie on their way to the encoder, in the order of its slots. Files as they are where nothing is done to
 * them and the encoder reads them from a pipe, else the pixels that are seen of them.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { Writable } from "node:stream";
import sharp from "sharp";
import { CODEC_FACTS } from "@/core/handover/codecs";
import type { PictureSize } from "@/core/handover/line-up";
import type { MovieSettings } from "@/core/handover/wish";
import { usedReading, PLAIN_LOOK } from "@/core/playback/shown-as";
import { timeCode } from "@/core/timing/time-code";
import { versionName } from "@/core/plan/plan";
import type { Rate } from "@/core/timing/rate";
import { TallyError } from "../errors";
import { insideFolder, projectFolder } from "../files/paths";
import { readRegular } from "../files/read-regular";
import { inOrder } from "../in-order";
import { cardPixels } from "./burnt-text";
import { give } from "./ffmpeg";
import { fileOf, type Reel, type ReelSlot, type ReelSource } from "./reel";
import { burnCorners, type BehindTask, type SeenTask } from "./seen-picture";
import { openSeenPictures } from "./seen-pictures";

/** Files that the encoder finds the ends of in a pipe. */
const PIPED: Readonly<Record<string, string>> = { ".png": "png", ".jpg": "mjpeg", ".jpeg": "mjpeg" };
/** Files read ahead. */
const AHEAD = 4;

export interface MoviePictures {
  /** Arguments of ffmpeg for its input. */
  readonly input: readonly string[];
  readonly size: PictureSize;
  readonly hasAlpha: boolean;
  readonly isDeep: boolean;
  /** @param slots as they are played */
  feed(slots: readonly ReelSlot[], into: Writable): Promise<void>;
}

const rateText = ({ numerator, denominator }: Rate): string => `${numerator}/${denominator}`;

const pictureFile = (source: ReelSource, frame: number): string =>
  path.join(source.folder, fileOf(source, frame));

/** The one ending of all files of a reel; null where they differ. */
function oneEnding(reel: Reel): string | null {
  const endings = new Set<string>();
  for (const slot of reel.slots)
    if (slot.kind === "picture")
      endings.add(path.extname(fileOf(reel.sources[slot.of]!, slot.from)).toLowerCase());
  return endings.size === 1 ? [...endings][0]! : null;
}

const hasOneSize = (reel: Reel): boolean =>
  reel.slots.every((slot) => {
    if (slot.kind === "card") return true;
    const own = reel.sources[slot.of]!.sizes.get(slot.from);
    return own !== undefined && own.width === reel.size!.width && own.height === reel.size!.height;
  });

/** Nothing is done to the pixels, and the encoder reads the files. */
export function isPiped(reel: Reel, movie: MovieSettings): boolean {
  const ending = oneEnding(reel);
  return (
    ending !== null &&
    Object.hasOwn(PIPED, ending) &&
    // A picture of another kind among them would begin its colours anew in the middle.
    movie.codec !== "gif" &&
    movie.burnt.length === 0 &&
    movie.beside === null &&
    movie.stops === 0 &&
    reel.sources.every(
      ({ reading }) => reading.alpha === "none" && (movie.view ?? reading.view) === "plain",
    ) &&
    hasOneSize(reel)
  );
}

/** @throws TallyError `handover-picture-gone`, `handover-picture-other` */
async function bytesOf(source: ReelSource, frame: number): Promise<Buffer> {
  const file = pictureFile(source, frame);
  const known = source.files.get(frame);
  try {
    const bytes = await readRegular(file);
    const { size, mtimeMs } = await fs.stat(file);
    if (known !== undefined && (size !== known.bytes || Math.trunc(mtimeMs) !== Math.trunc(known.modifiedMs)))
      throw new TallyError("handover-picture-other", { file: path.basename(file) });
    return bytes;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT")
      throw new TallyError("handover-picture-gone", { file: path.basename(file) });
    throw error;
  }
}

function pipedPictures(reel: Reel, movie: MovieSettings, rate: Rate): MoviePictures {
  const ending = oneEnding(reel)!;
  const cards = new Map<string, Buffer>();
  const card = async (label: string): Promise<Buffer> => {
    const known = cards.get(label);
    if (known !== undefined) return known;
    const { width, height } = reel.size!;
    const raw = sharp(await cardPixels(reel.size!, label), { raw: { width, height, channels: 3 } });
    const made = await (
      ending === ".png" ? raw.png() : raw.jpeg({ quality: 100, chromaSubsampling: "4:4:4" })
    ).toBuffer();
    cards.set(label, made);
    return made;
  };
  return {
    input: ["-f", "image2pipe", "-c:v", PIPED[ending]!, "-framerate", rateText(rate), "-i", "pipe:0"],
    size: reel.size!,
    hasAlpha: false,
    isDeep: keepsDepth(reel, movie),
    async feed(slots, into) {
      const made = inOrder(slots.length, AHEAD, (n) => {
        const slot = slots[n]!;
        return slot.kind === "card" ? card(slot.label) : bytesOf(reel.sources[slot.of]!, slot.from);
      });
      for await (const bytes of made) {
        await give(into, bytes);
      }
    },
  };
}

/** What is written on a frame: what it is of on the left, where it stands on the right. */
function burntOf(
  reel: Reel,
  movie: MovieSettings,
  slot: ReelSlot,
  place: number,
  rate: Rate,
): SeenTask["burnt"] {
  if (movie.burnt.length === 0) return null;
  const sequence = slot.of === null ? null : reel.sources[slot.of]!.sequence;
  const name = sequence === null ? "" : `${sequence.shot} ${versionName(sequence)}`;
  const right = [
    ...(movie.burnt.includes("timeCode") ? [timeCode(place, rate)] : []),
    ...(movie.burnt.includes("frame") ? [slot.frame === null ? "" : String(slot.frame)] : []),
  ].join("  ");
  const held = slot.kind === "picture" && slot.from !== slot.frame ? `  held ${slot.from}` : "";
  return { left: movie.burnt.includes("name") ? name : "", right: `${right}${held}` };
}

async function behindTask(
  reel: Reel,
  movie: MovieSettings,
  behindSource: ReelSource | null,
): Promise<(slot: ReelSlot) => BehindTask> {
  const { behind } = movie;
  if (behind.kind === "kept" || behind.kind === "colour") return () => behind;
  if (behind.kind === "picture") {
    const file = await insideFolder(projectFolder(reel.sources[0]!.sequence), behind.path);
    if ((await fs.stat(file).catch(() => null))?.isFile() !== true)
      throw new TallyError("handover-wrong", { message: `${behind.path} is no picture of the project.` }).at(
        "behind",
      );
    return () => ({ kind: "file", file, reading: { view: "plain", alpha: "none", holdsInBytes: false } });
  }
  return (slot) =>
    behindSource === null || slot.frame === null || !behindSource.files.has(slot.frame)
      ? { kind: "colour", colour: [0, 0, 0] }
      : { kind: "file", file: pictureFile(behindSource, slot.frame), reading: behindSource.reading };
}

export interface OtherSources {
  readonly beside: ReelSource | null;
  readonly behind: ReelSource | null;
}

/** Two pictures of raw pixels side by side. */
function sideBySide(left: Uint8Array, right: Uint8Array, height: number): Uint8Array {
  const [l, r] = [left.length / height, right.length / height];
  const both = new Uint8Array(left.length + right.length);
  for (let y = 0; y < height; y++) {
    both.set(left.subarray(y * l, (y + 1) * l), y * (l + r));
    both.set(right.subarray(y * r, (y + 1) * r), y * (l + r) + l);
  }
  return both;
}

const RAW = { 3: { 8: "rgb24", 16: "rgb48le" }, 4: { 8: "rgba", 16: "rgba64le" } } as const;

async function seenPictures(
  reel: Reel,
  movie: MovieSettings,
  rate: Rate,
  others: OtherSources,
): Promise<MoviePictures> {
  const one = reel.size!;
  const hasAlpha =
    movie.behind.kind === "kept" && reel.sources.some(({ reading }) => reading.alpha !== "none");
  const isDeep = keepsDepth(reel, movie);
  const depth = isDeep ? 16 : 8;
  const channels = hasAlpha ? 4 : 3;
  const behind = await behindTask(reel, movie, others.behind);
  const size = others.beside === null ? one : { width: one.width * 2, height: one.height };
  const isFitted = reel.sources.length > 1;
  return {
    input: [
      ...["-f", "rawvideo", "-pixel_format", RAW[channels][depth]],
      ...["-video_size", `${size.width}x${size.height}`, "-framerate", rateText(rate), "-i", "pipe:0"],
    ],
    size,
    hasAlpha,
    isDeep,
    async feed(slots, into) {
      const pictures = openSeenPictures();
      const card = async (label: string, burnt: SeenTask["burnt"]): Promise<Uint8Array> => {
        const rgb = await cardPixels(one, label);
        const data = widened(rgb, channels, depth);
        const seen = { ...one, channels, depth, data } as Parameters<typeof burnCorners>[0];
        if (burnt !== null) await burnCorners(seen, burnt);
        return new Uint8Array(data.buffer);
      };
      const see = (
        source: ReelSource,
        from: number,
        slot: ReelSlot,
        burnt: SeenTask["burnt"],
        fits: boolean,
      ) =>
        pictures.see({
          file: pictureFile(source, from),
          reading: { ...source.reading, ...usedReading(source.reading, { ...PLAIN_LOOK, view: movie.view }) },
          stops: movie.stops,
          behind:
            hasAlpha || movie.behind.kind !== "kept" ? behind(slot) : { kind: "colour", colour: [0, 0, 0] },
          depth,
          size: one,
          isFitted: fits,
          burnt,
        });
      const made = async (n: number): Promise<Uint8Array> => {
        const slot = slots[n]!;
        const burnt = burntOf(reel, movie, slot, n, rate);
        const own =
          slot.kind === "card"
            ? await card(slot.label, burnt)
            : await see(reel.sources[slot.of]!, slot.from, slot, burnt, isFitted);
        if (others.beside === null) return own;
        const { frame } = slot;
        const source = others.beside;
        const label = `${source.sequence.shot} ${versionName(source.sequence)}`;
        const its = movie.burnt.includes("name") ? { left: label, right: "" } : null;
        const right =
          frame === null || !source.files.has(frame)
            ? await card(`${label} ${frame ?? ""}`, its)
            : await see(source, frame, slot, its, true);
        return sideBySide(own, right, one.height);
      };
      try {
        for await (const bytes of inOrder(slots.length, pictures.atOnce + 1, made)) {
          await give(into, bytes);
        }
      } finally {
        await pictures.close();
      }
    },
  };
}

/** Numbers of more than eight bits a channel. */
function isDeepSource({ state }: ReelSource): boolean {
  const { file } = state.read.plan;
  switch (file.kind) {
    case "jpeg":
      return false;
    case "exr":
      return true;
    case "foreign":
      return file.isLinear || (file.depth ?? 8) > 8;
    case "png":
    case "tiff":
      return file.depth === 16;
  }
}

/** They come through in the movie. */
const keepsDepth = (reel: Reel, movie: MovieSettings): boolean =>
  CODEC_FACTS[movie.codec].isDeep && reel.sources.some(isDeepSource);

/** Eight bits of red, green and blue as other pixels, wholly opaque. */
function widened(
  rgb: Uint8Array,
  channels: 3 | 4,
  depth: 8 | 16,
): Uint8Array<ArrayBuffer> | Uint16Array<ArrayBuffer> {
  const pixels = rgb.length / 3;
  const factor = depth === 16 ? 257 : 1;
  const out = depth === 16 ? new Uint16Array(pixels * channels) : new Uint8Array(pixels * channels);
  for (let p = 0; p < pixels; p++) {
    for (let c = 0; c < 3; c++) out[p * channels + c] = rgb[p * 3 + c]! * factor;
    if (channels === 4) out[p * 4 + 3] = 255 * factor;
  }
  return out;
}

/** @param rate that they are played at */
export const moviePictures = (
  reel: Reel,
  movie: MovieSettings,
  rate: Rate,
  others: OtherSources,
): Promise<MoviePictures> =>
  isPiped(reel, movie)
    ? Promise.resolve(pipedPictures(reel, movie, rate))
    : seenPictures(reel, movie, rate, others);
