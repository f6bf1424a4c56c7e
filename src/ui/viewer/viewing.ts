/**
 * What a person has chosen in the viewer: how it plays, how pictures are seen, what is compared. Kept by the tab, as
 * somebody who looks at one frame looks at the next in the same way.
 */
import type { Reduction } from "@/contract/viewer-picture";
import { REDUCTIONS } from "@/contract/viewer-picture";
import { ENDS, type Ends } from "@/core/playback/play-clock";
import { type Look, PLAIN_LOOK } from "@/core/playback/shown-as";
import type { Wipe } from "@/core/playback/shown-pixel";
import { factorOf, type Size, type Zoom } from "@/core/playback/zoom";
import type { Rate } from "@/core/timing/rate";
import { ARRANGEMENTS, type Arrangement } from "./arrangement";
import { MISSING_WAYS, type MissingWay } from "./reel";
import type { Fold } from "./folds";

/** Of pictures in motion: as large as they are shown, or a share of the file's. */
export type Scale = "shown" | Reduction;
export const SCALES: readonly Scale[] = ["shown", ...REDUCTIONS];

/** Bytes for decoded pictures. */
export const BUDGETS = [256e6, 512e6, 1e9, 2e9, 4e9] as const;

export interface Viewing {
  readonly every: number;
  readonly ends: Ends;
  readonly holdSeconds: number;
  /** Null: the plan's. */
  readonly rate: Rate | null;
  readonly missing: MissingWay;
  readonly scale: Scale;
  readonly budget: number;
  readonly look: Look;
  readonly arrangement: Arrangement;
  readonly wipe: Wipe;
  readonly gain: number;
  /** The frames beside the one that is looked at shine through; not while others are compared. */
  readonly hasNeighbours: boolean;
  /** Frame, file, time code and the rest stand on the picture. */
  readonly hasFacts: boolean;
  /** The shot's sound is heard. */
  readonly isHeard: boolean;
  /** Lines of settings that are open. */
  readonly open: readonly Fold[];
}

export const USUAL_VIEWING: Viewing = {
  every: 1,
  ends: "loop",
  holdSeconds: 0,
  rate: null,
  missing: "gap",
  scale: "shown",
  budget: 1e9,
  look: PLAIN_LOOK,
  arrangement: "wipe",
  wipe: { x: 0.5, y: 0.5, degrees: 0 },
  gain: 4,
  hasNeighbours: false,
  hasFacts: false,
  isHeard: true,
  open: [],
};

const isOneOf = (values: readonly unknown[], value: unknown): boolean => values.includes(value);

/** What a tab has kept may come from an earlier version of the page. */
export const isViewing = (value: unknown): value is Viewing => {
  const kept = value as Viewing | null;
  return (
    typeof kept === "object" &&
    kept !== null &&
    Object.keys(USUAL_VIEWING).every((key) => key in kept) &&
    isOneOf(ENDS, kept.ends) &&
    isOneOf(MISSING_WAYS, kept.missing) &&
    isOneOf(SCALES, kept.scale) &&
    isOneOf(BUDGETS, kept.budget) &&
    isOneOf(ARRANGEMENTS, kept.arrangement) &&
    Object.keys(PLAIN_LOOK).every((key) => key in kept.look)
  );
};

/** The smallest pictures that still fill what they are shown in, pixel for pixel. */
export function reductionFor(scale: Scale, zoom: Zoom, part: Size, whole: Size): Reduction {
  if (scale !== "shown") return scale;
  const factor = factorOf(zoom, part, whole);
  return [...REDUCTIONS].reverse().find((over) => over * factor <= 1.1) ?? 1;
}

/** Room for the picture, as far as it is known before it is laid out: the page without what stands under it. */
const UNDER_PICTURE = 260;
export const screenPart = (): Size => {
  const ratio = window.devicePixelRatio || 1;
  return {
    width: window.innerWidth * ratio,
    height: Math.max(200, window.innerHeight - UNDER_PICTURE) * ratio,
  };
};
