/** What is odd about a frame among its neighbours, with its figures and where in the picture it is. */
import type { Measures } from "../image/measure-picture";
import type { Region, Sketch } from "../image/sketch";

export const ODD_CODES = [
  "pop",
  "frozen",
  "double",
  "flicker",
  "hot-pixels",
  "not-a-number",
  "brightness",
  "black",
  "clipped",
  "noise",
  "size",
  "seconds",
  "samples",
  "older",
] as const;
export type OddCode = (typeof ODD_CODES)[number];

export interface Odd {
  readonly frame: number;
  readonly code: OddCode;
  /** What was measured, in the unit of its kind. */
  readonly value: number;
  /** What the frames around it let one expect. */
  readonly expected: number;
  readonly region: Region | null;
  readonly sentence: string;
}

/** What is known of a frame, from one look at its file. */
export interface MeasuredFrame {
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  readonly measures: Measures;
  readonly sketch: Sketch;
  readonly hotRegion: Region | null;
  /** Equal for equal pixels. */
  readonly pixels: string;
  /** Of the file. */
  readonly bytes: number;
  /** Equal for equal files. */
  readonly content: string;
  /** That it took to render; null where nobody knows. */
  readonly seconds: number | null;
  /** A pixel; null where the renderer does not count them. */
  readonly samples: number | null;
  /** When its file was last written, in milliseconds since 1970. */
  readonly modifiedMs: number;
}

/** How far off is odd. All may be changed; what is measured stays the same. */
export interface Thresholds {
  /** Of the change that is usual around it: a picture, or a block of it, that changes and changes back. */
  readonly change: number;
  /** Of white: a change below is none, however still the picture is. */
  readonly leastChange: number;
  /** Of the usual change: less is none, while things move. */
  readonly frozen: number;
  /** Deviations (1.4826 times the median one) of measures along the shot. */
  readonly deviations: number;
  /** Hot pixels more than around it. */
  readonly hot: number;
  /** Times the seconds of the frames around it. */
  readonly seconds: number;
}

export const USUAL_THRESHOLDS: Thresholds = {
  change: 4.5,
  leastChange: 0.012,
  frozen: 0.65,
  deviations: 7,
  hot: 1,
  seconds: 3,
};

/** What may be said. */
export const THRESHOLD_BOUNDS: Readonly<Record<keyof Thresholds, readonly [least: number, most: number]>> = {
  change: [1, 1000],
  leastChange: [0.004, 1],
  frozen: [0, 1],
  deviations: [1, 1000],
  hot: [1, 1_000_000],
  seconds: [1, 1000],
};
