/** What somebody wants to give away, and of what: kept with what was made of it, so that it can be made again. */
import type { Colour, View } from "../playback/shown-as";
import type { Rate } from "../timing/rate";
import { CODEC_FACTS, type Codec, type Container } from "./codecs";
import type { Gaps, PictureSize } from "./line-up";

export const HANDOVER_KINDS = [
  "movie",
  "csv",
  "json",
  "list",
  "concat",
  "sums",
  "otio",
  "patch",
  "sheet",
  "page",
  "report",
  "case",
  "frames",
] as const;
export type HandoverKind = (typeof HANDOVER_KINDS)[number];

/** Kinds that tell what is wrong with frames, and are not stopped by it. */
export const tellsFaults = (as: HandoverKind): boolean =>
  as === "csv" || as === "json" || as === "patch" || as === "report" || as === "case";

/** What is written into each picture. */
export const BURNT = ["frame", "timeCode", "name"] as const;
export type Burnt = (typeof BURNT)[number];

export type Behind =
  | { readonly kind: "colour"; readonly colour: Colour }
  /** @param path below the project's folder */
  | { readonly kind: "picture"; readonly path: string }
  /** Frame by frame, by number. */
  | { readonly kind: "sequence"; readonly sequenceId: number }
  /** Transparent pixels stay so, where the codec can. */
  | { readonly kind: "kept" };

/** A sound under a movie: the shot's own, none, or a file below the project's folder. */
export type Under =
  | "shot"
  | "none"
  | {
      readonly path: string;
      /** Seconds of its beginning that are left out. */
      readonly from: number;
      /** Seconds of the movie before it begins. */
      readonly offset: number;
    };

/** How pictures are shown: of use for files of scene light. */
export interface ShownHow {
  readonly stops: number;
  /** Null: as the files are read. */
  readonly view: View | null;
}

export interface MovieSettings extends ShownHow {
  readonly codec: Codec;
  readonly container: Container;
  /** Null: as is usual for the codec. */
  readonly quality: number | null;
  /** Kilobits a second, in the place of a quality. */
  readonly bitRate: number | null;
  /** Null: the plan's. */
  readonly rate: Rate | null;
  /** Of each side; of no use where a size is said. */
  readonly percent: number;
  /** The pictures are fitted into it, black around them; null: by percent. */
  readonly size: PictureSize | null;
  /** How often all of it is shown; 0, for ever, where the file itself counts. */
  readonly loops: number;
  /** Frames more of the first and of the last picture. */
  readonly holdFirst: number;
  readonly holdLast: number;
  readonly behind: Behind;
  readonly burnt: readonly Burnt[];
  readonly sound: Under;
  /** Another sequence of the project, on the right of this one; null: none. */
  readonly beside: number | null;
}

export const USUAL_MOVIE: MovieSettings = {
  codec: "h264",
  container: "mp4",
  quality: null,
  bitRate: null,
  rate: null,
  percent: 100,
  size: null,
  loops: 1,
  holdFirst: 0,
  holdLast: 0,
  behind: { kind: "colour", colour: [0, 0, 0] },
  burnt: [],
  sound: "shot",
  beside: null,
  stops: 0,
  view: null,
};

export const MOVIE_PRESETS = ["phone", "edit", "archive", "web"] as const;
export type MoviePreset = (typeof MOVIE_PRESETS)[number];

/** What each is called, and what it sets. */
export const PRESET_FACTS: Readonly<
  Record<MoviePreset, { readonly word: string; readonly sets: Partial<MovieSettings> }>
> = {
  phone: {
    word: "for a phone",
    sets: { codec: "h264", container: "mp4", quality: 23, bitRate: null },
  },
  edit: {
    word: "for the edit",
    sets: { codec: "prores", container: "mov", quality: null, bitRate: null, percent: 100, size: null },
  },
  archive: {
    word: "for the archive",
    sets: {
      codec: "ffv1",
      container: "mkv",
      quality: null,
      bitRate: null,
      percent: 100,
      size: null,
      burnt: [],
      behind: { kind: "kept" },
    },
  },
  web: {
    word: "for the web",
    sets: { codec: "vp9", container: "webm", quality: null, bitRate: null },
  },
};

