/**
 * Kinds of movie: which program inside ffmpeg makes each, how its pixels are kept, and what it asks of the pictures.
 * Facts and argument lists alone; nothing is run here.
 */
import type { PictureSize } from "./line-up";

export const CODECS = ["h264", "h265", "av1", "prores", "vp9", "ffv1", "gif", "apng"] as const;
export type Codec = (typeof CODECS)[number];

export const CONTAINERS = ["mp4", "mov", "webm", "mkv", "gif", "apng"] as const;
export type Container = (typeof CONTAINERS)[number];

export interface CodecFacts {
  readonly word: string;
  /** What it is for, in a few words. */
  readonly use: string;
  /** Encoders of ffmpeg that make it, the best first. */
  readonly encoders: readonly string[];
  /** Endings that it can have, the usual one first. */
  readonly containers: readonly Container[];
  /** Transparent pixels can stay transparent. */
  readonly keepsAlpha: boolean;
  /** Numbers of more than 8 bits come through. */
  readonly isDeep: boolean;
  /** What was encoded is decoded bit for bit. */
  readonly isLossless: boolean;
  /** Lower is better and larger; null: there is nothing to choose. */
  readonly quality: { readonly usual: number; readonly best: number; readonly worst: number } | null;
  /** Both sides must be even. */
  readonly needsEven: boolean;
  /** Keeps how often it is to be played; others show all of it as often as asked. */
  readonly countsLoops: boolean;
  /** A sound can lie under it. */
  readonly hasSound: boolean;
}

const MOVIE = { isLossless: false, needsEven: true, countsLoops: false, hasSound: true } as const;

export const CODEC_FACTS: Readonly<Record<Codec, CodecFacts>> = {
  h264: {
    ...MOVIE,
    word: "H.264",
    use: "plays everywhere",
    encoders: ["libx264"],
    containers: ["mp4", "mov"],
    keepsAlpha: false,
    isDeep: false,
    quality: { usual: 16, best: 0, worst: 51 },
  },
  h265: {
    ...MOVIE,
    word: "H.265",
    use: "smaller, on newer machines",
    encoders: ["libx265"],
    containers: ["mp4", "mov"],
    keepsAlpha: false,
    isDeep: true,
    quality: { usual: 16, best: 0, worst: 51 },
  },
  av1: {
    ...MOVIE,
    word: "AV1",
    use: "smallest, slow to make",
    encoders: ["libsvtav1", "libaom-av1"],
    containers: ["mp4"],
    keepsAlpha: false,
    isDeep: true,
    quality: { usual: 28, best: 1, worst: 63 },
  },
  prores: {
    ...MOVIE,
    word: "ProRes 422 HQ, 4444 with alpha",
    use: "for editing",
    encoders: ["prores_ks"],
    containers: ["mov"],
    keepsAlpha: true,
    isDeep: true,
    quality: null,
  },
  vp9: {
    ...MOVIE,
    word: "VP9",
    use: "for web pages, with alpha",
    encoders: ["libvpx-vp9"],
    containers: ["webm"],
    keepsAlpha: true,
    isDeep: false,
    quality: { usual: 24, best: 0, worst: 63 },
  },
  ffv1: {
    ...MOVIE,
    word: "FFV1",
    use: "for the archive, lossless",
    encoders: ["ffv1"],
    containers: ["mkv"],
    keepsAlpha: true,
    isDeep: true,
    isLossless: true,
    needsEven: false,
    quality: null,
  },
  gif: {
    word: "GIF",
    use: "256 colours, plays in any message",
    encoders: ["gif"],
    containers: ["gif"],
    keepsAlpha: false,
    isDeep: false,
    isLossless: false,
    quality: null,
    needsEven: false,
    countsLoops: true,
    hasSound: false,
  },
  apng: {
    word: "animated PNG",
    use: "every colour, and alpha",
    encoders: ["apng"],
    containers: ["apng"],
    keepsAlpha: true,
    isDeep: false,
    isLossless: true,
    quality: null,
    needsEven: false,
    countsLoops: true,
    hasSound: false,
  },
};

/** What names of movies end in. */
export const endingOf = (container: Container): string => (container === "apng" ? "png" : container);

/** How pixels come to ffmpeg: with alpha, and with more than 8 bits. */
export interface Pixels {
  readonly hasAlpha: boolean;
  readonly isDeep: boolean;
}

/** How ffmpeg keeps them in a codec. */
export function keptAs(codec: Codec, { hasAlpha, isDeep }: Pixels): string {
  switch (codec) {
    case "h264":
      return "yuv420p";
    case "h265":
    case "av1":
      return isDeep ? "yuv420p10le" : "yuv420p";
    case "prores":
      return hasAlpha ? "yuva444p10le" : "yuv422p10le";
    case "vp9":
      return hasAlpha ? "yuva420p" : "yuv420p";
    case "ffv1":
      return hasAlpha ? (isDeep ? "rgba64le" : "bgra") : isDeep ? "gbrp16le" : "bgr0";
    case "gif":
      return "rgb24";
    case "apng":
      return hasAlpha ? "rgba" : "rgb24";
  }
}

/** Whether colour is turned into brightness and difference, and must say how. */
export const isYuv = (kept: string): boolean => kept.startsWith("yuv");

export interface EncodeSettings {
  readonly codec: Codec;
  readonly container: Container;
  /** Null: as is usual for the codec. */
  readonly quality: number | null;
  /** Kilobits a second, in the place of a quality; null: by quality. */
  readonly bitRate: number | null;
  /** How often a GIF or an animated PNG is played; 0: for ever. */
  readonly loops: number;
}

