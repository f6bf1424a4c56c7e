/** How large a movie will be: by its bit rate, or by what one like it came to. */
import { durationSeconds, type Rate } from "../timing/rate";
import { CODEC_FACTS } from "./codecs";
import type { PictureSize } from "./line-up";
import type { MovieSettings } from "./wish";

/** Bytes of a movie with a bit rate, sound left out. */
export const bytesAtBitRate = (bitRate: number, seconds: number): number => (bitRate * 1000 * seconds) / 8;

/** A movie of the same pictures, as it will be or as it came out. */
export interface MovieMeasure {
  readonly settings: Pick<MovieSettings, "codec" | "quality" | "bitRate">;
  readonly size: PictureSize;
  /** Pictures that it shows. */
  readonly shown: number;
}
export interface MadeMovie extends MovieMeasure {
  readonly bytes: number;
}

const qualityOf = ({ codec, quality }: MovieMeasure["settings"]): number | null =>
  quality ?? CODEC_FACTS[codec].quality?.usual ?? null;
const isAlike = (a: MovieMeasure["settings"], b: MovieMeasure["settings"]): boolean =>
  a.codec === b.codec && a.bitRate === b.bitRate && qualityOf(a) === qualityOf(b);

const pixels = ({ size, shown }: MovieMeasure): number => size.width * size.height * shown;

/**
 * @param rate of the movie
 * @param made movies of the same sequence, the newest first
 * @returns bytes; null where no bit rate is set and none was made with this codec and quality
 */
export function forecastBytes(movie: MovieMeasure, rate: Rate, made: readonly MadeMovie[]): number | null {
  const { bitRate } = movie.settings;
  if (bitRate !== null) return bytesAtBitRate(bitRate, durationSeconds(movie.shown, rate));
  const like = made.find((other) => isAlike(other.settings, movie.settings) && pixels(other) > 0);
  return like === undefined ? null : (like.bytes * pixels(movie)) / pixels(like);
}
