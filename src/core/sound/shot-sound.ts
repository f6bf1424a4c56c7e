/**
 * The sound of a shot: a file of the project, and where it begins. Seconds and not frames, so that it stays where it
 * is when a plan renders at another rate. Pure.
 */
import type { Timing } from "../plan/scene-time";

export interface ShotSound {
  /** Relative to the project's folder, with slashes. */
  readonly path: string;
  /** Seconds from the beginning of the time line to that of the sound; less than 0: its beginning is cut off. */
  readonly offset: number;
}

/** Endings of what browsers and encoders read. */
export const SOUND_ENDINGS = ["wav", "flac", "mp3", "ogg", "opus", "m4a", "aac", "aif", "aiff"] as const;

/** Seconds either way: a day is longer than any shot. */
export const FURTHEST_OFFSET = 86_400;

export const isSoundFile = (path: string): boolean =>
  SOUND_ENDINGS.some((ending) => path.toLowerCase().endsWith(`.${ending}`));

/** What is wrong with it, as a sentence; null for nothing. Whether the file is there is asked elsewhere. */
export function soundFault({ path, offset }: ShotSound): string | null {
  if (!isSoundFile(path)) return `A sound ends in ${SOUND_ENDINGS.map((e) => `.${e}`).join(", ")}.`;
  if (!Number.isFinite(offset) || Math.abs(offset) > FURTHEST_OFFSET)
    return `A sound begins at most ${FURTHEST_OFFSET} seconds before or after the shot.`;
  return null;
}

/** Samples of a sound, a channel each, from -1 to 1. */
export interface SoundSamples {
  readonly channels: readonly Float32Array[];
  /** A second. */
  readonly sampleRate: number;
}

/**
 * The loudest moment of each frame of a plan.
 * @param numbers of files, ascending
 * @returns for each of them from 0 to 1; null where the sound has not begun or is over
 */
export function loudestOfFrames(
  { channels, sampleRate }: SoundSamples,
  { offset }: Pick<ShotSound, "offset">,
  timing: Timing,
  numbers: readonly number[],
): readonly (number | null)[] {
  const start = timing.timeLine.first + timing.offset;
  const length = channels[0]?.length ?? 0;
  const rate = timing.rate.numerator / timing.rate.denominator;
  return numbers.map((number) => {
    const seconds = (number - start) / rate - offset;
    const from = Math.max(0, Math.round(seconds * sampleRate));
    const end = Math.min(length, Math.round((seconds + 1 / rate) * sampleRate));
    if (end <= from) return null;
    let loudest = 0;
    for (const samples of channels)
      for (let i = from; i < end; i++) loudest = Math.max(loudest, Math.abs(samples[i]!));
    return Math.min(1, loudest);
  });
}