const HOW: Readonly<Record<string, readonly string[]>> = {
  libx264: ["-preset", "medium"],
  libx265: ["-preset", "medium", "-tag:v", "hvc1", "-x265-params", "log-level=error"],
  libsvtav1: ["-preset", "8"],
  "libaom-av1": ["-cpu-used", "6", "-row-mt", "1"],
  "libvpx-vp9": ["-row-mt", "1", "-cpu-used", "2", "-auto-alt-ref", "0"],
  ffv1: ["-level", "3", "-g", "1", "-slicecrc", "1"],
  prores_ks: ["-vendor", "apl0"],
};

/** Arguments of ffmpeg behind the input, but for the filter and the name. @param encoder one of the codec's */
export function encodeArguments(settings: EncodeSettings, pixels: Pixels, encoder: string): string[] {
  const { codec, container, bitRate } = settings;
  const facts = CODEC_FACTS[codec];
  const kept = keptAs(codec, pixels);
  const size: string[] =
    facts.quality === null
      ? []
      : bitRate !== null
        ? ["-b:v", `${bitRate}k`, "-maxrate", `${bitRate * 2}k`, "-bufsize", `${bitRate * 4}k`]
        : [
            "-crf",
            String(settings.quality ?? facts.quality.usual),
            ...(encoder === "libvpx-vp9" || encoder === "libaom-av1" ? ["-b:v", "0"] : []),
          ];
  return [
    "-c:v",
    encoder,
    ...(HOW[encoder] ?? []),
    // 3: 422 HQ, 4: 4444.
    ...(codec === "prores" ? ["-profile:v", pixels.hasAlpha ? "4" : "3"] : []),
    ...size,
    "-pix_fmt",
    kept,
    ...(isYuv(kept)
      ? ["-color_primaries", "bt709", "-color_trc", "bt709", "-colorspace", "bt709", "-color_range", "tv"]
      : []),
    ...(container === "mp4" || container === "mov" ? ["-movflags", "+faststart"] : []),
    ...(codec === "gif" ? ["-loop", String(settings.loops === 1 ? -1 : loopsInFile(settings.loops))] : []),
    ...(codec === "apng" ? ["-plays", String(settings.loops)] : []),
    "-f",
    MUXER[container],
  ];
}

/** A GIF counts how often it is played again. */
const loopsInFile = (loops: number): number => (loops === 0 ? 0 : loops - 1);

const MUXER: Readonly<Record<Container, string>> = {
  mp4: "mp4",
  mov: "mov",
  webm: "webm",
  mkv: "matroska",
  gif: "gif",
  apng: "apng",
};

const even = (side: number): number => side + (side % 2);

export interface MovieSize {
  /** Of the pictures after they were made smaller or larger. */
  readonly scaled: PictureSize;
  /** Of the movie: with black around them where a size was asked for, or the codec asks for even sides. */
  readonly movie: PictureSize;
}

/** How large it shall be: each side in percent, or a size into which the pictures are fitted, black around them. */
export interface WantedSize {
  readonly percent: number;
  readonly size: PictureSize | null;
}

export function movieSize(pictures: PictureSize, { percent, size }: WantedSize, codec: Codec): MovieSize {
  const factor =
    size === null ? percent / 100 : Math.min(size.width / pictures.width, size.height / pictures.height);
  const scaled = {
    width: Math.max(1, Math.round(pictures.width * factor)),
    height: Math.max(1, Math.round(pictures.height * factor)),
  };
  const { width, height } = size ?? scaled;
  return {
    scaled,
    movie: CODEC_FACTS[codec].needsEven ? { width: even(width), height: even(height) } : { width, height },
  };
}

/**
 * The way from the pictures to the codec's pixels, as ffmpeg's filter. Smaller pictures with alpha are weighted by it,
 * or what is behind would shine through their edges.
 */
export function filterOf(
  codec: Codec,
  from: PictureSize,
  { scaled, movie }: MovieSize,
  pixels: Pixels,
): string {
  const kept = keptAs(codec, pixels);
  const isScaled = from.width !== scaled.width || from.height !== scaled.height;
  const sides = `${scaled.width}:${scaled.height}`;
  const planar = pixels.isDeep ? "gbrap16le" : "gbrap";
  const scale = `scale=${sides}:flags=lanczos+accurate_rnd+full_chroma_int`;
  const steps = [
    ...(isScaled
      ? pixels.hasAlpha
        ? [`format=${planar}`, "premultiply=inplace=1", scale, "unpremultiply=inplace=1"]
        : [scale]
      : []),
    ...(movie.width !== scaled.width || movie.height !== scaled.height
      ? [`pad=${movie.width}:${movie.height}:(ow-iw)/2:(oh-ih)/2:${pixels.hasAlpha ? "black@0" : "black"}`]
      : []),
    ...(isYuv(kept) ? ["scale=in_range=pc:out_range=tv:out_color_matrix=bt709"] : []),
    // Every picture has its own few colours in a table of its own where that looks better; one for all is steadier.
    ...(codec === "gif"
      ? ["split[a][b];[a]palettegen=stats_mode=full[p];[b][p]paletteuse=dither=sierra2_4a"]
      : []),
    ...(codec === "gif" ? [] : [`format=${kept}`]),
    "setsar=1",
    // Some encoders read it from the pictures, some from the call.
    ...(isYuv(kept) ? ["setparams=range=tv:color_primaries=bt709:color_trc=bt709:colorspace=bt709"] : []),
  ];
  return steps.join(",");
}