/** With another codec: what that one cannot have is set as is usual for it. */
export function withCodec(movie: MovieSettings, codec: Codec): MovieSettings {
  const facts = CODEC_FACTS[codec];
  return {
    ...movie,
    codec,
    container: facts.containers.includes(movie.container) ? movie.container : facts.containers[0]!,
    quality: null,
    bitRate: facts.quality === null ? null : movie.bitRate,
    behind: movie.behind.kind === "kept" && !facts.keepsAlpha ? USUAL_MOVIE.behind : movie.behind,
    loops: facts.countsLoops ? 0 : Math.max(1, movie.loops),
  };
}

export interface SheetSettings extends ShownHow {
  readonly columns: number;
  readonly format: "png" | "pdf";
  readonly hasCaptions: boolean;
}
export const USUAL_SHEET: SheetSettings = {
  columns: 6,
  format: "png",
  hasCaptions: true,
  stops: 0,
  view: null,
};

export const COPY_FORMATS = ["same", "png8", "jpeg"] as const;
export type CopyFormat = (typeof COPY_FORMATS)[number];

export interface CopySettings extends ShownHow {
  readonly format: CopyFormat;
  /** Number of the first copy; null: numbers stay. */
  readonly from: number | null;
  /** Null: as many as the names have. */
  readonly digits: number | null;
  /** What stands before the number; blank: as it is in the sequence. */
  readonly name: string;
}
export const USUAL_COPY: CopySettings = {
  format: "same",
  from: null,
  digits: null,
  name: "",
  stops: 0,
  view: null,
};

/** Kinds without settings of their own. */
type PlainKind = Exclude<HandoverKind, "movie" | "sheet" | "frames" | "otio">;

/** A folder by a root and the way from it, or (without a root) by its path on the server. */
export interface Into {
  readonly root: string | null;
  readonly folder: string;
}

/** One handover: of a sequence, or of a project's edit. */
export type Wish = {
  /** A phrase; names are those of the tally. */
  readonly frames: string;
  readonly gaps: Gaps;
  /** Every file is unpacked before anything is made of it. */
  readonly isDeep: boolean;
  /** What becomes of it is told by the program that the house declares for it. */
  readonly tells: boolean;
  /** The folder that it is put into; null: the project's own. */
  readonly into: Into | null;
} & (
  | { readonly as: "movie"; readonly movie: MovieSettings }
  | { readonly as: "sheet"; readonly sheet: SheetSettings }
  | { readonly as: "frames"; readonly copy: CopySettings }
  | { readonly as: "otio"; readonly rate: Rate | null }
  | { readonly [K in PlainKind]: { readonly as: K } }[PlainKind]
);

/** How often the slots are gone through: what the file itself counts is shown once. */
export const loopsShown = (movie: MovieSettings): number =>
  CODEC_FACTS[movie.codec].countsLoops ? 1 : movie.loops;

/** What cannot be, as a sentence with its field; null: all can. */
export function movieFault(
  movie: MovieSettings,
): { readonly field: keyof MovieSettings; readonly message: string } | null {
  const facts = CODEC_FACTS[movie.codec];
  if (!facts.containers.includes(movie.container))
    return { field: "container", message: `${facts.word} goes into ${facts.containers.join(" or ")}.` };
  if (movie.bitRate !== null && facts.quality === null)
    return { field: "bitRate", message: `${facts.word} has no bit rate to choose.` };
  if (movie.quality !== null) {
    if (facts.quality === null)
      return { field: "quality", message: `${facts.word} has no quality to choose.` };
    const { best, worst } = facts.quality;
    if (movie.quality < best || movie.quality > worst)
      return { field: "quality", message: `Its quality goes from ${best} (best) to ${worst}.` };
  }
  if (movie.behind.kind === "kept" && !facts.keepsAlpha)
    return { field: "behind", message: `${facts.word} cannot keep transparency: choose what is behind.` };
  if (movie.loops === 0 && !facts.countsLoops)
    return { field: "loops", message: "Only a GIF and an animated PNG play for ever." };
  return null;
}
