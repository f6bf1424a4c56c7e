/** What a movie must be, held against what it is when all of it has been decoded. Pure. */
import { durationSeconds, isSameRate, type Rate, rateText } from "../timing/rate";
import type { PictureSize } from "./line-up";

export interface ExpectedMovie {
  readonly frames: number;
  readonly rate: Rate;
  readonly size: PictureSize;
  /** What a container rounds times to, in seconds: hundredths in a GIF. */
  readonly grain: number;
}

export interface SeenMovie extends PictureSize {
  /** That decoded. */
  readonly frames: number;
  /** Null where the container keeps none. */
  readonly rate: Rate | null;
  /** Seconds. */
  readonly duration: number | null;
}

/** Containers keep times in milliseconds and finer. */
export const USUAL_GRAIN = 0.001;
/** Times in a GIF are hundredths of a second. */
export const GIF_GRAIN = 0.01;

/** What is not as it was asked for, as sentences; none where all is. */
export function movieFaults(asked: ExpectedMovie, seen: SeenMovie): readonly string[] {
  const faults: string[] = [];
  if (seen.frames !== asked.frames)
    faults.push(`it has ${seen.frames} frames in the place of ${asked.frames}`);
  if (seen.width !== asked.size.width || seen.height !== asked.size.height)
    faults.push(
      `its pictures have ${seen.width} x ${seen.height} pixels in the place of ${asked.size.width} x ${asked.size.height}`,
    );
  // A grain of a hundredth of a second hides the rate; the duration tells it.
  if (asked.grain < GIF_GRAIN && seen.rate !== null && !isNearRate(seen.rate, asked.rate, asked))
    faults.push(`it plays at ${rateText(seen.rate)} in the place of ${rateText(asked.rate)}`);
  const lasts = durationSeconds(asked.frames, asked.rate);
  // Its last picture may be kept to the next step of the container's clock.
  const slack = Math.max(2 * asked.grain, 1e-6);
  if (seen.duration !== null && Math.abs(seen.duration - lasts) > slack)
    faults.push(`it lasts ${seen.duration} s in the place of ${Number(lasts.toFixed(6))} s`);
  return faults;
}

/** Containers that keep times in milliseconds have their readers guess the fraction. */
const isNearRate = (seen: Rate, asked: Rate, { grain, frames }: ExpectedMovie): boolean =>
  isSameRate(seen, asked) ||
  Math.abs(durationSeconds(frames, seen) - durationSeconds(frames, asked)) <= grain;
