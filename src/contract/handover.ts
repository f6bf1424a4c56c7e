/** Handovers as they cross the boundary: what somebody wants to give away, what would go into it, what became of it. */
import { CODECS, CONTAINERS } from "@/core/handover/codecs";
import type { HandoverState } from "@/core/handover/handover-life";
import { GAPS, type Gaps, type PictureSize, type Trouble } from "@/core/handover/line-up";
import {
  BURNT,
  COPY_FORMATS,
  type CopySettings,
  HANDOVER_KINDS,
  type HandoverKind,
  type Into,
  type MovieSettings,
  type SheetSettings,
  USUAL_COPY,
  USUAL_MOVIE,
  USUAL_SHEET,
  type Wish,
} from "@/core/handover/wish";
import { STOPS, VIEWS } from "@/core/playback/shown-as";
import type { Rate } from "@/core/timing/rate";
import { BOUNDS, ID, nameOfLength, textOfLength } from "./bounds";
import { pointedFolder } from "./take-in";
import { checker, objectOf } from "./validate";
import type { Who } from "./who";

/** As it is asked for: what is left out of its settings is as usual. */
export interface WishBody {
  readonly as: HandoverKind;
  readonly frames?: string;
  readonly gaps?: Gaps;
  readonly isDeep?: boolean;
  readonly tells?: boolean;
  readonly into?: Into | null;
  readonly rate?: Rate | null;
  readonly movie?: Partial<MovieSettings>;
  readonly sheet?: Partial<SheetSettings>;
  readonly copy?: Partial<CopySettings>;
}

const term = { type: "integer", minimum: 1, maximum: BOUNDS.rateTerm * 100 };
const rate = {
  anyOf: [{ type: "null" }, objectOf<Rate>({ numerator: term, denominator: term })],
};
const side = { type: "integer", minimum: 16, maximum: BOUNDS.side };
const part = { type: "number", minimum: 0, maximum: 1 } as const;
const stops = { type: "number", minimum: STOPS.least, maximum: STOPS.most };
const view = { enum: [null, ...VIEWS] };
const path = { ...textOfLength(BOUNDS.path), minLength: 1 };
const seconds = { type: "number", minimum: -86_400, maximum: 86_400 };
const maybe = (schema: object) => ({ anyOf: [{ type: "null" }, schema] });
const tagged = (kind: string, more: Readonly<Record<string, object>> = {}) =>
  ({
    type: "object",
    required: ["kind", ...Object.keys(more)],
    additionalProperties: false,
    properties: { kind: { const: kind }, ...more },
  }) as const;

const movie = objectOf<MovieSettings>(
  {
    codec: { enum: CODECS },
    container: { enum: CONTAINERS },
    quality: maybe({ type: "integer", minimum: 0, maximum: 63 }),
    bitRate: maybe({ type: "integer", minimum: 50, maximum: 1_000_000 }),
    rate,
    percent: { type: "number", minimum: 1, maximum: 400 },
    size: maybe(objectOf<PictureSize>({ width: side, height: side })),
    loops: { type: "integer", minimum: 0, maximum: 1_000 },
    holdFirst: { type: "integer", minimum: 0, maximum: 100_000 },
    holdLast: { type: "integer", minimum: 0, maximum: 100_000 },
    behind: {
      oneOf: [
        tagged("colour", { colour: { type: "array", items: part, minItems: 3, maxItems: 3 } }),
        tagged("picture", { path }),
        tagged("sequence", { sequenceId: ID }),
        tagged("kept"),
      ],
    },
    burnt: { type: "array", items: { enum: BURNT }, uniqueItems: true, maxItems: BURNT.length },
    sound: {
      oneOf: [
        { enum: ["shot", "none"] },
        objectOf({ path, from: { ...seconds, minimum: 0 }, offset: seconds }),
      ],
    },
    beside: maybe(ID),
    stops,
    view,
  },
  [],
);

const sheet = objectOf<SheetSettings>(
  {
    columns: { type: "integer", minimum: 1, maximum: 40 },
    format: { enum: ["png", "pdf"] },
    hasCaptions: { type: "boolean" },
    stops,
    view,
  },
  [],
);

const copy = objectOf<CopySettings>(
  {
    format: { enum: COPY_FORMATS },
    from: maybe({ type: "integer", minimum: -BOUNDS.frame, maximum: BOUNDS.frame }),
    digits: maybe({ type: "integer", minimum: 1, maximum: BOUNDS.digits }),
    name: textOfLength(BOUNDS.name),
    stops,
    view,
  },
  [],
);

const wishKeys = {
  as: { enum: HANDOVER_KINDS },
  frames: { type: "string", minLength: 1, maxLength: BOUNDS.phrase },
  gaps: { enum: GAPS },
  isDeep: { type: "boolean" },
  tells: { type: "boolean" },
  into: maybe(pointedFolder),
  rate,
  movie,
  sheet,
  copy,
} as const;

