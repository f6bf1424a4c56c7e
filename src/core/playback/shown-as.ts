/**
 * How the numbers of a picture become what is seen: what they mean (`Reading`), and what a person wants to see of them
 * (`Look`). Values as they lie in a file come in, display values from 0 to 1 come out; shown-pixel.ts is the arithmetic.
 */
import type { Alpha } from "../image/file-format";
import { type FileFormat, isLinearFile } from "../image/file-format";
import { isLightPass, type Pass } from "../plan/passes";

/**
 *     plain      the numbers are display values already
 *     srgb       scene light, through the sRGB transfer: light above 1 is cut
 *     film       scene light, through the stand-in's film curve, as its integer files hold it
 *     depth      metres: near is white, the sky black
 *     direction  parts of a direction from -1 to 1
 */
export const VIEWS = ["plain", "srgb", "film", "depth", "direction"] as const;
export type View = (typeof VIEWS)[number];

export const CHANNELS_SHOWN = ["colour", "red", "green", "blue", "alpha", "luminance"] as const;
export type ChannelShown = (typeof CHANNELS_SHOWN)[number];

/** What shows through where a picture is transparent. */
export const BACKGROUNDS = ["checker", "grey", "black", "white", "own", "picture"] as const;
export type Background = (typeof BACKGROUNDS)[number];

/** Red, green, blue. */
export type Colour = readonly [number, number, number];

/** What the numbers of a sequence's files mean. */
export interface Reading {
  readonly view: View;
  readonly alpha: Alpha;
  /** Why it is shown so, as a sentence; null where nothing is done to the numbers. */
  readonly why: string | null;
  /** Also files of eight bits are read so: somebody has said so of files that another program made. */
  readonly holdsInBytes: boolean;
}

/** Display values, to be shown as they are. */
export const PLAIN_READING: Reading = { view: "plain", alpha: "none", why: null, holdsInBytes: false };

export interface Look {
  /** Doublings of the values, before the view. */
  readonly stops: number;
  /** The display value is raised to one by it. */
  readonly gamma: number;
  readonly channel: ChannelShown;
  readonly background: Background;
  /** The colour of an `own` background, display values from 0 to 1. */
  readonly backdrop: Colour;
  /** Null: as the files are read. */
  readonly view: View | null;
  readonly alpha: Alpha | null;
}

export const PLAIN_LOOK: Look = {
  stops: 0,
  gamma: 1,
  channel: "colour",
  background: "checker",
  backdrop: [0.2, 0.3, 0.5],
  view: null,
  alpha: null,
};

/** Both inclusive; a look beyond them shows nothing more. */
export const STOPS = { least: -16, most: 16 } as const;
export const GAMMA = { least: 0.1, most: 10 } as const;

/**
 * How files of a plan are read.
 * @param isOurs the stand-in made them: its light goes through its film curve in integer files
 */
export function readingOf(
  { file, alpha }: { readonly file: FileFormat; readonly alpha: Alpha },
  pass: Pass,
  isOurs: boolean,
): Reading {
  if (!isLinearFile(file)) return { ...PLAIN_READING, alpha };
  const holdsInBytes = file.kind === "foreign";
  if (pass === "depth")
    return {
      view: "depth",
      alpha,
      holdsInBytes,
      why: "These files hold metres: near is shown white, far black.",
    };
  if (pass === "normal")
    return {
      view: "direction",
      alpha,
      holdsInBytes,
      why: "These files hold directions from -1 to 1: 0 is shown as grey.",
    };
  if (isOurs && isLightPass(pass))
    return {
      view: "film",
      alpha,
      holdsInBytes,
      why: "These files hold scene light: it is shown through the film curve, as PNG would have it.",
    };
  return {
    view: "srgb",
    alpha,
    holdsInBytes,
    why: "These files hold scene light: it is shown through the sRGB curve, and would be too dark without.",
  };
}

/** Stops that a key or a click changes the exposure by. */
export const STEP_STOPS = 0.5;

/** One step brighter or darker, inside the bounds. */
export const steppedStops = (look: Look, way: 1 | -1): Look => ({
  ...look,
  stops: Math.min(STOPS.most, Math.max(STOPS.least, look.stops + way * STEP_STOPS)),
});

/** The view and the alpha that are used: a person's word before the reading's. */
export const usedReading = (reading: Reading, look: Look): Pick<Reading, "view" | "alpha"> => ({
  view: look.view ?? reading.view,
  alpha: look.alpha ?? reading.alpha,
});
