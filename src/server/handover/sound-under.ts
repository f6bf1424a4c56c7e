/** The sound under a movie: which file, from where, and why there is none where one was wanted. */
import fs from "node:fs/promises";
import { members } from "@/core/frames/frame-set";
import type { MovieSettings } from "@/core/handover/wish";
import type { Container } from "@/core/handover/codecs";
import { isSoundFile } from "@/core/sound/shot-sound";
import { durationSeconds, isSameRate, type Rate } from "@/core/timing/rate";
import { pool } from "../db/pool";
import { insideFolder, projectFolder, type ProjectPlace } from "../files/paths";
import { shotById } from "../store/shots";
import type { Reel } from "./reel";

export interface LaidSound {
  /** Absolute. */
  readonly file: string;
  /** Seconds of its beginning that are left out. */
  readonly from: number;
  /** Seconds of the movie before it begins. */
  readonly delay: number;
}

export type SoundChoice =
  | { readonly sound: LaidSound; readonly warning: null }
  | { readonly sound: null; readonly warning: string | null };

const NONE: SoundChoice = { sound: null, warning: null };
const without = (why: string): SoundChoice => ({ sound: null, warning: `The movie has no sound: ${why}.` });

async function placed(place: ProjectPlace, path: string, starts: number): Promise<SoundChoice> {
  const file = await insideFolder(projectFolder(place), path);
  if (!isSoundFile(path) || (await fs.stat(file).catch(() => null))?.isFile() !== true)
    return without(`${path} is no sound that is there`);
  return { sound: { file, from: Math.max(0, -starts), delay: Math.max(0, starts) }, warning: null };
}

/** One number after the other: sound has no gaps. */
function isUnbroken(frames: readonly (number | null)[]): boolean {
  return frames.every((frame, i) => frame !== null && (i === 0 || frame === frames[i - 1]! + 1));
}

/**
 * @param rate that the movie plays at
 * @param holdFirst pictures before the sound goes on with the first one
 */
export async function soundUnder(reel: Reel, movie: MovieSettings, rate: Rate): Promise<SoundChoice> {
  const [source] = reel.sources;
  if (movie.sound === "none" || source === undefined) return NONE;
  const held = durationSeconds(movie.holdFirst, rate);
  if (movie.sound !== "shot") {
    const { path, from, offset } = movie.sound;
    const choice = await placed(source.sequence, path, held + offset);
    return choice.sound === null
      ? choice
      : { ...choice, sound: { ...choice.sound, from: choice.sound.from + from } };
  }
  if (reel.sources.length > 1) return NONE;
  const shot = await shotById(pool(), source.sequence.shotId);
  if (shot?.sound == null) return NONE;
  const { plan } = source.state.read;
  if (!isSameRate(rate, plan.rate)) return without("it is played at another rate than it was made for");
  if (!isUnbroken(reel.slots.map((slot) => slot.frame))) return without("frames are left out between");
  const [first] = members(source.state.tally.asked);
  const begins = reel.slots[0]!.frame ?? first ?? 0;
  const into = durationSeconds(begins - (plan.timeLine.first + plan.offset), plan.rate);
  return placed(source.sequence, shot.sound.path, held + shot.sound.offset - into);
}

const CODECS: Readonly<Record<Container, readonly string[]>> = {
  mp4: ["-c:a", "aac", "-b:a", "256k"],
  mov: ["-c:a", "pcm_s24le"],
  webm: ["-c:a", "libopus", "-b:a", "160k"],
  mkv: ["-c:a", "flac"],
  gif: [],
  apng: [],
};

/** As ffmpeg calls what sounds come in. */
const FORMATS = "wav,flac,mp3,ogg,mov,aac,aiff";

/** Arguments of ffmpeg: its input, and what is made of it. @param seconds of the movie */
export function soundArguments(
  { file, from, delay }: LaidSound,
  container: Container,
  seconds: number,
): { readonly input: readonly string[]; readonly output: readonly string[] } {
  return {
    input: [
      // A list that calls itself a sound would have other files read.
      ...["-protocol_whitelist", "file", "-format_whitelist", FORMATS],
      ...["-ss", from.toFixed(6), "-i", `file:${file}`],
    ],
    output: [
      ...["-map", "1:a:0", "-af", `adelay=delays=${delay.toFixed(6)}s:all=1,atrim=end=${seconds.toFixed(6)}`],
      ...CODECS[container],
    ],
  };
}
