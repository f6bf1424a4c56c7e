/** How long a frame of a run is likely to take, from the frames beside it that the run has made. */

export interface MadeFrame {
  /** Number of the file: neighbours count most. */
  readonly frame: number;
  /** Seconds that do not grow with samples: start-up, denoise, write. */
  readonly fixedSeconds: number;
  readonly renderSeconds: number;
  /**
   * Samples that the attempt itself took, and how many the frame holds: more, when it went on from a
   * checkpoint.
   */
  readonly samplesAdded: number;
  /** A pixel. */
  readonly samples: number;
}

/**
 * Seconds the frame would have taken at a number of samples; null for one that only put finished samples into
 * a file.
 */
function secondsAt(
  { fixedSeconds, renderSeconds, samplesAdded, samples }: MadeFrame,
  wanted: number | null,
): number | null {
  return samplesAdded > 0 ? fixedSeconds + (renderSeconds / samplesAdded) * (wanted ?? samples) : null;
}

/**
 * Expected seconds of a frame: between the nearest made frames on either side in proportion, beyond the
 * outermost as that one.
 * @param samples samples to expect; null: as many as the frames beside it came to
 * @returns null while nothing was made
 */
export function expectedSeconds(
  frame: number,
  made: readonly MadeFrame[],
  samples: number | null,
): number | null {
  let before: { readonly frame: number; readonly seconds: number } | null = null;
  let after: { readonly frame: number; readonly seconds: number } | null = null;
  for (const one of made) {
    const seconds = secondsAt(one, samples);
    if (seconds === null) continue;
    if (one.frame <= frame && (before === null || one.frame > before.frame))
      before = { frame: one.frame, seconds };
    if (one.frame >= frame && (after === null || one.frame < after.frame))
      after = { frame: one.frame, seconds };
  }
  if (before === null || after === null || before.frame === after.frame)
    return (before ?? after)?.seconds ?? null;
  return (
    before.seconds +
    ((after.seconds - before.seconds) * (frame - before.frame)) / (after.frame - before.frame)
  );
}

/**
 * Expected seconds of an attempt that is like those beside it: where they went on from a checkpoint, so does
 * this one.
 */
export const likelyAttemptSeconds = (frame: number, made: readonly MadeFrame[]): number | null =>
  expectedSeconds(
    frame,
    made.map((m) => ({ ...m, samples: m.samplesAdded })),
    null,
  );

/** A frame that takes so many times what was expected is stuck, or sits on a machine that is. */
const TIMES_EXPECTED = 10;
/** Shorter frames are not hurried: a machine may be busy with something else for a moment. */
const LEAST_LIMIT_SECONDS = 120;

/** Seconds after which an attempt is ended; null while nothing is known.
 * @param expected at the most samples that the plan allows
 */
export const timeLimitOf = (expected: number | null, least = LEAST_LIMIT_SECONDS): number | null =>
  expected === null ? null : Math.max(least, expected * TIMES_EXPECTED);
