/**
 * Which frames of a sequence are odd among their neighbours. Pure, from measures that are kept: after a change of
 * threshold no file is opened again.
 */
import { type FrameSet, has } from "../frames/frame-set";
import { regionOf } from "../image/sketch";
import { burstsOf } from "./bursts";
import type { Odd, OddCode, Thresholds } from "./odd";
import { FOLLOWED, type Motion, type Profile } from "./profile";

/** Frames that the plan or a marker names, so that they are no faults. */
export interface NamedFrames {
  readonly flashes: FrameSet;
  readonly holds: FrameSet;
}

/** Of white: below, nothing moves, and a frame like the one before is none. */
const MOVES = 0.0006;
/** Behind frames that stood still by mistake the picture jumps by so many times the usual change. */
const MAKES_UP = 1.2;
/** Frames of the longest halt that is looked for. */
const LONGEST_HALT = 6;
/** Where more of the frames around stand still, that is the manner of the shot: animated on twos. */
const MANNER = 0.3;

const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 2 : 1)} %`;

/** A measure along the shot: how it is told, and what is never odd. */
interface Track {
  readonly code: "brightness" | "black" | "clipped" | "noise" | "size" | "samples";
  /** Smaller differences are never odd: of what is expected, and at all. */
  readonly leastShare: number;
  readonly least: number;
  readonly tell: (value: number, expected: number) => string;
}

const TRACKS: readonly Track[] = [
  {
    code: "brightness",
    leastShare: 0.06,
    least: 0.01,
    tell: (value, expected) => `Its brightness is ${percent(value)}, around it ${percent(expected)}.`,
  },
  {
    code: "black",
    leastShare: 0.2,
    least: 0.02,
    tell: (value, expected) => `${percent(value)} of it is black, around it ${percent(expected)}.`,
  },
  {
    code: "clipped",
    leastShare: 0.2,
    least: 0.02,
    tell: (value, expected) => `${percent(value)} of it is at white, around it ${percent(expected)}.`,
  },
  {
    code: "noise",
    leastShare: 0.25,
    least: 0.002,
    tell: (value, expected) => `Its grain is ${percent(value)} of white, around it ${percent(expected)}.`,
  },
  {
    code: "size",
    leastShare: 0.25,
    least: 200,
    tell: (value, expected) => `Its file has ${Math.round(value)} bytes, around it ${Math.round(expected)}.`,
  },
  {
    code: "samples",
    leastShare: 0.25,
    least: 1,
    tell: (value, expected) => `It has ${value} samples a pixel, around it ${expected}.`,
  },
];

function tracked({ frames, usual: usualOf }: Profile, { deviations }: Thresholds): Odd[] {
  const found: Odd[] = [];
  for (const { code, leastShare, least, tell } of TRACKS)
    for (const [i, usual] of usualOf[code].entries()) {
      if (usual === null) continue;
      const { expected, deviation } = usual;
      const value = FOLLOWED[code](frames[i]!)!;
      const off = Math.abs(value - expected);
      if (off <= Math.max(least, leastShare * Math.abs(expected), deviations * deviation)) continue;
      const { frame } = frames[i]!;
      found.push({ frame, code, value, expected, region: null, sentence: tell(value, expected) });
    }
  return found;
}

function hot({ frames, usual: usualOf }: Profile, { hot: least, deviations }: Thresholds): Odd[] {
  return usualOf.hot.flatMap((usual, i): Odd[] => {
    if (usual === null) return [];
    const value = FOLLOWED.hot(frames[i]!);
    const { expected, deviation } = usual;
    // Counts scatter by their root at least.
    if (value - expected < Math.max(least, deviations * Math.max(deviation, Math.sqrt(expected) / 2)))
      return [];
    const { frame, hotRegion } = frames[i]!;
    return [
      {
        frame,
        code: "hot-pixels",
        value,
        expected,
        region: hotRegion,
        sentence: `${value} single pixel${value === 1 ? " is" : "s are"} far brighter than what surrounds them, around it ${expected}.`,
      },
    ];
  });
}

const notNumbers = ({ frames }: Profile): Odd[] =>
  frames
    .filter((f) => f.measures.nan > 0)
    .map(({ frame, measures: { nan } }) => ({
      frame,
      code: "not-a-number",
      value: nan,
      expected: 0,
      region: null,
      sentence: `${nan} pixel${nan === 1 ? " is" : "s are"} no number, or infinite.`,
    }));

function slow({ frames, usual: usualOf }: Profile, { seconds: times }: Thresholds): Odd[] {
  return usualOf.seconds.flatMap((usual, i): Odd[] => {
    const { frame, seconds: value } = frames[i]!;
    if (usual === null || value === null || value <= times * usual.expected) return [];
    const { expected } = usual;
    return [
      {
        frame,
        code: "seconds",
        value,
        expected,
        region: null,
        sentence: `It took ${value.toFixed(1)} s, around it ${expected.toFixed(1)} s.`,
      },
    ];
  });
}

/** Minutes, hours or days, as long as it is. */
function spanText(ms: number): string {
  const minutes = ms / 60_000;
  return minutes < 1
    ? `${Math.round(ms / 1000)} s`
    : minutes < 120
      ? `${Math.round(minutes)} min`
      : minutes < 48 * 60
        ? `${Math.round(minutes / 60)} h`
        : `${Math.round(minutes / 60 / 24)} days`;
}

const left = ({ frames, older }: Profile): Odd[] =>
  older.map(({ at, than, byMs }) => ({
    frame: frames[at]!.frame,
    code: "older",
    value: frames[at]!.modifiedMs / 1000,
    expected: frames[than]!.modifiedMs / 1000,
    region: null,
    sentence: `Its file is ${spanText(byMs)} older than that of frame ${frames[than]!.frame} before it, while the others follow one another.`,
  }));

/** Whether the first step behind those that are less is more than usual: what stood still goes on where it should be. */
function makesUp(changes: Motion["means"], from: number, least: number, usual: number): boolean {
  const next = changes.slice(from + 1, from + 1 + LONGEST_HALT).find((v) => v !== null && v >= least);
  return next != null && next > MAKES_UP * usual;
}

/** Frames like the one before, and files that are there twice, while things move. */
function standing({ frames, motion }: Profile, { frozen }: Thresholds): Odd[] {
  const { means, halves, usualMean, usualHalf } = motion;
  // Where a part comes and goes from frame to frame, the mean says nothing of the rest: half of all blocks do.
  const movesAsUsual = (i: number): boolean => {
    const [half, usual] = [halves[i], usualHalf[i]!];
    return half != null && usual >= MOVES && half >= frozen * usual;
  };
  const found: Odd[] = [];
  const isSame = (i: number): boolean => i > 0 && frames[i]!.pixels === frames[i - 1]!.pixels;
  const firstOfContent = new Map<string, number>();
  for (const [i, { frame, content, pixels }] of frames.entries()) {
    const usual = usualMean[i]!;
    const first = firstOfContent.get(content);
    if (first === undefined) firstOfContent.set(content, i);
    if (usual < MOVES || motion.standing[i]! > MANNER) continue;
    const change = means[i] ?? null;
    if (
      isSame(i) ||
      (change !== null &&
        change < frozen * usual &&
        !movesAsUsual(i) &&
        makesUp(means, i, frozen * usual, usual))
    )
      found.push({
        frame,
        code: "frozen",
        value: change ?? 0,
        expected: usual,
        region: null,
        sentence: `It ${isSame(i) ? "is the same picture as" : "hardly differs from"} the frame before, while things move: ${percent(change ?? 0)} changed, ${percent(usual)} is usual.`,
      });
    else if (first !== undefined && frames[first]!.pixels === pixels)
      found.push({
        frame,
        code: "double",
        value: frames[first]!.frame,
        expected: frame,
        region: null,
        sentence: `Its file is the same, byte for byte, as that of frame ${frames[first]!.frame}.`,
      });
  }
  return found;
}

function struck({ frames, motion }: Profile, thresholds: Thresholds): Odd[] {
  return burstsOf(motion, thresholds).flatMap(({ at, length, isWhole, blocks, value, expected }) =>
    Array.from({ length }, (_, i): Odd => {
      const { frame, width, height, sketch } = frames[at + i]!;
      const region = isWhole ? null : regionOf(blocks, sketch, width, height);
      const where =
        region === null
          ? "The whole picture"
          : `A part of it, ${region[2]} x ${region[3]} at ${region[0]}, ${region[1]},`;
      return {
        frame,
        code: isWhole ? "pop" : "flicker",
        value,
        expected,
        region,
        sentence: `${where} changes by ${percent(value)} of white and back, where ${percent(expected)} is usual; the frames before and behind agree.`,
      };
    }),
  );
}

/** What no cut, flash or hold explains. */
const OF_NO_PICTURE: ReadonlySet<OddCode> = new Set(["not-a-number", "seconds", "samples", "older"]);

/** @returns by frame, each code once a frame */
export function oddOnes(
  profile: Profile,
  thresholds: Thresholds,
  { flashes, holds }: NamedFrames,
): readonly Odd[] {
  const named = (odd: Odd): boolean =>
    odd.code === "frozen" || odd.code === "double" ? has(holds, odd.frame) : has(flashes, odd.frame);
  return [
    ...struck(profile, thresholds),
    ...standing(profile, thresholds),
    ...hot(profile, thresholds),
    ...notNumbers(profile),
    ...tracked(profile, thresholds),
    ...slow(profile, thresholds),
    ...left(profile),
  ]
    .filter((odd) => OF_NO_PICTURE.has(odd.code) || !named(odd))
    .sort((a, b) => a.frame - b.frame);
}