export const wishSchema = objectOf<WishBody>(wishKeys, ["as"]);

/** What to hand over of a sequence, or of an edit. */
export const checkWish = checker<WishBody>(wishSchema);

/** Settings of a movie that are kept under a name. */
export interface MoviePresetView {
  readonly id: number;
  readonly name: string;
  readonly movie: MovieSettings;
}

export interface MoviePresetBody {
  readonly name: string;
  /** What is left out is as usual. */
  readonly movie: Partial<MovieSettings>;
}
export const checkMoviePreset = checker<MoviePresetBody>(
  objectOf<MoviePresetBody>({ name: nameOfLength(BOUNDS.presetName), movie }),
);
export const movieOf = (settings: Partial<MovieSettings> | undefined): MovieSettings => ({
  ...USUAL_MOVIE,
  ...settings,
});

/** All of it said, as it is kept. */
export function wishOf(body: WishBody): Wish {
  const common = {
    frames: body.frames ?? "all",
    gaps: body.gaps ?? "stop",
    isDeep: body.isDeep ?? false,
    tells: body.tells ?? false,
    into: body.into ?? null,
  };
  switch (body.as) {
    case "movie":
      return { ...common, as: "movie", movie: movieOf(body.movie) };
    case "sheet":
      return { ...common, as: "sheet", sheet: { ...USUAL_SHEET, ...body.sheet } };
    case "frames":
      return { ...common, as: "frames", copy: { ...USUAL_COPY, ...body.copy } };
    case "otio":
      return { ...common, as: "otio", rate: body.rate ?? null };
    default:
      return { ...common, as: body.as };
  }
}

/** What would go into a handover, before anything is made. */
export interface HandoverOutlook {
  /** Frames that were asked for, as a phrase. */
  readonly frames: string;
  readonly count: number;
  /** By kind, as phrases; kinds that there are none of are left out. */
  readonly troubles: readonly { readonly kind: Trouble; readonly frames: string; readonly count: number }[];
  /** Of the pictures that go in; null while none was looked at. */
  readonly size: PictureSize | null;
  /** Of the movie; null for anything else. */
  readonly movie: PictureSize | null;
  readonly rate: Rate;
  /** Pictures that a movie shows, and how long it lasts. */
  readonly shown: number;
  readonly seconds: number;
  /** Of the file; null where nothing tells. */
  readonly bytes: number | null;
  /** Of the file that it would become. */
  readonly name: string;
  /** Sentences. */
  readonly warnings: readonly string[];
  /** Why it cannot be made as it is; null: it can. */
  readonly fault: { readonly code: string; readonly message: string } | null;
}

/** What a handover became. */
export interface HandoverResult {
  /** Absolute, on the machine that made it. */
  readonly path: string;
  /** Of the sequence; of an edit, of the project. */
  readonly folder: string;
  readonly bytes: number;
  /** That it shows, lists or holds. */
  readonly frames: number;
  /** As a fraction: 24000/1001. */
  readonly rate: string;
  readonly seconds: number;
  readonly warnings: readonly string[];
}

const told = { type: "string" } as const;
const figure = { type: "number", minimum: 0 } as const;
/** As it was kept: a record beside the frames may have been changed by anybody. */
export const checkResult = checker<HandoverResult>(
  objectOf<HandoverResult>({
    path: told,
    folder: told,
    bytes: figure,
    frames: figure,
    rate: told,
    seconds: figure,
    warnings: { type: "array", items: told },
  }),
);
export const checkFault = checker<{ readonly code: string; readonly message: string }>(
  objectOf<{ readonly code: string; readonly message: string }>({ code: told, message: told }),
);

export interface HandoverView {
  readonly id: number;
  readonly wish: Wish;
  /** Null: it lies where the command line was told to put it. */
  readonly name: string | null;
  /** Absolute; where it will be while it is not there yet. */
  readonly path: string;
  readonly state: HandoverState;
  /** From 0 to 1; null while nobody makes it. */
  readonly progress: number | null;
  readonly node: string | null;
  /** The run that it follows. */
  readonly runId: number | null;
  /** Why it still waits for that run's frames. */
  readonly held: string | null;
  /** Frames under it have changed since; null: nobody can tell. */
  readonly isOutOfDate: boolean | null;
  /** Its file can be fetched from here. */
  readonly isHere: boolean;
  readonly result: HandoverResult | null;
  readonly fault: { readonly code: string; readonly message: string } | null;
  readonly who: Who;
  /** Milliseconds since 1970. */
  readonly createdAt: number;
  readonly endedAt: number | null;
}
